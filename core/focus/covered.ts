import { median } from '../numeric/quantile';
import type { PictureStack } from '../scene/stack';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min } = Math;

/** A cell is covered when its mean differs by so many levels, or so many times its own spread, from what it usually is. */
const LEAST_LEVELS = 7;
const SPREADS = 5;
/** Light of a whole picture may differ by this factor from the usual. */
const MOST_GAIN = 1.6;
/** Frames looked at to tell what is usual. */
const LOOKS = 60;

/**
 * For each frame 1 for the cells of a grid over the picture in which something else stands than usually: its mean says
 * so, which a lens out of focus leaves alone. A first idea, before anybody is told from the background.
 */
export function coveredCells(stack: PictureStack, across: number, down: number): Uint8Array[] {
  const { width, height } = stack.size;
  const count = across * down;
  const columns = Uint16Array.from({ length: width }, (_, x) => floor((x * across) / width));
  const size = new Float32Array(count);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) size[floor((y * down) / height) * across + columns[x]]++;
  const means = Array.from({ length: stack.count }, (_, f) => {
    const { luma } = stack.read(f);
    const out = new Float32Array(count);
    for (let y = 0, i = 0; y < height; y++) {
      const row = floor((y * down) / height) * across;
      for (let x = 0; x < width; x++, i++) out[row + columns[x]] += luma[i];
    }
    for (let c = 0; c < count; c++) out[c] /= size[c] || 1;
    return out;
  });
  const step = max(1, floor(means.length / LOOKS));
  const some = means.filter((_, f) => f % step === 0);
  const usual = Float32Array.from({ length: count }, (_, c) => median(some.map((m) => m[c])));
  const bright = [...usual.keys()].filter((c) => usual[c] > 16);
  const gains = means.map((m) => {
    const gain = bright.length ? median(bright.map((c) => m[c] / usual[c])) : 1;
    return max(1 / MOST_GAIN, min(MOST_GAIN, gain));
  });
  const spread = Float32Array.from(
    { length: count },
    (_, c) => 1.4826 * median(some.map((m, k) => abs(m[c] / gains[k * step] - usual[c]))),
  );
  return means.map((m, f) =>
    Uint8Array.from(m, (v, c) => (abs(v / gains[f] - usual[c]) > max(LEAST_LEVELS, SPREADS * spread[c]) ? 1 : 0)),
  );
}
