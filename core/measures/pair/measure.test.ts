import fc from 'fast-check';
import { LaidPasses } from '../joined/drawn';
import { betweenEdges, closestAt, freeingSlide, gapTable } from '../../movers/gaps';
import { glideAt } from '../../movers/glides';
import { outlinesOfPasses } from '../../movers/kept';
import { measurePair, type PairSums } from './measure';
import type { Silhouettes } from '../../movers/silhouettes';

const [W, H] = [80, 45];

/** A box of somebody for each frame; null for nobody, undefined for not known. */
type Place = { x: number; y?: number; w?: number; h?: number } | null | undefined;

function pass(count: number, place: (frame: number) => Place): Silhouettes {
  return {
    width: W,
    height: H,
    count,
    mask(frame, out) {
      out.fill(0);
      const p = place(frame);
      if (p === undefined) return null;
      if (p === null) return false;
      const { x, y = 15, w = 6, h = 25 } = p;
      let any = false;
      for (let v = Math.max(0, y); v < Math.min(H, y + h); v++)
        for (let u = Math.max(0, x); u < Math.min(W, x + w); u++) {
          out[v * W + u] = 1;
          any = true;
        }
      return any;
    },
  };
}

const pair = (a: Silhouettes, b: Silhouettes, slide = 0, factor = 4) =>
  measurePair({ a, b, slide, factor, light: null });

test('two who keep to their sides: how near, when, and one line between them', () => {
  const a = pass(50, (f) => ({ x: 5 + Math.round(f / 2) })),
    b = pass(50, () => ({ x: 60 }));
  const { found, table } = pair(a, b);
  expect(found.overlap_runs).toEqual([]);
  // The last frames: from 5 + 25 + 6 to 60, four source pixels each.
  expect(found.closest_px).toBeCloseTo(4 * (60 - 36), 5);
  expect([48, 49]).toContain(found.closest_frame);
  expect(found.path.gap_px[0]).toBeCloseTo(4 * (60 - 11), 5);
  expect(found.seam).toMatchObject({ fixed: true, light_gap_stops: null });
  expect(Math.abs(found.seam!.narrowest_px - 4 * 24)).toBeLessThanOrEqual(2);
  expect(found.seam!.feather_px).toBeGreaterThan(4 * 21);
  expect([found.slide, table, found.moving_mask_runs]).toEqual([null, null, []]);
  // Six small pixels each.
  expect(found.widest_px).toEqual({ a: 24, b: 24 });
});

test('two who cross: the frames in which they overlap, and the smallest slide that frees them', () => {
  // One goes right through the other's place in frames 20 to 29, the other is there in frames 15 to 34 only.
  const a = pass(60, (f) => ({ x: 2 * f - 10 })),
    b = pass(60, (f) => (f < 15 || f > 34 ? { x: 70, y: 2, h: 4 } : { x: 40 }));
  const { found, table } = pair(a, b);
  const truth = Array.from({ length: 60 }, (_, f) => f).filter(
    (f) => f >= 15 && f <= 34 && 2 * f - 10 < 46 && 2 * f - 4 > 40,
  );
  expect(found.overlap_runs).toEqual([{ start: truth[0], end: truth.at(-1) }]);
  expect(found.closest_px).toBe(0);
  const { frames, closest_px } = found.slide!;
  expect(closestAt(table!, frames) * 4).toBeCloseTo(closest_px, 0);
  expect(closest_px).toBeGreaterThan(0);
  for (let s = -Math.abs(frames) + 1; s < Math.abs(frames); s++) expect(closestAt(table!, s)).toBeLessThan(1);
  // Laid so, they never overlap.
  expect(pair(a, b, frames).found.overlap_runs).toEqual([]);
});

test('where one crosses the other’s place at another time the line moves, in as few frames as can be', () => {
  // Both use the middle, one after the other; the second leaves it before the first comes.
  const a = pass(100, (f) => ({ x: f < 80 ? 5 : 5 + 3 * (f - 80) })),
    b = pass(100, (f) => ({ x: f < 30 ? 40 : 72 }));
  const { found } = pair(a, b);
  expect(found.overlap_runs).toEqual([]);
  expect(found.seam!.fixed).toBe(false);
  const moving = found.moving_mask_runs.reduce((n, r) => n + r.end - r.start + 1, 0);
  // Either the second's 30 frames, or those in which the first is beyond 34.
  expect(moving).toBeGreaterThan(3);
  expect(moving).toBeLessThanOrEqual(12);
  expect(found.moving_mask_runs.every((r) => r.start >= 80)).toBe(true);
  // One more line serves them.
  expect(found.moving_lines).toHaveLength(1);
  const [{ points, first_side, ...held }] = found.moving_lines;
  expect(held).toMatchObject(found.moving_mask_runs[0]);
  const against = new LaidPasses(outlinesOfPasses(a, b, 4), 0, held).against({ points, first_side }, 0);
  expect([first_side, against.a.runs, against.b.runs]).toEqual(['left', [], []]);
});

test('a slide lays the second later: only frames of both count', () => {
  const a = pass(30, (f) => ({ x: f })),
    b = pass(20, (f) => ({ x: 60 - f }));
  const { found } = pair(a, b, 5);
  expect(found.path.gap_px).toHaveLength(30);
  expect(found.path.gap_px.map((g, f) => (g === null ? f : -1)).filter((f) => f >= 0)).toEqual([
    0, 1, 2, 3, 4, 25, 26, 27, 28, 29,
  ]);
  expect(found.path.gap_px[10]).toBeCloseTo(4 * (60 - 5 - 16), 5);
});

test('what is not known is said, and nobody in is nobody', () => {
  const known = pair(
    pass(20, (f) => (f < 5 ? undefined : { x: 5 })),
    pass(20, () => null),
  ).found;
  expect(known.known_share).toBeCloseTo(0.75, 5);
  expect(known.in_share).toEqual({ a: 0.75, b: 0 });
  expect([known.closest_px, known.seam, known.overlap_runs]).toEqual([null, null, []]);
});

test('the table says of any slide what measuring it anew would say', () => {
  const walks = fc.record({ from: fc.integer({ min: -10, max: 70 }), by: fc.integer({ min: -3, max: 3 }) });
  fc.assert(
    fc.property(walks, walks, fc.integer({ min: -12, max: 12 }), (one, two, slide) => {
      const a = pass(18, (f) => ({ x: one.from + one.by * f })),
        b = pass(16, (f) => ({ x: two.from + two.by * f, y: 8 }));
      const said = closestAt(gapTable(a, b), slide);
      const { closest_px: measured } = pair(a, b, slide, 1).found;
      if (measured === null) expect(said).toBe(Infinity);
      else expect(Math.abs(said - measured)).toBeLessThan(0.04);
    }),
    { numRuns: 60 },
  );
});

test('no slide frees two who are always in each other’s place', () => {
  const here = pass(20, () => ({ x: 30 }));
  expect(freeingSlide(gapTable(here, here), 0, 1)).toBeNull();
  expect([betweenEdges(0), betweenEdges(1), betweenEdges(5)]).toEqual([0, 0.25, 4]);
});

test('lines that take over where the shot’s own must move cut nobody, and serve every frame without overlap', () => {
  const walks = fc.record({ from: fc.integer({ min: 0, max: 70 }), by: fc.integer({ min: -4, max: 4 }) });
  fc.assert(
    fc.property(walks, walks, (one, two) => {
      const a = pass(20, (f) => ({ x: one.from + one.by * f })),
        b = pass(20, (f) => ({ x: two.from + two.by * f, y: 10 }));
      const { found } = pair(a, b);
      for (const { points, first_side, ...held } of found.moving_lines) {
        const laid = new LaidPasses(outlinesOfPasses(a, b, 4), 0, held).against({ points, first_side }, 0);
        expect([laid.a.runs, laid.b.runs]).toEqual([[], []]);
      }
      const inRuns = (runs: readonly { start: number; end: number }[], f: number) =>
        runs.some((r) => r.start <= f && f <= r.end);
      // Side by side without room between them there is no line either.
      for (let f = 0; f < 20; f++) {
        const gap = found.path.gap_px[f] ?? Infinity;
        if (found.seam && inRuns(found.moving_mask_runs, f) && gap > 4 * 3)
          expect([f, inRuns(found.moving_lines, f)]).toEqual([f, true]);
      }
    }),
    { numRuns: 40 },
  );
});

/** Where somebody is cut by a line in a frame, of two blocks. */
function cutBy(found: PairSums['found'], a: Silhouettes, b: Silhouettes, frame: number): boolean {
  const g = found.line_glides!.find((r) => r.start <= frame && frame <= r.end)!;
  const line = { points: glideAt(g, frame), first_side: g.first_side };
  const laid = new LaidPasses(outlinesOfPasses(a, b, 4), 0, { start: frame, end: frame }).against(line, 0);
  return laid.a.runs.length + laid.b.runs.length > 0;
}

test('between two who walk the same way, one behind the other, the line moves along by few key frames', () => {
  const a = pass(60, (f) => ({ x: f < 10 ? 2 : Math.min(60, 2 + Math.round(1.5 * (f - 10))) })),
    b = pass(60, (f) => ({ x: f < 10 ? 20 : Math.min(84, 20 + Math.round(1.5 * (f - 10))) }));
  const { found } = pair(a, b);
  expect(found.seam!.fixed).toBe(false);
  const glides = found.line_glides!;
  expect(glides.length).toBeGreaterThan(0);
  for (const g of glides) {
    expect(g.from).toHaveLength(g.to.length);
    expect(g.feather_px).toBeGreaterThan(0);
    for (let f = g.start; f <= g.end; f++) expect([f, cutBy(found, a, b, f)]).toEqual([f, false]);
  }
  // One after the other, and where one begins the line is where it is held before.
  for (const [k, g] of glides.entries()) if (k > 0) expect(g.start).toBeGreaterThan(glides[k - 1].end);
});

test('whoever walks, a line that moves cuts nobody on its way', () => {
  const walks = fc.record({ from: fc.integer({ min: 0, max: 70 }), by: fc.integer({ min: -4, max: 4 }) });
  fc.assert(
    fc.property(walks, walks, (one, two) => {
      const a = pass(24, (f) => ({ x: one.from + one.by * f })),
        b = pass(24, (f) => ({ x: two.from + two.by * f, y: 10 }));
      const { found } = pair(a, b);
      for (const g of found.line_glides!)
        for (let f = g.start; f <= g.end; f++) expect([f, cutBy(found, a, b, f)]).toEqual([f, false]);
    }),
    { numRuns: 40 },
  );
});
