import type { Requirement } from '../tricks/types';
import type { CoverSummary } from './cover';
import { judgeCovered, judgePunchIn, type CoveredSide } from './wipe-requirements';

const cover = (more: Partial<CoverSummary> = {}): CoverSummary => ({
  kind: 'passing',
  direction_deg: 0,
  enter_frame: 6,
  first_full_frame: 31,
  last_full_frame: 41,
  leave_frame: 66,
  peak_cover_share: 1,
  peak_frame: 36,
  reaches: { top: true, bottom: true, left: true, right: true },
  missed: [],
  punch_in: null,
  edge: {
    speed_px_per_frame: 50,
    speed_spread: 0.02,
    softness_px: 20,
    blur_by_motion_px: null,
    blur_by_defocus_px: null,
    bend_px: null,
    bend_error_px: null,
    lens_k1: null,
  },
  mask_frames: 25,
  key_frames: [42, 66],
  cut: { out_last_frame: 66, in_first_frame: 42 },
  approach: null,
  changes_per_pixel: 2,
  largest_jump_share: 0.05,
  free_ends: 'both',
  alike_share: null,
  by_hand: null,
  sure_share: 1,
  ...more,
});
const DELIVERY = { width: 1280, height: 720 };
const side = (measure: CoverSummary | null, more: Partial<CoveredSide> = {}): CoveredSide & { id: string } => ({
  id: 'o',
  name: 'Out side',
  number: 2,
  width: 1280,
  height: 720,
  frameCount: 75,
  cover: measure && { state: 'done', failure: null, measure },
  ...more,
});
const need = (kind: Requirement['kind'], tolerance: number | null = null): Requirement => ({
  key: kind,
  kind,
  parts: ['out'],
  tolerance,
  why: 'Because.',
  remedySet: 'Do it again.',
  remedyEdit: 'Mend it.',
});
const judge = (kind: Requirement['kind'], measure: CoverSummary | null, tolerance: number | null = null) =>
  judgeCovered(need(kind, tolerance), side(measure), DELIVERY, []);

test('covers: for as many frames as are asked for, not known for how long, missed, and not measured yet', () => {
  expect(judge('covers-frame', cover(), 11)).toMatchObject({
    verdict: 'holds',
    text: 'Out side, take 2: all covered in 11 frames, from 31 on',
  });
  expect(judge('covers-frame', cover(), 12)).toMatchObject({ verdict: 'reshoot', fix: 'Do it again.' });
  expect(judge('covers-frame', cover({ last_full_frame: null, leave_frame: null }), 1)).toMatchObject({
    verdict: 'holds',
    text: expect.stringContaining('could not be told'),
  });
  expect(judge('covers-frame', cover({ last_full_frame: null, leave_frame: null }), 2)).toMatchObject({
    verdict: 'unjudged',
  });
  expect(
    judge('covers-frame', cover({ first_full_frame: null, last_full_frame: null, peak_cover_share: 0.9 })),
  ).toMatchObject({ verdict: 'reshoot' });
  expect(judge('covers-frame', cover({ changes_per_pixel: 9 }))).toMatchObject({ verdict: 'unjudged' });
  expect(judge('covers-frame', null)).toBe('pending');
});

test('leaves, bends, moves evenly: by the measure, its error and the tolerance', () => {
  expect([judge('leaves-frame', cover()), judge('leaves-frame', cover({ leave_frame: null }))]).toMatchObject([
    { verdict: 'holds' },
    { verdict: 'reshoot' },
  ]);
  const bent = (bend_px: number, bend_error_px: number) =>
    judge('straight-edge', cover({ kind: 'closing', edge: { ...cover().edge, bend_px, bend_error_px } }), 6);
  expect([bent(3, 1), bent(9, 4), bent(9, 1)]).toMatchObject([
    { verdict: 'holds' },
    { verdict: 'holds' },
    { verdict: 'workable', fix: 'Mend it.' },
  ]);
  expect(judge('straight-edge', cover())).toMatchObject({ verdict: 'unjudged' });
  const uneven = (speed_spread: number) =>
    judge('steady-move', cover({ kind: 'panning', edge: { ...cover().edge, speed_spread } }), 15);
  expect([uneven(0.1), uneven(0.3), uneven(0.6)]).toMatchObject([
    { verdict: 'holds' },
    { verdict: 'workable' },
    { verdict: 'reshoot' },
  ]);
});

test('a punch-in is had only from a recording that is large enough for it', () => {
  const punch = cover({
    first_full_frame: null,
    last_full_frame: null,
    peak_cover_share: 0.95,
    punch_in: { scale: 1.18, centre_x_px: 600, centre_y_px: 400, allowed: false },
  });
  expect(judgePunchIn(side(punch), DELIVERY)).toMatchObject({ verdict: 'reshoot' });
  expect(judgePunchIn(side(punch, { width: 1920, height: 1080 }), DELIVERY)).toMatchObject({
    verdict: 'workable',
    fix: 'Punch in to 118 % in the edit.',
  });
  expect(judgePunchIn(side(cover()), DELIVERY)).toBeNull();
});
