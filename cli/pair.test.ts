import { pairFound } from '../core/testing/pair-found';
import { judgePair } from '../core/measures/pair/judge';
import { parseSlide, UsageError } from './arguments';
import { pair, pairText } from './pair';

test('a slide is a whole number of frames, either way', () => {
  expect([undefined, '12', '+3', '-7'].map(parseSlide)).toEqual([0, 12, 3, -7]);
  for (const wrong of ['', 'later', '1.5', '12 frames']) expect(() => parseSlide(wrong)).toThrow(UsageError);
});

test('a pair is of two files', async () => {
  const told = { delivery: undefined, say: () => undefined, print: () => undefined };
  await expect(pair(['one.mp4'], {}, told)).rejects.toThrow(
    'pair wants two files, 1 were given. Use: umbrastat pair A B.',
  );
});

test('what is read out says how near, where the line goes and what to do', () => {
  const size = { width: 1280, height: 720 };
  const text = (more: Parameters<typeof pairFound>[0]) => {
    const found = pairFound(more);
    return pairText({ file: 'a.mp4', against: 'b.mp4', ...found, ...judgePair(found, { size, delivery: size }) });
  };
  expect(text({})).toMatch(/Pair: HOLDS\n.*\n {2}nearest 90 px, at frame 40\n {2}seam through \(600, 0\) \(600, 720\)/);
  const meet = text({ overlap_runs: [{ start: 40, end: 61 }], slide: { frames: -9, closest_px: 31 } });
  expect(meet).toMatch(/WORKABLE/);
  expect(meet).toMatch(/overlap in frames 40 to 61\n {2}slide B to -9 frames: then nearest 31 px/);
  expect(text({ offset: null, known_share: 0 })).toMatch(/UNJUDGED/);
});
