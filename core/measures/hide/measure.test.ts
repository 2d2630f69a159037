import fc from 'fast-check';
import { blockFrames, type Block, type BlockFrame } from '../../testing/walker-frames';
import { measureHide } from './measure';
import { straightSplit } from './split';

const [W, H, FRAMES] = [160, 90, 80];
const PILLAR: Block = { x: 70, y: 10, width: 24, height: 75 };
/** Somebody 16 wide whose left side is at `x`. */
const at = (x: number): Block => ({ x, y: 30, width: 16, height: 50 });
const frames = (each: (f: number) => BlockFrame) => Array.from({ length: FRAMES }, (_, f) => each(f));
const measured = (all: BlockFrame[], thing: Block | null = PILLAR, chosen: number | null = null) =>
  measureHide({ ...blockFrames(W, H, all, thing ?? undefined), factor: 4, at: chosen });

test('somebody walks behind a pillar and stays there', () => {
  // Wholly behind it from the frame in which their left side is at 70.
  const found = measured(frames((f) => ({ body: [at(Math.min(74, -20 + 2 * f))] })));
  expect(found.hidden_runs).toEqual([{ start: 45, end: FRAMES - 1 }]);
  expect(found).toMatchObject({ switch_frame: 45, leaves_by: null, spill: [], spill_frames: [] });
  // Its near side is seen; of how far it reaches only that it hides all of them.
  expect(found.behind).toMatchObject({ x: 4 * 70, y: 4 * 30, height: 4 * 50 });
  expect(found.behind!.width).toBe(4 * 16);
  expect(found.split).toMatchObject({ fixed: true, keeps: 'left' });
  for (const [x] of found.split!.points) {
    expect(x).toBeGreaterThan(4 * 70);
    expect(x).toBeLessThan(4 * 86);
  }
  expect(found.split!.margin_px).toBeGreaterThan(4 * 6);
});

test('who comes out again on the other side is left to the plate, and tells how wide the thing is', () => {
  const found = measured(frames((f) => ({ body: [at(-20 + 3 * f)] })));
  expect(found.hidden_runs[0]).toEqual({ start: 30, end: 32 });
  expect(found).toMatchObject({ switch_frame: 30, leaves_by: null });
  expect(found.behind).toMatchObject({ x: 4 * 70, width: 4 * 24 });
  const [[x]] = found.split!.points;
  expect(Math.abs(x / 4 - 82)).toBeLessThan(2.5);
  expect(found.split!.margin_px / 4).toBeGreaterThan(9.5);
});

test('from the right, from above and from below the same', () => {
  const right = measured(frames((f) => ({ body: [at(Math.max(74, 170 - 2 * f))] })));
  expect(right.split).toMatchObject({ fixed: true, keeps: 'right' });
  expect(right.behind!.x + right.behind!.width).toBe(4 * 94);
  const counter: Block = { x: 0, y: 50, width: 160, height: 40 };
  const ducks = measured(
    frames((f) => ({ body: [{ x: 60, y: Math.max(20, 20 + (f - 30)), width: 16, height: 40 }] })),
    counter,
  );
  expect(ducks).toMatchObject({ leaves_by: null, switch_frame: 60 });
  expect(ducks.split).toMatchObject({ fixed: true, keeps: 'top' });
  expect(ducks.behind!.y).toBe(4 * 50);
});

test('who passes in front of the thing, or leaves by the edge, is not hidden', () => {
  const front = measured(
    frames((f) => ({ body: [at(-20 + 3 * f)] })),
    null,
  );
  expect(front).toMatchObject({ leaves_by: 'right', split: null, behind: null });
  const never = measured(
    frames((f) => ({ body: [at(20 + f)] })),
    { ...PILLAR, width: 8 },
  );
  expect(never).toMatchObject({ hidden_runs: [], shadow_shows: [], switch_frame: null });
  expect(never.least_shown!.share).toBeCloseTo((8 * 50) / (W * H), 3);
});

test('who is gone from one frame to the next went behind nothing', () => {
  const found = measured(
    frames((f) => ({ body: f < 40 ? [at(20 + f)] : [] })),
    undefined,
  );
  expect(found.hidden_runs).toEqual([{ start: 40, end: 79 }]);
  expect(found).toMatchObject({ switch_frame: null, split: null });
});

test('a shadow on the far side of the thing is caught, with the frames', () => {
  const shadow = (x: number) => [{ x: x + 16, y: 74, width: 40, height: 6 }];
  const walks = (f: number) => Math.min(74, -20 + 2 * f);
  const stays = measured(frames((f) => ({ body: [at(walks(f))], shadow: shadow(walks(f)) })));
  expect(stays.hidden_runs).toEqual([]);
  expect(stays.shadow_shows).toEqual([{ start: 45, end: 79 }]);
  expect(stays.spill[0].what).toBe('shadow');
  expect(stays.split!.fixed).toBe(false);
  // It shows beyond the pillar from the frame in which it reaches 95.
  const reaches = Array.from({ length: FRAMES }, (_, f) => walks(f) + 56 > 95).indexOf(true);
  expect(Math.abs(stays.spill_frames[0].start - reaches)).toBeLessThanOrEqual(1);
  const [worst] = stays.spill;
  expect(worst.y).toBe(4 * 74);
});

test('the switch frame that somebody chose is kept', () => {
  const all = frames((f) => ({ body: [at(Math.min(74, -20 + 2 * f))] }));
  expect(measured(all, PILLAR, 60)).toMatchObject({ switch_frame: 60, split: { fixed: true, keeps: 'left' } });
  const early = measured(all, PILLAR, 20);
  // They are on the near side after it: the plate would cut them off there.
  expect(early.switch_frame).toBe(20);
});

test('two halves of a take are joined at a chosen frame though nobody is hidden', () => {
  // On the left until 40, on the right from then on.
  const found = measured(
    frames((f) => ({ body: [at(f < 40 ? 10 + (f % 20) : 110)] })),
    null,
    40,
  );
  expect(found).toMatchObject({ switch_frame: 40, switch_chosen: true, hidden_runs: [], behind: null });
  expect(found.split).toMatchObject({ fixed: true, keeps: 'left' });
  expect(found.split!.margin_px / 4).toBeGreaterThan(28);
});

test('where nobody is known of, nothing is said', () => {
  expect(measured(frames(() => null))).toMatchObject({ known_share: 0, in_share: 0, hidden_runs: [], split: null });
  expect(measured([])).toMatchObject({ hidden_runs: [], switch_frame: null, least_shown: null });
});

const pixels = fc.array(fc.tuple(fc.nat(59), fc.nat(29)), { minLength: 1, maxLength: 25 });
const counts = (all: [number, number][], shift: number, mirror = false) => {
  const out = new Uint32Array(60 * 30);
  for (const [x, y] of all) {
    const u = Math.min(59, Math.floor(x / 2.4) + shift);
    out[y * 60 + (mirror ? 59 - u : u)]++;
  }
  return out;
};

test('a straight split never goes through what has a way between, and is mirrored with the picture', () => {
  fc.assert(
    fc.property(pixels, pixels, (left, right) => {
      // The one within 0 to 24, the other within 34 to 59.
      const sides = { width: 60, height: 30, before: counts(left, 0), after: counts(right, 34) };
      const line = straightSplit(sides, true);
      expect(line.margin).toBeGreaterThanOrEqual(3.5);
      for (let y = 0; y < 30; y++)
        for (let x = 0; x < 60; x++) {
          const on = line.from + ((line.to - line.from) * (y + 0.5)) / 30;
          if (sides.before[y * 60 + x]) expect(x + 1).toBeLessThanOrEqual(on);
          if (sides.after[y * 60 + x]) expect(x).toBeGreaterThanOrEqual(on);
        }
      const mirrored = { ...sides, before: counts(right, 34, true), after: counts(left, 0, true) };
      expect(Math.abs(straightSplit(mirrored, true).margin - line.margin)).toBeLessThanOrEqual(1.5);
    }),
    { numRuns: 40 },
  );
});

test('where there is no way between, the line cuts the least', () => {
  const before = new Uint32Array(60 * 30),
    after = new Uint32Array(60 * 30);
  for (let y = 0; y < 30; y++) {
    for (let x = 0; x < 25; x++) before[y * 60 + x] = 1;
    for (let x = 35; x < 60; x++) after[y * 60 + x] = 1;
  }
  // Ten frames of a spot far on the wrong side.
  before[15 * 60 + 50] = 10;
  const line = straightSplit({ width: 60, height: 30, before, after }, true);
  expect(line.margin).toBeLessThan(0);
  expect(line.from).toBeGreaterThanOrEqual(25);
  expect(line.from).toBeLessThanOrEqual(35);
});
