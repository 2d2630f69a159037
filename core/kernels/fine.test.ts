import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { addressOf as at, Kernels } from './kernels';

const CLOSE = 4;
const parts = fc.record({
  width: fc.integer({ min: 6, max: 40 }),
  height: fc.integer({ min: 6, max: 30 }),
  left: fc.integer({ min: 0, max: 3 }),
  top: fc.integer({ min: 0, max: 3 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});

test('what a part differs by, its means, its restlessness and the largest of that close by are what plain sums give', () => {
  fc.assert(
    fc.property(parts, ({ width, height, left, top, seed }) => {
      const n = width * height,
        random = seededRandom(seed);
      const [right, bottom] = [width - 1 - (seed % 3), height - 1 - (seed % 2)];
      const floats = ['floats', n] as const;
      const { kernels, arrays: a } = Kernels.with({
        picture: ['bytes', n],
        table: ['floats', 256],
        luma: floats,
        difference: floats,
        mean: floats,
        wide: floats,
        power: floats,
        most: floats,
        room: floats,
      });
      for (let i = 0; i < n; i++) [a.picture[i], a.luma[i]] = [256 * random(), 255 * random()];
      for (let v = 0; v < 256; v++) a.table[v] = 1.1 * v + random();
      const addresses = Object.fromEntries(Object.entries(a).map(([name, array]) => [name, at(array)]));
      kernels.run.differFinely({
        ...(addresses as Record<keyof typeof a, number>),
        width,
        left,
        top,
        right,
        bottom,
        close: CLOSE,
      });

      type Look = (x: number, y: number) => number;
      const inside = (x: number, y: number) => x >= left && x <= right && y >= top && y <= bottom;
      const around = (x: number, y: number, r: number, of: Look) => {
        const found: number[] = [];
        for (let v = y - r; v <= y + r; v++)
          for (let u = x - r; u <= x + r; u++) if (inside(u, v)) found.push(of(u, v));
        return found;
      };
      const mean = (values: number[]) => values.reduce((s, v) => s + v, 0) / values.length;
      const apart: Look = (x, y) => a.table[a.picture[y * width + x]] - a.luma[y * width + x];
      const kept: Look = (x, y) => apart(Math.max(left, Math.min(right, x)), Math.max(top, Math.min(bottom, y))) ** 2;
      const stir: Look = (x, y) => {
        let sum = 0;
        for (let v = -1; v <= 1; v++)
          for (let u = -1; u <= 1; u++) sum += (2 - u * u) * (2 - v * v) * kept(x + u, y + v);
        return Math.sqrt(sum / 16);
      };
      const stirs = new Map<number, number>();
      const stirMean: Look = (x, y) => {
        const i = y * width + x;
        if (!stirs.has(i)) stirs.set(i, mean(around(x, y, 2, stir)));
        return stirs.get(i)!;
      };
      for (let y = top; y <= bottom; y++)
        for (let x = left; x <= right; x++) {
          const i = y * width + x;
          const wanted = {
            difference: apart(x, y),
            mean: mean(around(x, y, 1, apart)),
            wide: mean(around(x, y, 2, apart)),
            power: stir(x, y),
            most: Math.max(...around(x, y, CLOSE, stirMean)),
          };
          for (const name of ['difference', 'mean', 'wide', 'power', 'most'] as const)
            if (!(Math.abs(a[name][i] - wanted[name]) < 0.01))
              throw new Error(`${name} is ${a[name][i]} instead of ${wanted[name]} at ${x}, ${y}`);
        }
    }),
    { numRuns: 15 },
  );
});
