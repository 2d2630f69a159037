import type { PairFound } from '../../report/pair-types';
import { pairFound } from '../../testing/pair-found';
import { judgeApart, judgePair } from './judge';

const SIZE = { width: 1280, height: 720 };
const apart = pairFound();
const seam = apart.seam!;
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

test('light thrown over the line is said with how much, where and when, and not beside an overlap', () => {
  const by = { size: SIZE, delivery: SIZE };
  const lamp = { runs: [{ start: 20, end: 60 }], frame: 44, stops: 0.38, x_px: 812.4, y_px: 300, seen_empty: true };
  const said = judgePair({ ...apart, thrown: { a: null, b: lamp } }, by);
  expect(said.verdict).toBe('workable');
  expect(said.reasons[0]).toMatchObject({ code: 'thrown-light', frames: lamp.runs, value: 0.38 });
  expect(said.reasons[0].text).toMatch(
    /second pass throws light over the line, up to 0.38 stop at 812, 300 px in frame 44/,
  );
  expect(said.reasons[1].code).toBe('parted');
  const taken = judgePair({ ...apart, thrown: { a: { ...lamp, stops: -0.3 }, b: null } }, by);
  expect(taken.reasons[0].text).toMatch(/first pass takes light away beyond the line, up to 0.30 stop/);
  const unknown = judgePair({ ...apart, thrown: { a: { ...lamp, seen_empty: false }, b: null } }, by);
  expect(unknown.reasons[0].text).toMatch(/light beyond the line changes, up to \+0.38 stop.*a lamp or a cloud/);
  expect(judgePair({ ...apart, thrown: { a: { ...lamp, stops: 0.12 }, b: null } }, by).verdict).toBe('holds');
  const both = judgePair({ ...apart, overlap_runs: overlap, closest_px: 0, thrown: { a: lamp, b: null } }, by);
  expect(both.reasons.map((r) => r.code)).toEqual(['overlap']);
});

test('whoever is mirrored in the floor is named as such, and is a fault only where that crosses the line', () => {
  const by = { size: SIZE, delivery: SIZE };
  const image = { runs: [{ start: 8, end: 60 }], frame: 24, share: 0.28, x_px: 133, y_px: 621.3 };
  const found = { ...image, width_px: 400, height_px: 99, over: [] };
  const said = judgePair({ ...apart, mirrored: { a: found, b: null } }, by);
  expect([said.verdict, said.reasons.map((r) => r.code)]).toEqual(['holds', ['parted', 'mirrored']]);
  expect(said.reasons[1].text).toBe(
    'Whoever is in the first pass is mirrored in the floor, 28 % as strong, below 133, 621 px in frame 24.',
  );
  const over = judgePair({ ...apart, mirrored: { a: null, b: { ...found, over: [24, 32] } } }, by);
  expect([over.verdict, over.reasons[0].code]).toEqual(['workable', 'mirrored']);
  expect(over.reasons[0].text).toMatch(/second pass is mirrored.*: over the line in frames 24, 32\.$/);
  expect(over.reasons[0].fix).toMatch(/^Lead the line round the mirror image too/);
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
