import fc from 'fast-check';
import { greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { chained, stretchesOf } from './stretches';

const SIZE = { width: 320, height: 180 };
const FAR = 40;
const at = (dx: number): Similarity => ({ dx, dy: 0, rotation: 0, scale: 1 });

const walks = fc.array(fc.option(fc.integer({ min: -60, max: 60 }), { freq: 8 }), { minLength: 1, maxLength: 80 });

test('stretches cover all that was followed, overlap, and stay near their middle', () => {
  fc.assert(
    fc.property(walks, (steps) => {
      let x = 0;
      const poses = steps.map((s) => (s === null ? null : at((x += s))));
      const stretches = stretchesOf(poses, SIZE, FAR);
      const known = poses.flatMap((p, f) => (p ? [f] : []));
      expect(stretches.length > 0).toBe(known.length > 0);
      for (const f of known) expect(stretches.some(({ run }) => run.start <= f && f <= run.end)).toBe(true);
      stretches.forEach(({ run, poses: own }, k) => {
        expect(own).toHaveLength(run.end - run.start + 1);
        own.forEach((p, n) => expect(p === null).toBe(poses[run.start + n] === null));
        // One step that is further by itself has no frame between.
        const fast = known.filter((f) => f >= run.start && f <= run.end).length <= 2;
        if (!fast)
          for (const p of own)
            if (p) expect(greatestDisplacement(p, IDENTITY, SIZE.width, SIZE.height)).toBeLessThanOrEqual(2 * FAR + 60);
        const next = stretches[k + 1];
        if (!next) return;
        expect(next.run.start).toBeGreaterThan(run.start);
        expect(next.run.start).toBeLessThanOrEqual(run.end);
      });
    }),
  );
});

test('an even pan is held against its middle, half a stretch further on each time', () => {
  const poses = Array.from({ length: 60 }, (_, f) => at(10 * f));
  const stretches = stretchesOf(poses, SIZE, FAR);
  expect(stretches[0].run).toEqual({ start: 0, end: 8 });
  expect(stretches[1].run).toEqual({ start: 5, end: 13 });
  expect(stretches[0].poses.map((p) => p!.dx)).toEqual([-40, -30, -20, -10, 0, 10, 20, 30, 40]);
});

test('paths of stretches are tied together whatever each is read against, and end where nothing ties them', () => {
  const truth = fc.array(fc.double({ min: 0.2, max: 3, noNaN: true }), { minLength: 12, maxLength: 12 });
  fc.assert(
    fc.property(truth, fc.double({ min: 0.3, max: 3, noNaN: true }), fc.boolean(), (values, other, factors) => {
      const against = (v: number) => (factors ? v * other : v + other);
      const out = chained(
        [
          { start: 0, values: values.slice(0, 7) },
          { start: 5, values: values.slice(5, 9).map(against) },
          { start: 10, values: values.slice(10).map(against) },
        ],
        12,
        factors,
      );
      values.slice(0, 9).forEach((v, f) => expect(out[f]).toBeCloseTo(v, 6));
      expect(out.slice(9)).toEqual([null, null, null]);
    }),
  );
});
