import type { CoverShape } from './measure';
import { RevealMatte, type RevealMode } from './reveal';

const W = 80,
  H = 45,
  FRAMES = 40,
  UNIT = 8;

/**
 * A block 1.2 pictures long that passes along a way by 5 mask pixels a frame; its edges lie where `exact` says, source
 * pixels off the mask's.
 */
function passing(way: CoverShape['way'], exact: number | null = null): CoverShape {
  const vertical = way === 90 || way === 270,
    forwards = way === 0 || way === 90,
    long = vertical ? H : W;
  const lead = (f: number) => 5 * f,
    trail = (f: number) => 5 * f - Math.round(1.2 * long);
  const masks = Array.from({ length: FRAMES }, (_, f) =>
    Uint8Array.from({ length: W * H }, (_v, i) => {
      const a = vertical ? Math.floor(i / W) : i % W,
        along = forwards ? a : long - 1 - a;
      return along < lead(f) && along >= trail(f) ? 1 : 0;
    }),
  );
  const lines = (edge: (f: number) => number) =>
    [0, 1, 2].map(() =>
      Array.from({ length: FRAMES }, (_, f) => {
        const e = edge(f);
        return exact === null || e <= 0 || e >= long ? null : (forwards ? e : long - e) * UNIT + exact;
      }),
    );
  return { width: W, height: H, masks, way, lead: lines(lead), trail: lines(trail) };
}

const matteOf = (
  shape: CoverShape,
  mode: RevealMode,
  more: { from?: number; done?: number | null; feather_px?: number } = {},
) =>
  new RevealMatte(
    shape,
    { mode, from: 20, done: 36, feather_px: 16, width: W * UNIT, height: H * UNIT, ...more },
    160,
    90,
  );
const at = (m: RevealMatte, f: number, x: number, y: number) => m.frame(f, new Uint8Array(160 * 90))[y * 160 + x];

test.each([0, 180] as const)(
  'way %d: nothing before the cut, all of it once the object is gone, and only behind the edge in between',
  (way) => {
    const matte = matteOf(passing(way), 'behind');
    const x = (share: number) => Math.min(159, Math.round(159 * (way === 0 ? share : 1 - share)));
    expect(at(matte, 19, x(0), 40)).toBe(0);
    // In frame 25 the trailing edge has come 29 of 80 mask pixels.
    expect(at(matte, 25, x(0.1), 40)).toBe(255);
    expect(at(matte, 25, x(0.3), 10)).toBe(255);
    expect(at(matte, 25, x(0.43), 10)).toBe(0);
    expect(at(matte, 25, x(0.9), 80)).toBe(0);
    expect(at(matte, 36, x(0.99), 40)).toBe(255);
    expect(at(matte, 39, x(0.99), 40)).toBe(255);
  },
);

test('the edge is half way up where it was found closely, and as soft as the feather', () => {
  const matte = matteOf(passing(0, 3), 'behind');
  const row = matte.frame(25, new Uint8Array(160 * 90)).subarray(40 * 160, 41 * 160);
  // 29 mask pixels are 232 source pixels, found 3 further on; a pixel of the proof is 4.
  const half = row.findIndex((v) => v < 128);
  expect(Math.abs(half + 0.5 - 235 / 4)).toBeLessThan(1);
  const soft = row.filter((v) => v > 0 && v < 255).length;
  expect(soft).toBeGreaterThanOrEqual(2);
  expect(soft).toBeLessThanOrEqual(5);
  const hard = matteOf(passing(0, 3), 'behind', { feather_px: 0 })
    .frame(25, new Uint8Array(160 * 90))
    .subarray(40 * 160, 41 * 160);
  expect(hard.filter((v) => v > 0 && v < 255).length).toBeLessThanOrEqual(1);
});

test('what closes is replaced up to its leading edge; a cut comes at once', () => {
  const lid = matteOf(passing(90), 'instead', { from: 0, done: 9 });
  // In frame 4 it has come down 20 of 45.
  expect(at(lid, 4, 80, 20)).toBe(255);
  expect(at(lid, 4, 80, 60)).toBe(0);
  expect(at(lid, 9, 80, 89)).toBe(255);
  const cut = matteOf(passing(0), 'cut', { from: 17, done: 17 });
  expect([at(cut, 16, 3, 3), at(cut, 17, 3, 3), at(cut, 17, 150, 80)]).toEqual([0, 255, 255]);
});

test('rows that the object misses take after those beside them', () => {
  const shape = passing(0);
  for (const mask of shape.masks) mask.fill(0, 0, 9 * W);
  const matte = matteOf(shape, 'behind');
  expect(at(matte, 25, 10, 4)).toBe(255);
  expect(at(matte, 25, 140, 4)).toBe(0);
});
