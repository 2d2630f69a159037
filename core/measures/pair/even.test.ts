import fc from 'fast-check';
import { IDENTITY } from '../../base/geometry/similarity';
import { eveningOf, laidOnFirst, lifted } from './even';
import { runs } from '../../testing/few';

const size = { width: 1280, height: 720 };

test('only what is seen is made even: a nudge and a step of light, no grain and no other place', () => {
  expect(eveningOf({ ...IDENTITY, dx: 2.5 }, 0.12, size)).toMatchObject({ px: 2.5, stops: -0.12 });
  expect(eveningOf({ ...IDENTITY, dx: 0.1 }, 0.01, size)).toEqual({ place: null, px: 0, stops: 0 });
  expect(eveningOf({ ...IDENTITY, dx: 300 }, 3, size)).toEqual({ place: null, px: 0, stops: 0 });
  expect(eveningOf(null, null, size)).toEqual({ place: null, px: 0, stops: 0 });
});

test('light goes up and back down to a code value or two, but for what is clipped', () => {
  fc.assert(
    fc.property(fc.double({ min: -1, max: 0, noNaN: true }), fc.integer({ min: 40, max: 255 }), (stops, v) => {
      expect(Math.abs(lifted(-stops)[lifted(stops)[v]] - v)).toBeLessThanOrEqual(2);
    }),
  );
  expect([...lifted(0)]).toEqual(Array.from({ length: 256 }, (_, v) => v));
});

test('a nudged picture lies on the first again, to a code value, between pixels too', () => {
  const [width, height] = [96, 64];
  const at = (x: number, y: number) => 120 + 60 * Math.sin(x / 9) * Math.cos(y / 7);
  const drawn = (dx: number, dy: number, turn: number) =>
    Uint8Array.from({ length: 3 * width * height }, (_, k) => {
      const [x, y] = [(((k / 3) | 0) % width) + 0.5 - 48, Math.floor(k / 3 / width) + 0.5 - 32];
      // What lies at (x, y) of the second lies where the first has it.
      const [u, v] = [x - dx, y - dy];
      return Math.round(at(Math.cos(turn) * u + Math.sin(turn) * v, -Math.sin(turn) * u + Math.cos(turn) * v));
    });
  const nudge = fc.record({
    dx: fc.double({ min: -4, max: 4, noNaN: true }),
    dy: fc.double({ min: -4, max: 4, noNaN: true }),
    turn: fc.double({ min: -0.01, max: 0.01, noNaN: true }),
  });
  fc.assert(
    fc.property(nudge, ({ dx, dy, turn }) => {
      // At half size: places are given in source pixels.
      const place = { dx: 2 * dx, dy: 2 * dy, rotation: turn, scale: 1 };
      const laid = laidOnFirst(drawn(dx, dy, turn), { width, height }, place, 0.5, new Uint8Array(3 * width * height));
      const first = drawn(0, 0, 0);
      let most = 0;
      for (let y = 8; y < height - 8; y++)
        for (let x = 8; x < width - 8; x++)
          most = Math.max(most, Math.abs(laid[3 * (y * width + x)] - first[3 * (y * width + x)]));
      expect(most).toBeLessThanOrEqual(2);
    }),
    { numRuns: runs(20) },
  );
});
