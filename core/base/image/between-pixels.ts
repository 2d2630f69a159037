const { floor, max, min } = Math;

/** The value between four pixels' middles, in proportion; beyond the picture's edge that of the edge. */
export function betweenPixels(values: Float32Array, width: number, height: number, x: number, y: number): number {
  const u = max(0, min(width - 1, x)),
    v = max(0, min(height - 1, y));
  const i = floor(u),
    j = floor(v);
  const i1 = min(width - 1, i + 1),
    j1 = min(height - 1, j + 1);
  const a = u - i,
    b = v - j;
  return (
    (1 - b) * ((1 - a) * values[j * width + i] + a * values[j * width + i1]) +
    b * ((1 - a) * values[j1 * width + i] + a * values[j1 * width + i1])
  );
}
