import type { Background } from '../scene/background';
import { seededNormal, seededRandom } from '../base/numeric/random';
import { fineBackground, type FineFrames, type Outline } from './fine-background';
import { Labeller } from './labels';
import { BODY } from './shade';

const [W, H, FRAMES] = [64, 48, 60];
const POST = { from: 28, to: 40 };
const LEAF = { luma: 70, blue: 115, red: 118 };
const ALL = { left: 0, top: 0, right: W - 1, bottom: H - 1 };

/** Share of a pixel that the post takes, its left edge at `at`. */
const share = (x: number, at: number) => Math.max(0, Math.min(1, x + 1 - at) - Math.max(0, x + 1 - POST.to));

/** A red post before a grey wall, of the same light; from frame 30 on its edge is coded 0.3 px farther to the right. */
function frames(): FineFrames {
  const normal = seededNormal(5);
  const pictures = Array.from({ length: FRAMES }, (_, f) => {
    const at = POST.from + (f < 30 ? 0.5 : 0.8);
    const plane = (level: (x: number) => number) =>
      Uint8Array.from({ length: W * H }, (_, i) => Math.round(level(i % W) + normal()));
    return {
      luma: plane(() => 120),
      blue: plane((x) => 128 - 20 * share(x, at)),
      red: plane((x) => 128 + 60 * share(x, at)),
      seen: null,
    };
  });
  return {
    ...{ width: W, height: H, count: FRAMES, ratio: 1 },
    read: (f) => pictures[f].luma,
    look: (f) => pictures[f],
  };
}

test('an edge of colours that is coded a part of a pixel farther on is nobody, for its place is known no better', () => {
  const all = frames();
  // Somebody hides the picture from frame 25 to 33.
  const whole: Outline = { rows: Int16Array.from(Array.from({ length: H }, (_, y) => [y, 0, W - 1, BODY]).flat()) };
  const figures = Array.from({ length: FRAMES }, (_, f) => (f >= 25 && f <= 33 ? [whole] : []));
  const small = { width: W, height: H, moved: false } as unknown as Background;
  const light = new Array<number>(FRAMES).fill(0);
  // Only what was seen before the edge was coded anew is known of it.
  const known = { ...all, count: 30 };
  const behind = fineBackground(known, figures.slice(0, 30), light, small, 'srgb');
  const labeller = new Labeller(behind, W, H, 'srgb');
  labeller.inside.fill(1);
  const kinds = labeller.label(all.look(50)!, 0, ALL);
  expect(kinds.reduce((n, k) => n + (k === BODY ? 1 : 0), 0)).toBe(0);
  // It is the edge alone that is known worse.
  const at = 20 * W;
  expect(behind.colourSigma[at + POST.from]).toBeGreaterThan(3 * behind.colourSigma[at + 10]);
});

/** A wall before whose right half leaves of 6 x 6 pixels sway, each about a place of its own. */
function leaves(): FineFrames {
  const random = seededRandom(3),
    normal = seededNormal(4);
  const all = Array.from({ length: 24 }, () => ({
    x: 32 + 26 * random(),
    y: 42 * random(),
    rate: 0.2 + 0.3 * random(),
    phase: 6.28 * random(),
  }));
  const pictures = Array.from({ length: FRAMES }, (_, f) => {
    const isLeaf = (i: number) =>
      all.some(({ x, y, rate, phase }) => {
        const left = x + 4 * Math.sin(rate * f + phase);
        return i % W >= left && i % W < left + 6 && i >= y * W && i < (y + 6) * W;
      });
    const mask = Uint8Array.from({ length: W * H }, (_, i) => Number(isLeaf(i)));
    const plane = (leaf: number, wall: number) =>
      Uint8Array.from(mask, (on) => Math.round((on ? leaf : wall) + normal()));
    return { luma: plane(LEAF.luma, 150), blue: plane(LEAF.blue, 128), red: plane(LEAF.red, 128), seen: null };
  });
  return {
    ...{ width: W, height: H, count: FRAMES, ratio: 1 },
    read: (f) => pictures[f].luma,
    look: (f) => pictures[f],
  };
}

test('leaves that sway are nobody, wherever they go, and whoever stands before them is somebody', () => {
  const frames = leaves();
  const restless = Uint8Array.from({ length: W * H }, (_, i) => (i % W >= 28 ? 1 : 0));
  const small = { width: W, height: H, moved: false, restless } as unknown as Background;
  const none = Array.from({ length: FRAMES }, () => []);
  const light = new Array<number>(FRAMES).fill(0);
  const behind = fineBackground(frames, none, light, small, 'srgb');
  const labeller = new Labeller(behind, W, H, 'srgb');
  labeller.inside.fill(1);
  const bodies = (picture: ReturnType<FineFrames['look']>) =>
    labeller.label(picture!, 0, ALL).reduce((n, k) => n + (k === BODY ? 1 : 0), 0);
  // A leaf where none has been yet: the wind turned.
  const gust = frames.look(50)!;
  for (let y = 20; y < 26; y++)
    for (let x = 30; x < 36; x++)
      for (const name of ['luma', 'blue', 'red'] as const) gust[name][y * W + x] = LEAF[name];
  expect(bodies(gust)).toBe(0);
  const somebody = frames.look(40)!;
  for (let y = 8; y < 44; y++)
    for (let x = 40; x < 56; x++)
      [somebody.luma, somebody.blue, somebody.red].forEach((p, c) => (p[y * W + x] = [110, 100, 170][c]));
  expect(Math.abs(bodies(somebody) - 36 * 16)).toBeLessThan(0.1 * 36 * 16);
});

test('a place that sways, of which somebody hides a part from first to last, is known from the small picture there', () => {
  const frames = leaves();
  const restless = Uint8Array.from({ length: W * H }, (_, i) => (i % W >= 28 ? 1 : 0));
  const plane = (value: number) => new Float32Array(W * H).fill(value);
  const small = {
    ...{ width: W, height: H, colourWidth: W / 2, colourHeight: H / 2, moved: false, restless },
    ...{ luma: plane(150), blue: plane(128), red: plane(128), sigma: plane(2) },
  } as unknown as Background;
  const standing: Outline = { rows: Int16Array.from([20, 40, 44, BODY, 21, 40, 44, BODY]) };
  const figures = Array.from({ length: FRAMES }, () => [standing]);
  const { luma, sigma } = fineBackground(frames, figures, new Array<number>(FRAMES).fill(0), small, 'srgb');
  expect(luma.some(Number.isNaN) || sigma.some(Number.isNaN)).toBe(false);
  expect(luma[20 * W + 42]).toBeCloseTo(150);
});
