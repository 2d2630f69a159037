// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { min } = Math;

/** A connected set of pixels. */
export interface Region {
  pixels: Int32Array;
  left: number;
  top: number;
  /** Both ends included. */
  right: number;
  bottom: number;
}

/** Connected sets (sides and corners touch) of the pixels that are not 0, with at least `least` of them. */
export function findRegions(mask: Uint8Array, width: number, height: number, least = 1): Region[] {
  const done = new Uint8Array(mask.length);
  const queue = new Int32Array(mask.length);
  const out: Region[] = [];
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || done[start]) continue;
    let head = 0, tail = 0;
    queue[tail++] = start;
    done[start] = 1;
    let left = width, top = height, right = 0, bottom = 0;
    while (head < tail) {
      const i = queue[head++];
      const x = i % width, y = (i - x) / width;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
      for (let v = y > 0 ? y - 1 : y; v <= y + 1 && v < height; v++) {
        for (let u = x > 0 ? x - 1 : x; u <= x + 1 && u < width; u++) {
          const o = v * width + u;
          if (mask[o] && !done[o]) {
            done[o] = 1;
            queue[tail++] = o;
          }
        }
      }
    }
    if (tail >= least) out.push({ pixels: queue.slice(0, tail), left, top, right, bottom });
  }
  return out;
}

/** Sums over squares of (2 r + 1) pixels, cut at the picture's edges, divided by how many pixels the square holds. */
export function boxMean(values: ArrayLike<number>, width: number, height: number, r: number, out: Float32Array): Float32Array {
  const rows = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    let sum = 0, n = 0;
    const row = y * width;
    for (let x = 0; x < min(r, width); x++, n++) sum += values[row + x];
    for (let x = 0; x < width; x++) {
      if (x + r < width) { sum += values[row + x + r]; n++; }
      if (x - r - 1 >= 0) { sum -= values[row + x - r - 1]; n--; }
      rows[row + x] = sum / n;
    }
  }
  for (let x = 0; x < width; x++) {
    let sum = 0, n = 0;
    for (let y = 0; y < min(r, height); y++, n++) sum += rows[y * width + x];
    for (let y = 0; y < height; y++) {
      if (y + r < height) { sum += rows[(y + r) * width + x]; n++; }
      if (y - r - 1 >= 0) { sum -= rows[(y - r - 1) * width + x]; n--; }
      out[y * width + x] = sum / n;
    }
  }
  return out;
}
