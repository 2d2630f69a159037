import { mediaSummary } from '../../testing/take-facts';
import { brokenOff, judgeFile } from './judge';

test('of a whole file of one shot at a steady rate there is nothing to say', () => {
  expect(judgeFile(mediaSummary())).toBeNull();
  expect(brokenOff(mediaSummary({ declared_frames: null }))).toBeNull();
});

test('a file that breaks off says where, of how many, and what to do', () => {
  const media = mediaSummary({ complete: false, frame_count: 65, declared_frames: 150 });
  expect(brokenOff(media)).toMatchObject({
    text: 'The file breaks off at frame 65 of 150.',
    fix: 'Copy it from the card again.',
    frames: [{ start: 64, end: 64 }],
  });
  expect(judgeFile(media)!.verdict).toBe('unjudged');
  expect(brokenOff({ ...media, declared_frames: null })!.text).toBe('The file breaks off at frame 65.');
});

test.each([
  [{ variable_rate: true }, 'workable', /^The rate wanders, 25\.00 fps on average\.$/],
  [
    { real_fps: 20.83 },
    'reshoot',
    /^It holds only 20\.83 distinct pictures a second in a file of 25: frames are repeated\.$/,
  ],
  [{ missing_count: 1, first_gap_after: 0 }, 'workable', /^One picture is missing, the first after frame 0\.$/],
  [{ missing_count: 4, first_gap_after: 12 }, 'workable', /^4 pictures are missing, the first after frame 12\.$/],
  [{ cuts: [116] }, 'workable', /^The file holds 2 shots: a cut at frame 116\.$/],
  [{ cuts: [10, 40, 90, 120] }, 'workable', /5 shots: a cut at frame 10, 40, 90 and more\.$/],
  [{ broken_frames: [{ start: 72, end: 75 }] }, 'reshoot', /^Pictures are broken in frames 72 to 75\.$/],
] as const)('%j is %s', (more, verdict, text) => {
  const judged = judgeFile(mediaSummary(more as object))!;
  expect(judged.verdict).toBe(verdict);
  expect(judged.reasons[0].text).toMatch(text);
  expect(judged.reasons[0].fix).toMatch(/\.$/);
});

test('a rate a little short of its own is no repeat, and of several faults the worst is said first', () => {
  expect(judgeFile(mediaSummary({ real_fps: 24.6 }))).toBeNull();
  const all = judgeFile(mediaSummary({ variable_rate: true, cuts: [9], broken_frames: [{ start: 3, end: 3 }] }))!;
  expect(all.reasons.map((r) => r.code)).toEqual(['broken-frames', 'wandering-rate', 'cuts']);
});
