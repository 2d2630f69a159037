import { seededNormal } from '../../base/numeric/random';
import { bendOf, bentEdge } from './bend';

const W = 1920,
  H = 1080,
  R = Math.hypot(W, H) / 2;

/** A straight edge that a lens bends, with measuring noise, as it comes down the picture. */
function edge(k1: number, noise: number, seed: number, own = 0) {
  const normal = seededNormal(seed),
    x = W / 2;
  return Array.from({ length: 40 }, (_, f) => {
    const h = ((f + 0.5) / 40 - 0.5) * H;
    // Its middle, less the mean of its ends.
    const bend = h * (1 + (k1 * h * h) / (R * R)) - h * (1 + (k1 * (x * x + h * h)) / (R * R)) + own + noise * normal();
    return { at: h + H / 2, bend };
  });
}

test.each([
  [-0.06, 1],
  [-0.03, 2],
  [0.04, 3],
  [0.08, 4],
])('a lens that bends by %d is found, and how far the edge bends by it', (k1, seed) => {
  const found = bendOf(edge(k1, 0.6, seed), H, W)!;
  expect(found.lens_k1!).toBeCloseTo(k1, 2);
  // At the picture's upper or lower edge, from the middle to the sides.
  const truth = Math.abs(k1) * ((0.4875 * H) / R) * (W / 2 / R) ** 2 * R;
  expect(Math.abs(found.bend_px / truth - 1)).toBeLessThan(0.12);
});

test.each([5, 6, 7])(
  'seed %d: a straight edge does not bend, a bent one bends by itself and not by the lens',
  (seed) => {
    const straight = bendOf(edge(0, 0.8, seed), H, W)!;
    expect(straight.lens_k1).toBeNull();
    expect(straight.bend_px).toBeLessThan(straight.error_px + 0.5);
    const bowed = bendOf(edge(0, 0.8, seed, 9), H, W)!;
    expect(bowed.lens_k1).toBeNull();
    expect(Math.abs(bowed.bend_px - 9)).toBeLessThan(bowed.error_px + 0.5);
    expect(bowed.error_px).toBeLessThan(3);
  },
);

test('one frame gone wrong does not bend it; too few frames say nothing', () => {
  const edges = edge(-0.05, 0.3, 8);
  edges[20] = { ...edges[20], bend: 60 };
  expect(bendOf(edges, H, W)!.lens_k1!).toBeCloseTo(-0.05, 2);
  expect(bendOf(edges.slice(0, 3), H, W)).toBeNull();
  expect(
    bendOf(
      edges.map(() => edges[20]),
      H,
      W,
    ),
  ).toBeNull();
});

test.each([
  [90, 5],
  [270, 5],
  [0, 3],
  [180, -4],
] as const)('way %d: a mask whose edge bows by %d pixels', (way, bow) => {
  const width = 240,
    height = 135,
    vertical = way === 90 || way === 270,
    forwards = way < 180;
  const mask = Uint8Array.from({ length: width * height }, (_, i) => {
    const x = i % width,
      y = Math.floor(i / width),
      u = vertical ? (2 * (x + 0.5)) / width - 1 : (2 * (y + 0.5)) / height - 1;
    const at = 60 + 6 * u + bow * (1 - u * u),
      a = (vertical ? y : x) + 0.5;
    // A twig in front of a few lines is none of it.
    return (forwards ? a < at : a > at) !== (x > 100 && x < 108 && y > 70 && y < 90) ? 1 : 0;
  });
  const found = bentEdge(mask, { width, height }, way, 8)!;
  expect(found.bend / 8).toBeCloseTo(bow, 0);
  expect(found.at / 8).toBeCloseTo(60 + bow, 0);
  expect(bentEdge(new Uint8Array(width * height), { width, height }, way, 8)).toBeNull();
});
