import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { addressOf as at, Kernels } from './kernels';
import { runs } from '../../testing/few';

const { abs, floor, max, min } = Math;

const cases = fc.record({
  width: fc.integer({ min: 1, max: 43 }),
  height: fc.integer({ min: 1, max: 29 }),
  reach: fc.integer({ min: 1, max: 7 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
type Case = { width: number; height: number; reach: number; seed: number };
const RUNS = { numRuns: runs(60) };

/** Masks that are set here and there, or almost nowhere, or almost everywhere. */
function fillMask(into: Uint8Array, seed: number): void {
  const random = seededRandom(seed),
    share = [0.03, 0.4, 0.9][seed % 3];
  for (let i = 0; i < into.length; i++) into[i] = random() < share ? 1 : 0;
}

/** Runs a loop with its own memory and holds what it leaves against a plain sum. */
const holds = (run: (c: Case) => void) => fc.assert(fc.property(cases, run), RUNS);

function each(width: number, height: number, value: (x: number, y: number) => number): number[] {
  return Array.from({ length: width * height }, (_, i) => value(i % width, floor(i / width)));
}

/** Numbers within a square about a pixel, cut at the picture's edges. */
function about(mask: Uint8Array, { width, height, reach }: Case, x: number, y: number): number[] {
  const out: number[] = [];
  for (let v = max(0, y - reach); v <= min(height - 1, y + reach); v++)
    for (let u = max(0, x - reach); u <= min(width - 1, x + reach); u++) out.push(mask[v * width + u]);
  return out;
}

const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);

test('most of a square about a pixel decide, and any of it where a mask is grown', () => {
  holds((c) => {
    const { width, height, reach, seed } = c,
      n = width * height;
    const { kernels, arrays: a } = Kernels.with({
      mask: ['bytes', n],
      line: ['bytes', width + 4 * reach + 64],
      rows: ['bytes', width * (height + 4 * reach) + 64],
      out: ['bytes', n + 64],
    });
    fillMask(a.mask, seed);
    const mask = a.mask.slice();
    kernels.run.majority({ mask: at(a.mask), width, height, r: reach, columns: at(a.line), out: at(a.out) });
    expect(Array.from(a.out.subarray(0, n))).toEqual(
      each(width, height, (x, y) => {
        const near = about(mask, c, x, y);
        return 2 * sum(near) > near.length ? 1 : 0;
      }),
    );
    kernels.run.grow({ mask: at(a.mask), width, height, reach, line: at(a.line), rows: at(a.rows), out: at(a.out) });
    expect(Array.from(a.out.subarray(0, n))).toEqual(
      each(width, height, (x, y) => (about(mask, c, x, y).includes(1) ? 1 : 0)),
    );
  });
});

test('votes of shifted masks are counted where those reach, and even ones leave a pixel as it was', () => {
  holds(({ width, height, reach, seed }) => {
    const n = width * height,
      vertical = seed % 2;
    const { kernels, arrays: a } = Kernels.with({
      mask: ['bytes', n],
      sums: ['bytes', n],
      voters: ['bytes', max(width, height)],
      out: ['bytes', n],
    });
    const masks = [1, 2, 3].map((k) => {
      fillMask(a.mask, seed + k);
      return a.mask.slice();
    });
    const shifts = [0, reach, -reach - 1],
      long = vertical ? height : width;
    a.sums.fill(0);
    masks.forEach((mask, k) => {
      a.mask.set(mask);
      const [dx, dy] = vertical ? [0, shifts[k]] : [shifts[k], 0];
      kernels.run.addShifted({ mask: at(a.mask), sums: at(a.sums), dx, dy, width, height });
    });
    const voters = Array.from({ length: long }, (_, p) => shifts.filter((s) => p + s >= 0 && p + s < long).length);
    a.voters.set(voters);
    const said = each(width, height, (x, y) =>
      sum(
        masks.map((mask, k) => {
          const p = (vertical ? y : x) + shifts[k];
          return p < 0 || p >= long ? 0 : vertical ? mask[p * width + x] : mask[y * width + p];
        }),
      ),
    );
    expect(Array.from(a.sums)).toEqual(said);
    a.mask.set(masks[0]);
    kernels.run.asMostSay({
      said: at(a.sums),
      voters: at(a.voters),
      own: at(a.mask),
      vertical,
      width,
      height,
      out: at(a.out),
    });
    expect(Array.from(a.out)).toEqual(
      said.map((s, i) => {
        const all = voters[vertical ? floor(i / width) : i % width];
        return 2 * s > all ? 1 : 2 * s === all ? masks[0][i] : 0;
      }),
    );
  });
});

test('changes from mask to mask are counted, and what was ever set is kept', () => {
  holds(({ width, height, seed }) => {
    const n = width * height;
    const { kernels, arrays: a } = Kernels.with({ before: ['bytes', n], after: ['bytes', n], ever: ['bytes', n] });
    [a.before, a.after, a.ever].forEach((mask, k) => fillMask(mask, seed + k));
    const ever = a.ever.slice();
    const changed = kernels.run.changesBetween({
      before: at(a.before),
      after: at(a.after),
      ever: at(a.ever),
      count: n,
    });
    expect(changed).toBe(sum(Array.from(a.before, (v, i) => abs(v - a.after[i]))));
    expect(Array.from(a.ever)).toEqual(Array.from(ever, (v, i) => v | a.after[i]));
  });
});

test('whole columns or rows: those near a set one, and those in which much is set', () => {
  holds(({ width, height, reach, seed }) => {
    const n = width * height,
      across = seed % 2,
      lines = across ? width : height,
      long = across ? height : width;
    const { kernels, arrays: a } = Kernels.with({
      mask: ['bytes', n],
      known: ['bytes', n],
      wide: ['floats', n],
      set: ['words', lines],
      knownIn: ['words', lines],
      line: ['bytes', lines + 2 * reach],
      out: ['bytes', n],
    });
    fillMask(a.mask, seed);
    fillMask(a.known, seed + 1);
    const random = seededRandom(seed);
    for (let i = 0; i < n; i++) a.wide[i] = 2 * random();
    const mask = a.mask.slice();
    const lineOf = (i: number) => (across ? i % width : floor(i / width));
    const own = (values: Uint8Array, line: number) => sum(Array.from(values).filter((_, i) => lineOf(i) === line));
    kernels.run.widenToBand({ mask: at(a.mask), width, height, across, reach, line: at(a.line), out: at(a.out) });
    const touched = Array.from({ length: lines }, (_, k) => own(mask, k) > 0);
    expect(Array.from(a.out)).toEqual(
      Array.from(mask, (_, i) => (touched.some((is, k) => is && abs(k - lineOf(i)) <= reach) ? 1 : 0)),
    );
    const much = Array.from({ length: lines }, (_, k) => {
      const known = own(a.known, k);
      // Single precision rounds the products, too.
      const share = (of: number, whole: number) => Math.fround(Math.fround(of) * whole);
      return known >= share(0.3, long) && own(mask, k) >= share(0.35, known);
    });
    kernels.run.setInLines({
      raw: at(a.mask),
      known: at(a.known),
      wide: at(a.wide),
      width,
      height,
      across,
      seen: 0.3,
      much: 0.35,
      limit: 1,
      set: at(a.set),
      knownIn: at(a.knownIn),
    });
    expect(Array.from(a.mask)).toEqual(
      Array.from(mask, (v, i) => (v || (much[lineOf(i)] && a.known[i] && a.wide[i] > 1) ? 1 : 0)),
    );
  });
});

test('a view lies between the field’s pixels, inside it and over its rim, and says what is known and expected', () => {
  const pose = fc.record({
    seed: fc.integer({ min: 1, max: 1e6 }),
    u0: fc.double({ min: -6, max: 20, noNaN: true }),
    v0: fc.double({ min: -6, max: 14, noNaN: true }),
    turn: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
    scale: fc.double({ min: 0.7, max: 1.4, noNaN: true }),
    coloured: fc.integer({ min: 0, max: 1 }),
  });
  fc.assert(
    fc.property(pose, ({ seed, u0, v0, turn, scale, coloured }) => {
      const [width, height, across, down] = [40, 30, 21, 13],
        n = across * down;
      const { kernels, arrays: a } = Kernels.with({
        field: ['floats', 4 * width * height],
        luma: ['floats', n],
        blue: ['floats', n],
        red: ['floats', n],
        known: ['bytes', n],
        covered: ['bytes', n],
        expected: ['floats', n],
        usable: ['bytes', n],
      });
      const random = seededRandom(seed);
      for (let i = 0; i < width * height; i++) {
        const seen = i % 7 && i % 40 < 36 ? 1 : 0;
        a.field.set([255 * random() * seen, 255 * random() * seen, 255 * random() * seen, seen], 4 * i);
      }
      for (const plane of [a.luma, a.blue, a.red]) plane.fill(-1);
      const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
      kernels.run.showPanorama({
        field: at(a.field),
        width,
        height,
        u0,
        v0,
        c,
        s,
        across,
        down,
        coloured,
        luma: at(a.luma),
        blue: at(a.blue),
        red: at(a.red),
        known: at(a.known),
      });
      for (let i = 0; i < n; i++) {
        const [x, y] = [i % across, floor(i / across)];
        const [u, v] = [u0 + c * x - s * y, v0 + s * x + c * y];
        // A pixel on the very rim, or of which just half was seen, may fall to either side.
        const inside = u >= 0 && v >= 0 && u < width && v < height;
        const j = floor(u),
          k = floor(v),
          [fx, fy] = [u - j, v - k];
        const between = (plane: number) => {
          const of = (p: number, q: number) => a.field[4 * (min(height - 1, q) * width + min(width - 1, p)) + plane];
          const top = (1 - fx) * of(j, k) + fx * of(j + 1, k);
          return (1 - fy) * top + fy * ((1 - fx) * of(j, k + 1) + fx * of(j + 1, k + 1));
        };
        const seen = inside ? between(3) : 0;
        if (abs(seen - 0.5) > 1e-3) expect(a.known[i]).toBe(seen > 0.5 ? 1 : 0);
        if (!a.known[i]) {
          expect([a.luma[i], a.blue[i], a.red[i]]).toEqual([-1, -1, -1]);
          continue;
        }
        expect(abs(a.luma[i] - between(0) / seen)).toBeLessThan(0.02);
        expect(abs(a.blue[i] - (coloured ? between(1) / seen : -1))).toBeLessThan(0.02);
        expect(abs(a.red[i] - (coloured ? between(2) / seen : -1))).toBeLessThan(0.02);
      }
      fillMask(a.covered, seed);
      const usable = kernels.run.expectView({
        luma: at(a.luma),
        known: at(a.known),
        covered: at(a.covered),
        gain: 1.5,
        count: n,
        expected: at(a.expected),
        usable: at(a.usable),
      });
      expect(Array.from(a.expected)).toEqual(Array.from(a.luma, (v) => Math.fround(1.5 * v)));
      expect(Array.from(a.usable)).toEqual(Array.from(a.known, (v, i) => v & (1 - a.covered[i])));
      expect(usable).toBe(sum(Array.from(a.usable)));
    }),
    RUNS,
  );
});
