import fc from 'fast-check';
import { layShapes } from './lay-shapes';
import { runs } from '../../testing/few';

const [W, H] = [240, 160];
/** Somebody with two arms of unlike length and two legs: no outline that looks alike turned. */
const figure = (x: number, y: number) =>
  (x / 14) ** 2 + (y / 30) ** 2 < 1 ||
  (x > -44 && x < 30 && Math.abs(y + 10 + x / 8) < 5) ||
  (y > 10 && y < 52 && Math.abs(x - 5 - y / 4) < 6) ||
  (y > 10 && y < 40 && Math.abs(x + 3 + y / 3) < 6);

const drawn = (
  at: { x: number; y: number; turn?: number; size?: number },
  lacks: (x: number) => boolean = () => false,
) =>
  Uint8Array.from({ length: W * H }, (_, i) => {
    const [u, v] = [(i % W) + 0.5 - at.x, Math.floor(i / W) + 0.5 - at.y];
    const [c, s] = [Math.cos(at.turn ?? 0), Math.sin(at.turn ?? 0)];
    const [x, y] = [(c * u + s * v) / (at.size ?? 1), (-s * u + c * v) / (at.size ?? 1)];
    return figure(x, y) && !lacks(x) ? 1 : 0;
  });

test('shift, turn and size of an outline, known to a pixel, a degree and a half and 3 per cent', () => {
  const place = fc.record({
    dx: fc.integer({ min: -30, max: 30 }),
    dy: fc.integer({ min: -16, max: 16 }),
    turn: fc.double({ min: -0.35, max: 0.35, noNaN: true }),
    size: fc.double({ min: 0.8, max: 1.15, noNaN: true }),
  });
  fc.assert(
    fc.property(place, ({ dx, dy, turn, size }) => {
      const laid = layShapes(drawn({ x: 120, y: 75 }), drawn({ x: 120 + dx, y: 75 + dy, turn, size }), W)!;
      expect(laid.share).toBeGreaterThan(0.9);
      expect(Math.abs(laid.pose.rotation - turn)).toBeLessThan((1.5 * Math.PI) / 180);
      expect(Math.abs(laid.pose.scale - size)).toBeLessThan(0.03);
      // The middle of the figure is not the place that it is turned about: where that comes to lie.
      const [mx, my] = [laid.x - laid.pose.dx - 120, laid.y - laid.pose.dy - 75];
      const [c, s] = [size * Math.cos(turn), size * Math.sin(turn)];
      expect(Math.hypot(laid.x - (120 + dx + c * mx - s * my), laid.y - (75 + dy + s * mx + c * my))).toBeLessThan(1);
    }),
    { numRuns: runs(40) },
  );
});

test('an arm that one of them lacks hardly moves it', () => {
  const laid = layShapes(
    drawn({ x: 110, y: 75 }, (x) => x < -16),
    drawn({ x: 122, y: 80, turn: 0.1 }),
    W,
  )!;
  expect(Math.abs(laid.pose.rotation - 0.1)).toBeLessThan(0.035);
  const [mx, my] = [laid.x - laid.pose.dx - 110, laid.y - laid.pose.dy - 75];
  expect(Math.hypot(laid.x - (122 + mx - 0.1 * my), laid.y - (80 + my + 0.1 * mx))).toBeLessThan(2);
});

test('what is of another shape covers little of it; an empty outline is laid nowhere', () => {
  const box = Uint8Array.from({ length: W * H }, (_, i) =>
    i % W > 20 && i % W < 200 && i > 70 * W && i < 82 * W ? 1 : 0,
  );
  expect(layShapes(drawn({ x: 120, y: 75 }), box, W)!.share).toBeLessThan(0.6);
  expect(layShapes(new Uint8Array(W * H), box, W)).toBeNull();
});
