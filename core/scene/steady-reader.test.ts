import fc from 'fast-check';
import type { Similarity } from '../base/geometry/similarity';
import { seededRandom } from '../base/numeric/random';
import { layPlane } from './steady-reader';

const { abs, cos, floor, max, min, round, sin } = Math;
const RUNS = { numRuns: 40 };

const poses = fc.record({
  dx: fc.double({ min: -12, max: 12, noNaN: true }),
  dy: fc.double({ min: -9, max: 9, noNaN: true }),
  rotation: fc.double({ min: -0.1, max: 0.1, noNaN: true }),
  scale: fc.double({ min: 0.9, max: 1.1, noNaN: true }),
});

/** The cubic through four samples, a fraction `t` on from the second. */
const between = (p: number[], t: number) =>
  p[1] + 0.5 * t * (p[2] - p[0] + t * (2 * p[0] - 5 * p[1] + 4 * p[2] - p[3] + t * (3 * (p[1] - p[2]) + p[3] - p[0])));

/** Where a pose puts the place (x, y) of what is made, whose middle is that of the reference. */
function placeOf(pose: Similarity, x: number, y: number, plane: Size, shape: Size): [number, number] {
  const c = pose.scale * cos(pose.rotation),
    s = pose.scale * sin(pose.rotation);
  const u = x - (shape.width - 1) / 2,
    v = y - (shape.height - 1) / 2;
  return [pose.dx + (plane.width - 1) / 2 + c * u - s * v, pose.dy + (plane.height - 1) / 2 + s * u + c * v];
}

interface Size {
  width: number;
  height: number;
}

test('a picture laid elsewhere is the cubic through its pixels, also on a larger frame, and what it does not show is told', () => {
  fc.assert(
    fc.property(poses, fc.integer({ min: 1, max: 1e6 }), fc.boolean(), (pose, seed, larger) => {
      const random = seededRandom(seed);
      const size = { width: 23, height: 17 };
      const shape = larger ? { width: 31, height: 21 } : size;
      const plane = { ...size, data: Uint8Array.from({ length: 23 * 17 }, () => 30 + 180 * random()) };
      const out = new Uint8Array(shape.width * shape.height),
        seen = new Uint8Array(out.length);
      layPlane(plane, pose, 1, out, seen, shape);
      // Asked once at the end: thousands of assertions take longer than what they are about.
      const wrong: string[] = [];
      for (let y = 0, o = 0; y < shape.height; y++) {
        for (let x = 0; x < shape.width; x++, o++) {
          const [u, v] = placeOf(pose, x, y, size, shape);
          const i = floor(u),
            j = floor(v);
          // On the very border rounding decides.
          if ([u, v, u + 0.5, v + 0.5].some((w) => abs(w - round(w)) < 1e-6)) continue;
          const inside = i >= 1 && j >= 1 && i < 21 && j < 15;
          if (seen[o] !== (inside ? 1 : 0)) wrong.push(`${x}, ${y} seen: ${seen[o]}`);
          const at = (a: number, b: number) => plane.data[max(0, min(16, b)) * 23 + max(0, min(22, a))];
          if (!inside) {
            if (out[o] !== at(round(u), round(v))) wrong.push(`${x}, ${y} outside: ${out[o]}`);
            continue;
          }
          const row = (b: number) =>
            between(
              [-1, 0, 1, 2].map((a) => at(i + a, b)),
              round((u - i) * 64) / 64,
            );
          const value = between(
            [-1, 0, 1, 2].map((b) => row(j + b)),
            round((v - j) * 64) / 64,
          );
          if (!(abs(out[o] - max(0, min(255, value))) < 0.51)) wrong.push(`${x}, ${y}: ${out[o]}, not ${value}`);
        }
      }
      expect(wrong).toEqual([]);
    }),
    RUNS,
  );
});

test('a picture that has not moved stays as it was, and a mean of its colours is laid at half the way', () => {
  const random = seededRandom(5);
  const plane = { width: 12, height: 9, data: Uint8Array.from({ length: 108 }, () => 255 * random()) };
  const out = new Uint8Array(108);
  layPlane(plane, { dx: 0, dy: 0, rotation: 0, scale: 1 }, 1, out, null);
  expect(out).toEqual(plane.data);
  layPlane(plane, { dx: 4, dy: 0, rotation: 0, scale: 1 }, 0.5, out, null);
  for (let x = 1; x < 7; x++) expect(out[4 * 12 + x]).toBe(plane.data[4 * 12 + x + 2]);
});
