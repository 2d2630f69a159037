import { openTake } from '../../media/feeds/measure-take';
import type { MeasuredTake } from '../../core/take/measured-take';
import { judgePair } from '../../core/measures/pair/judge';
import { judgeContents, judgeSameLight, judgeSamePosition } from '../../core/measures/compare/takes-apart';
import { comparePlate } from '../../core/take/compare';
import { findPair } from '../../core/take/pair';
import { few } from '../../core/testing/few';
import type { CameraSettings } from '../../standin/settings';
import { fixtureClip } from '../../standin/testing/fixtures';
import { DEMO_SETUPS, USUAL } from './demo-plan';
import type { DemoTake } from './demo-types';

/** Smaller and shorter than the demo's, for time. */
const [WIDTH, SECONDS] = [480, 4];
const SIZE = { width: WIDTH, height: 270 };
const rolled = new Map<string, Promise<MeasuredTake>>();

/** A take of the demo, rolled small and measured. @param pick which of its part's takes */
function take(setup: number, part: string, pick: (t: DemoTake) => boolean): Promise<MeasuredTake> {
  const { scene, takes } = DEMO_SETUPS[setup - 1];
  const settings = takes[part].find(pick)!;
  const key = JSON.stringify([setup, part, settings]);
  const roll = async () => {
    const clip = { scene, ...USUAL, ...settings, width: WIDTH, seconds: SECONDS } as CameraSettings;
    const { path } = await fixtureClip(clip);
    return openTake(path, { name: part, fine: true });
  };
  if (!rolled.has(key)) rolled.set(key, roll());
  return rolled.get(key)!;
}
const circled = (t: DemoTake) => t.circled === true;
const side = (name: string) => ({ id: name, name, number: 1, media: SIZE });

test.each(
  few(2, [
    [1, 'Pass A', 'Plate'],
    [3, 'Pass', 'Plate'],
    [1, 'Pass B', 'Plate'],
    [2, 'Pass', 'Plate'],
  ]),
)('setup %i: %s and %s, the circled ones, lie on each other, and nothing was moved', async (setup, one, two) => {
  const [a, b] = [await take(setup, one, circled), await take(setup, two, circled)];
  const gap = await comparePlate(a, b);
  expect(judgeContents(side(one), side(two), gap)).toBeNull();
  expect(judgeSamePosition(side(one), side(two), gap, 0.5, SIZE).verdict).toBe('holds');
  expect(judgeSameLight(side(one), side(two), gap, 0.1).verdict).toBe('holds');
});

const passB = () => take(1, 'Pass B', circled);
const judged = async (a: MeasuredTake, b: MeasuredTake, plate?: MeasuredTake) => {
  const { found } = await findPair(a, b, { plate });
  return { found, verdict: judgePair(found, { size: SIZE, delivery: SIZE }) };
};

test('the demo’s double: one line between the two, where a careful person would draw it', async () => {
  const { found, verdict } = await judged(await take(1, 'Pass A', circled), await passB());
  expect([verdict.verdict, verdict.reasons[0].text]).toEqual(['holds', expect.stringMatching(/One line parts them/)]);
  expect(found.seam).toMatchObject({ fixed: true, first_side: 'left' });
  // They stand at 430 and 1010 of 1280, and the second comes from the right.
  for (const [x] of found.seam!.points) {
    expect(x).toBeGreaterThan((480 / 1280) * WIDTH);
    expect(x).toBeLessThan((960 / 1280) * WIDTH);
  }
});

test('with the setup’s plate, who stands throughout is told by it, and the line is as good', async () => {
  const plate = await take(1, 'Plate', circled);
  const { found, verdict } = await judged(await take(1, 'Pass A', circled), await passB(), plate);
  expect(verdict.verdict).toBe('holds');
  expect(found.seam!.feather_px).toBeGreaterThan(0.15 * WIDTH);
  const over = await judged(await take(1, 'Pass A', (t) => t.crossing === 'reaches-over'), await passB(), plate);
  expect(over.verdict.verdict).not.toBe('holds');
});

test.each(
  few(1, [
    ['an arm over the line', 'reaches-over', /overlap in frames|come as near as/],
    ['a shadow that crosses', 'shadow-crosses', /overlap in frames|come as near as/],
  ]),
)('%s is caught, by its frames', async (_name, crossing, says) => {
  const { found, verdict } = await judged(await take(1, 'Pass A', (t) => t.crossing === crossing), await passB());
  expect(verdict.verdict).not.toBe('holds');
  expect(verdict.reasons.map((r) => r.text).join(' ')).toMatch(says);
  // From 0.35 to 0.75 of 100 frames, and as long as it is out.
  const [first] = found.overlap_runs;
  expect(first.start).toBeGreaterThanOrEqual(33);
  expect(found.overlap_runs.at(-1)!.end).toBeLessThanOrEqual(77);
});

test('a pass that is darker is called so', async () => {
  const dark = await take(1, 'Pass B', (t) => t.light === 'darker');
  const { verdict } = await judged(await take(1, 'Pass A', circled), dark);
  expect(verdict.reasons.map((r) => r.text).join(' ')).toMatch(/0\.3\d stop darker/);
});

test('the window’s visitor: sound, and with the camera nudged between the two', async () => {
  const base = await take(10, 'Base', circled);
  const sound = await comparePlate(base, await take(10, 'Visitor', circled));
  expect(judgeSamePosition(side('Base'), side('Visitor'), sound, 0.5, SIZE).verdict).toBe('holds');
  const nudged = await comparePlate(base, await take(10, 'Visitor', (t) => t.tripod === 'nudged'));
  expect(judgeSamePosition(side('Base'), side('Visitor'), nudged, 0.5, SIZE)).toMatchObject({
    verdict: expect.not.stringMatching('holds') as string,
    text: expect.stringMatching(/px/) as string,
  });
});
