import type { Requirement } from '../../tricks/types';
import { coverSummary } from '../../testing/cover-summary';
import type { CoverSummary } from './judge';
import { judgeCovered, judgePunchIn, type CoveredSide } from './requirements';

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
  expect(judge('covers-frame', coverSummary(), 11)).toMatchObject({
    verdict: 'holds',
    text: 'Out side, take 2: all covered in 11 frames, from 31 on',
  });
  expect(judge('covers-frame', coverSummary(), 12)).toMatchObject({ verdict: 'reshoot', fix: 'Do it again.' });
  expect(judge('covers-frame', coverSummary({ last_full_frame: null, leave_frame: null }), 1)).toMatchObject({
    verdict: 'holds',
    text: expect.stringContaining('could not be told'),
  });
  expect(judge('covers-frame', coverSummary({ last_full_frame: null, leave_frame: null }), 2)).toMatchObject({
    verdict: 'unjudged',
  });
  expect(
    judge('covers-frame', coverSummary({ first_full_frame: null, last_full_frame: null, peak_cover_share: 0.9 })),
  ).toMatchObject({ verdict: 'reshoot' });
  expect(judge('covers-frame', coverSummary({ changes_per_pixel: 9 }))).toMatchObject({ verdict: 'unjudged' });
  expect(judge('covers-frame', null)).toBe('pending');
});

test('leaves, bends, moves evenly: by the measure, its error and the tolerance', () => {
  expect([
    judge('leaves-frame', coverSummary()),
    judge('leaves-frame', coverSummary({ leave_frame: null })),
  ]).toMatchObject([{ verdict: 'holds' }, { verdict: 'reshoot' }]);
  const bent = (bend_px: number, bend_error_px: number) =>
    judge(
      'straight-edge',
      coverSummary({ kind: 'closing', edge: { ...coverSummary().edge, bend_px, bend_error_px } }),
      6,
    );
  expect([bent(3, 1), bent(9, 4), bent(9, 1)]).toMatchObject([
    { verdict: 'holds' },
    { verdict: 'holds' },
    { verdict: 'workable', fix: 'Mend it.' },
  ]);
  expect(judge('straight-edge', coverSummary())).toMatchObject({ verdict: 'unjudged' });
  const uneven = (speed_spread: number) =>
    judge('steady-move', coverSummary({ kind: 'panning', edge: { ...coverSummary().edge, speed_spread } }), 15);
  expect([uneven(0.1), uneven(0.3), uneven(0.6)]).toMatchObject([
    { verdict: 'holds' },
    { verdict: 'workable' },
    { verdict: 'reshoot' },
  ]);
});

test('a punch-in is had only from a recording that is large enough for it', () => {
  const punch = coverSummary({
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
  expect(judgePunchIn(side(coverSummary()), DELIVERY)).toBeNull();
});
