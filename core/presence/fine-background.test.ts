import type { Background } from '../scene/background';
import { seededNormal } from '../numeric/random';
import { fineBackground, type FineFrames, type Outline } from './fine-background';
import { Labeller } from './labels';
import { BODY } from './shade';

const [W, H, FRAMES] = [64, 48, 60];
const POST = { from: 28, to: 40 };
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
