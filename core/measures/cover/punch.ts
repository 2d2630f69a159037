// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, hypot } = Math;

/** Punching in further than this is no use. */
const FARTHEST = 3;

type Size = { width: number; height: number };

/** Whether a recording still fills the delivery frame when it is enlarged so much. */
export function isLargeEnough(source: Size, scale: number, delivery: Size): boolean {
  return source.width / scale >= delivery.width * 0.999 && source.height / scale >= delivery.height * 0.999;
}

/**
 * The smallest enlargement that leaves nothing but the object in the picture, and where its centre lies, in the mask's
 * pixels: the largest rectangle of the picture's shape in which everything is covered. Null when there is none worth
 * it.
 */
export function smallestPunchIn(
  mask: Uint8Array,
  width: number,
  height: number,
): { scale: number; x: number; y: number } | null {
  const sums = new Int32Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += 1 - mask[y * width + x];
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  }
  const open = (x: number, y: number, w: number, h: number) =>
    sums[(y + h) * (width + 1) + x + w] -
    sums[y * (width + 1) + x + w] -
    sums[(y + h) * (width + 1) + x] +
    sums[y * (width + 1) + x];
  for (let w = width; w >= width / FARTHEST; w--) {
    const h = ceil((w * height) / width);
    let best: { x: number; y: number; off: number } | null = null;
    for (let y = 0; y + h <= height; y++) {
      for (let x = 0; x + w <= width; x++) {
        if (open(x, y, w, h) > 0) continue;
        // Of several the one nearest the middle.
        const off = hypot(x + w / 2 - width / 2, y + h / 2 - height / 2);
        if (!best || off < best.off) best = { x, y, off };
      }
    }
    if (best) return { scale: width / w, x: best.x + w / 2, y: best.y + h / 2 };
  }
  return null;
}
