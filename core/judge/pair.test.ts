import type { PairFound } from '../report/pair-types';
import { judgeApart, judgePair } from './pair';

const SIZE = { width: 1280, height: 720 };
const seam = {
  fixed: true,
  points: [
    [600, 0],
    [600, 720],
  ] as [number, number][],
  narrowest_px: 90,
  narrowest_frame: 40,
  feather_px: 84,
  light_gap_stops: 0.01,
};
const apart: PairFound = {
  overlap_runs: [],
  closest_px: 90,
  closest_frame: 40,
  closest_at: { x_px: 600, y_px: 400 },
  slide: null,
  seam,
  moving_mask_runs: [],
  light: { gap_stops: 0.02, red_stops: 0, blue_stops: 0 },
  offset: { dx_px: 0.05, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: 0.03 },
  known_share: 1,
  in_share: { a: 1, b: 0.8 },
  unjudged: null,
  laid: 0,
  path: { gap_px: [] },
};
const overlap = [{ start: 40, end: 61 }];

test.each<[string, Partial<PairFound>, string, string]>([
  ['two with room between them', {}, 'holds', 'parted'],
  ['a hand’s breadth', { seam: { ...seam, feather_px: 12 } }, 'workable', 'narrow'],
  ['a line that must move', { seam: { ...seam, fixed: false }, moving_mask_runs: overlap }, 'workable', 'moving-seam'],
  ['no line at all', { seam: null }, 'reshoot', 'no-seam'],
  ['an overlap', { overlap_runs: overlap, closest_px: 0 }, 'reshoot', 'overlap'],
  [
    'an overlap that a slide frees',
    { overlap_runs: overlap, slide: { frames: -9, closest_px: 31 } },
    'workable',
    'overlap',
  ],
  ['other light', { light: { gap_stops: -0.3, red_stops: 0, blue_stops: 0 } }, 'workable', 'light'],
  ['much other light', { light: { gap_stops: 1.2, red_stops: 0, blue_stops: 0 } }, 'reshoot', 'light'],
  ['a nudged camera', { offset: { ...apart.offset!, dx_px: 3 } }, 'workable', 'offset'],
  ['a camera put elsewhere', { offset: { ...apart.offset!, dx_px: 60 } }, 'reshoot', 'offset'],
  ['nothing in common', { offset: null }, 'unjudged', 'no-match'],
  ['a pass with nobody in it', { in_share: { a: 0, b: 1 }, seam: null }, 'unjudged', 'nobody-in'],
  ['a camera that cannot be told', { unjudged: 'The camera moves too far.' }, 'unjudged', 'not-known'],
  ['frames in which it is not known', { known_share: 0.5 }, 'unjudged', 'not-known'],
])('%s', (_, changes, verdict, code) => {
  const said = judgePair({ ...apart, ...changes }, { size: SIZE, delivery: SIZE });
  expect([said.verdict, said.reasons[0].code]).toEqual([verdict, code]);
  if (verdict !== 'holds') expect(said.reasons[0].fix).not.toBeNull();
});

test('what is to be done says how far to slide, from where it is laid now', () => {
  const slid = { ...apart, overlap_runs: overlap, slide: { frames: -9, closest_px: 31 } };
  const fixOf = (laid: number) => judgePair({ ...slid, laid }, { size: SIZE, delivery: SIZE }).reasons[0].fix;
  expect(fixOf(0)).toMatch(/start 9 frames earlier: then they never come nearer than 31 px/);
  expect(fixOf(-10)).toMatch(/start 1 frame later/);
});

test('as a requirement it is decided by how near they come', () => {
  const names = ['Pass A, take 1', 'Pass B, take 2'] as const;
  expect(judgeApart(apart, names, 60, SIZE)).toEqual({
    verdict: 'holds',
    text: 'Pass A, take 1 and Pass B, take 2 come as near as 90 px, at frame 40',
    fix: null,
  });
  expect(judgeApart({ ...apart, closest_px: 30, seam: { ...seam, feather_px: 12 } }, names, 60, SIZE)).toMatchObject({
    verdict: 'workable',
    fix: expect.stringMatching(/Keep the feather that narrow/),
  });
  expect(judgeApart({ ...apart, overlap_runs: overlap }, names, 60, SIZE)).toMatchObject({
    verdict: 'reshoot',
    text: 'Pass A, take 1 and Pass B, take 2: the two overlap in frames 40 to 61, shadows included',
  });
  expect(judgeApart({ ...apart, closest_px: null }, names, 60, SIZE).verdict).toBe('holds');
  expect(judgeApart({ ...apart, unjudged: 'Dark.' }, names, 60, SIZE).verdict).toBe('unjudged');
});
