import fc from 'fast-check';
import { IDENTITY } from '../base/geometry/similarity';
import type { Background } from '../scene/background';
import type { Figure } from './figures';
import { keepLasting, measurePresence, runsOf } from './measure';
import { occupancy } from '../take/occupancy';

const W = 160,
  H = 90,
  FACTOR = 8;
const scale = (frames: number) => ({
  width: W * FACTOR,
  height: H * FACTOR,
  factor: FACTOR,
  poses: Array.from({ length: frames }, () => ({ ...IDENTITY })),
});
const background = (restless: (x: number, y: number) => boolean = () => false) =>
  ({
    width: W,
    height: H,
    restless: Uint8Array.from({ length: W * H }, (_, i) => (restless(i % W, Math.floor(i / W)) ? 1 : 0)),
  }) as Background;

/** A figure that fills a box, body alone or shadow alone. */
function figure(left: number, top: number, right: number, bottom: number, shade = false): Figure {
  const area = (right - left + 1) * (bottom - top + 1);
  const rows = Array.from({ length: bottom - top + 1 }, (_, k) => [top + k, left, right, shade ? 2 : 1]).flat();
  return {
    left,
    top,
    right,
    bottom,
    body: shade ? 0 : area,
    shadow: shade ? area : 0,
    box: shade ? null : { left, top, right, bottom },
    rows,
  };
}

const boxes = fc
  .record({
    x: fc.integer({ min: 0, max: W - 1 }),
    y: fc.integer({ min: 0, max: H - 1 }),
    w: fc.integer({ min: 1, max: 60 }),
    h: fc.integer({ min: 1, max: 60 }),
    shade: fc.boolean(),
  })
  .map(({ x, y, w, h, shade }) => figure(x, y, Math.min(W - 1, x + w - 1), Math.min(H - 1, y + h - 1), shade));
const takes = fc.array(fc.option(fc.array(boxes, { maxLength: 3 }), { freq: 8 }), { minLength: 1, maxLength: 30 });
const within = (runs: { start: number; end: number }[], f: number) => runs.some((r) => f >= r.start && f <= r.end);

test('runs are the true stretches, in order, with gaps between', () => {
  fc.assert(
    fc.property(fc.array(fc.boolean(), { maxLength: 40 }), (flags) => {
      const runs = runsOf(flags);
      expect(flags.map((_, f) => within(runs, f))).toEqual(flags);
      runs.forEach((r, k) => {
        if (k) expect(r.start).toBeGreaterThan(runs[k - 1].end + 1);
      });
    }),
  );
});

test(
  'a frame is clear or somebody is in, never both; what is not known is neither for long; boxes lie in the ' +
    'picture and touch the edges they are said to',
  () => {
    fc.assert(
      fc.property(takes, (figures) => {
        const p = measurePresence(figures, background(), scale(figures.length), null);
        figures.forEach((all, f) => {
          expect(within(p.clear_runs, f) && within(p.present_runs, f)).toBe(false);
          if (!all) {
            expect(p.path.area_share[f]).toBeNull();
            return;
          }
          expect(p.path.area_share[f]!).toBeCloseTo(Math.min(1, all.reduce((s, a) => s + a.body, 0) / (W * H)), 6);
          expect(p.path.shadow_share[f]!).toBeCloseTo(Math.min(1, all.reduce((s, a) => s + a.shadow, 0) / (W * H)), 6);
          if (all.length === 0) {
            expect(p.path.left_px[f]).toBeNull();
            return;
          }
          // Bodies tell where somebody is; where there are only shadows, they do.
          const told = all.some((a) => a.box) ? all.filter((a) => a.box) : all;
          expect(p.path.left_px[f]).toBe(Math.min(...told.map((a) => a.left)) * FACTOR);
          expect(p.path.bottom_px[f]).toBe(Math.max(...told.map((a) => a.bottom + 1)) * FACTOR);
          expect(p.path.right_px[f]!).toBeLessThanOrEqual(W * FACTOR);
          expect(p.path.top_px[f]!).toBeGreaterThanOrEqual(0);
          expect(within(p.edge_runs.right, f)).toBe(all.some((a) => a.right >= W - 2));
          expect(within(p.edge_runs.top, f)).toBe(all.some((a) => a.top <= 1));
          expect(within(p.shadow_runs, f)).toBe(all.every((a) => !a.box));
        });
      }),
      { numRuns: 200 },
    );
  },
);

test('who is there in one frame alone is a flash; who is there in three of five stays, also when coding hides them now and then', () => {
  const at = (present: number[]) =>
    keepLasting(
      Array.from({ length: 12 }, (_, f) => (present.includes(f) ? [figure(40 + f, 20, 60 + f, 70)] : [])),
    ).map((all) => all!.length);
  expect(at([5])).toEqual(new Array(12).fill(0));
  expect(at([5, 6])).toEqual(new Array(12).fill(0));
  expect(at([5, 6, 7])).toEqual(Array.from({ length: 12 }, (_, f) => (f >= 5 && f <= 7 ? 1 : 0)));
  expect(at([3, 4, 5, 7, 8])).toEqual(Array.from({ length: 12 }, (_, f) => ([3, 4, 5, 7].includes(f) ? 1 : 0)));
  // One that is elsewhere, or of quite another size, is another.
  expect(keepLasting([5, 90, 5, 90, 5, 90].map((x) => [figure(x, 20, x + 20, 60)]))[2]).toHaveLength(1);
  expect(keepLasting([5, 90, 40, 120, 5, 90].map((x) => [figure(x, 20, x + 20, 60)])).flat()).toHaveLength(0);
});

test('nothing new comes of leaving out: every figure kept was one', () => {
  fc.assert(
    fc.property(takes, (figures) => {
      keepLasting(figures).forEach((all, f) => {
        expect(all === null).toBe(figures[f] === null);
        for (const a of all ?? []) expect(figures[f]).toContain(a);
      });
    }),
  );
});

test('cells of a grid are occupied by whoever stands in them, and always where the picture moves by itself', () => {
  fc.assert(
    fc.property(takes, fc.integer({ min: 1, max: 20 }), fc.integer({ min: 1, max: 12 }), (figures, across, down) => {
      const leaves = background((x, y) => x < W / 4 && y < H / 3);
      const marks = occupancy(figures, leaves, across, down);
      expect(marks.frames).toBe(figures.length);
      const cellOf = (x: number, y: number) => Math.floor((y * down) / H) * across + Math.floor((x * across) / W);
      figures.forEach((all, f) => {
        const taken = marks.read(f);
        if (!all) {
          expect(taken.every((v) => v === 1)).toBe(true);
          return;
        }
        for (const a of all)
          for (let y = a.top; y <= a.bottom; y++)
            for (let x = a.left; x <= a.right; x++)
              if (!taken[cellOf(x, y)]) throw new Error(`Somebody at ${x}, ${y} is in a cell that counts as free.`);
        if (across >= 4 && down >= 3) expect(taken[cellOf(2, 2)]).toBe(1);
        // A cell counts only for who is in it or beside it.
        const far = (x: number, y: number) =>
          all.every(
            (a) =>
              x < a.left - W / across - 2 ||
              x > a.right + W / across + 2 ||
              y < a.top - H / down - 1 ||
              y > a.bottom + H / down + 1,
          );
        if (far(W - 1, H - 1) && across > 4 && down > 3) expect(taken[cellOf(W - 1, H - 1)]).toBe(0);
      });
    }),
    { numRuns: 60 },
  );
});
