import { seededNormal } from '../base/numeric/random';
import { travelOf } from './travel';

const W = 1280,
  H = 720;
const NONE = new Array<null>(60).fill(null);

/** A box of 120 by 300 pixels whose middle goes along a path; null where it is out. */
function path(at: (f: number) => [number, number] | null, seed = 1) {
  const normal = seededNormal(seed);
  const boxes = Array.from({ length: 60 }, (_, f) => {
    const p = at(f);
    if (!p || p[0] < -60 || p[0] > W + 60) return null;
    const [x, y] = [p[0] + 2 * normal(), p[1] + 2 * normal()];
    return {
      left: Math.max(0, x - 60),
      right: Math.min(W, x + 60),
      top: Math.max(0, y - 150),
      bottom: Math.min(H, y + 150),
    };
  });
  return {
    area_share: NONE,
    shadow_share: NONE,
    left_px: boxes.map((b) => b && b.left),
    right_px: boxes.map((b) => b && b.right),
    top_px: boxes.map((b) => b && b.top),
    bottom_px: boxes.map((b) => b && b.bottom),
  };
}

test.each([
  [1, 18, 0, 0],
  [2, -18, 0, 180],
  [3, 12, 3, (Math.atan2(3, 12) * 180) / Math.PI],
  [4, -14, -2, 180 + (Math.atan2(2, 14) * 180) / Math.PI],
])('seed %d: whoever goes %d and %d pixels a frame travels that way', (seed, vx, vy, angle) => {
  const found = travelOf(
    path((f) => [640 + vx * (f - 30), 360 + vy * (f - 30)], seed),
    W,
    H,
  )!;
  expect(Math.abs(((found.angle_deg - angle + 540) % 360) - 180)).toBeLessThan(4);
  expect(found.px_per_frame).toBeCloseTo(Math.hypot(vx, vy), 0);
});

test('whoever stands, goes to and fro, or only looks in does not travel; feet outside the picture do not matter', () => {
  expect(
    travelOf(
      path(() => [640, 360]),
      W,
      H,
    ),
  ).toBeNull();
  expect(
    travelOf(
      path((f) => [640 + 300 * Math.sin(f / 4), 360]),
      W,
      H,
    ),
  ).toBeNull();
  expect(
    travelOf(
      path((f) => (f < 5 ? [300 + 20 * f, 360] : null)),
      W,
      H,
    ),
  ).toBeNull();
  expect(
    travelOf(
      path(() => null),
      W,
      H,
    ),
  ).toBeNull();
  expect(
    travelOf(
      path((f) => [200 + 14 * f, 640]),
      W,
      H,
    )!.angle_deg % 359,
  ).toBeLessThan(2);
});
