import type { CoverSummary } from './cover';
import { judgeCover, wayInWords } from './cover';

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
  key_frames: [6, 31, 41, 66],
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
const judge = (more: Partial<CoverSummary> = {}) => judgeCover(cover(more), 1920, 75);
const codes = (more: Partial<CoverSummary>) => judge(more).reasons.map((r) => r.code);

test('a sound cover holds and says its frames', () => {
  expect(judge()).toMatchObject({
    verdict: 'holds',
    reasons: [{ code: 'covers', text: 'The object covers everything in frames 31 to 41 and has left after frame 66.' }],
  });
});

test('a missed corner: punch in where the recording is large enough, else bring it closer', () => {
  const missed = {
    first_full_frame: null,
    last_full_frame: null,
    peak_cover_share: 0.94,
    missed: [{ where: 'at the lower left', share: 0.06, frames: { start: 33, end: 36 } }],
  };
  const small = judge({ ...missed, punch_in: { scale: 1.17, centre_x_px: 900, centre_y_px: 500, allowed: false } });
  expect(small).toMatchObject({ verdict: 'reshoot' });
  expect(small.reasons[0].text).toContain('6 % at the lower left');
  expect(small.reasons[0].fix).toContain('closer');
  const large = judge({ ...missed, punch_in: { scale: 1.17, centre_x_px: 900, centre_y_px: 500, allowed: true } });
  expect(large.verdict).toBe('workable');
  expect(large.reasons[0].fix).toContain('117 %');
});

test('what does not leave, is uneven, soft, bent, swaying or rolling is said, the worst first', () => {
  expect(judge({ leave_frame: null })).toMatchObject({ verdict: 'reshoot' });
  expect(codes({ leave_frame: null })).toEqual(['stays']);
  // What closes or is walked up to need not leave.
  expect(judge({ kind: 'closing', leave_frame: null }).verdict).toBe('holds');
  const many = judge({ leave_frame: null, edge: { ...cover().edge, speed_spread: 0.8, softness_px: 300 } });
  expect(many.reasons.map((r) => r.code)).toEqual(['stays', 'uneven', 'soft']);
  expect(codes({ kind: 'closing', leave_frame: null, edge: { ...cover().edge, bend_px: 30 } })).toEqual(['bent']);
  expect(
    codes({
      kind: 'approaching',
      leave_frame: null,
      approach: { off_centre_px: 0, sway_px: 90, roll_deg: 5, speed_spread: 0 },
    }),
  ).toEqual(['sway', 'roll']);
});

test('what cannot be told is not guessed', () => {
  expect(judge({ sure_share: 0.2 })).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-background' }] });
  expect(judge({ changes_per_pixel: 5 })).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'restless' }] });
  expect(judge({ largest_jump_share: 0.95 })).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'jump' }] });
  expect(judgeCover(cover(), 1920, 1).reasons[0].code).toBe('too-short');
  expect(judge({ peak_cover_share: 0.1, first_full_frame: null, last_full_frame: null })).toMatchObject({
    verdict: 'reshoot',
    reasons: [{ code: 'no-cover' }],
  });
});

test(
  'an open place that nothing tells from the object is not called missed; a pan past something without ' +
    'parallax is not called free',
  () => {
    const misses = {
      first_full_frame: null,
      last_full_frame: null,
      peak_cover_share: 0.97,
      missed: [{ where: 'at the top', share: 0.03, frames: { start: 33, end: 36 } }],
    };
    expect(judge({ ...misses, alike_share: 0.8 })).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'alike' }] });
    expect(judge({ ...misses, alike_share: 0.1 })).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'misses' }] });
    // Where all is covered there is no open place, and set by hand there is no doubt.
    expect(judge({ alike_share: 0.8 }).verdict).toBe('holds');
    expect(judge({ ...misses, alike_share: 0.8, by_hand: { keys: 4, confirmed_share: 0.2 } }).verdict).toBe('reshoot');
    const nothing = { kind: 'panning' as const, peak_cover_share: 0.02, first_full_frame: null, last_full_frame: null };
    expect(judge(nothing)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-parallax' }] });
    expect(judge({ ...nothing, by_hand: { keys: 4, confirmed_share: 0.2 } })).toMatchObject({
      verdict: 'reshoot',
      reasons: [{ code: 'no-cover' }],
    });
  },
);

test('ways in words', () => {
  expect([0, 350, 90, 181, 270, -90].map(wayInWords)).toEqual([
    'to the right',
    'to the right',
    'down',
    'to the left',
    'up',
    'up',
  ]);
});
