// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min } = Math;

/** A closed outline: its corners, the last joined to the first. */
export type ZoneOutline = readonly (readonly [number, number])[];

/** 1 for pixels whose middle lies inside an outline (even-odd rule); 0 elsewhere. */
export function insideOf(outline: ZoneOutline, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = y + 0.5;
    const meets: number[] = [];
    outline.forEach(([ax, ay], k) => {
      const [bx, by] = outline[(k + 1) % outline.length];
      if (ay <= v === by <= v) return;
      meets.push(ax + ((bx - ax) * (v - ay)) / (by - ay));
    });
    meets.sort((a, b) => a - b);
    for (let k = 0; k + 1 < meets.length; k += 2) {
      const from = max(0, ceil(meets[k] - 0.5)),
        to = min(width - 1, floor(meets[k + 1] - 0.5));
      if (to >= from) out.fill(1, y * width + from, y * width + to + 1);
    }
  }
  return out;
}

/** A box as an outline. */
export function boxOutline(x: number, y: number, width: number, height: number): [number, number][] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}

/** Whether a place lies inside an outline (even-odd rule). */
export function isInside(outline: ZoneOutline, x: number, y: number): boolean {
  let inside = false;
  outline.forEach(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length];
    if (ay <= y !== by <= y && x < ax + ((bx - ax) * (y - ay)) / (by - ay)) inside = !inside;
  });
  return inside;
}
