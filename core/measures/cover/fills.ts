/** 1 where neither mask is set, in the first. */
export function neither(a: Uint8Array, b: Uint8Array): Uint8Array {
  for (let i = 0; i < a.length; i++) a[i] = 1 - (a[i] | b[i]);
  return a;
}

/**
 * What was never seen and was covered before, where that is given, is so still; else, along each line that the camera
 * goes along, it takes after the nearest pixels on its known side.
 */
export function fillUnknown(
  mask: Uint8Array,
  known: Uint8Array,
  before: Uint8Array | null,
  width: number,
  height: number,
  down: boolean,
): void {
  const NEAR = 6;
  const lines = down ? width : height,
    long = down ? height : width,
    step = down ? width : 1,
    next = down ? 1 : width;
  const blind: number[] = [];
  let seen = -1;
  for (let line = 0; line < lines; line++) {
    const start = line * next;
    const at = (k: number) => start + k * step;
    let any = false;
    for (let x = 0; x < long && !any; x++) any = known[at(x)] === 1;
    if (!any) {
      blind.push(line);
      continue;
    }
    seen = line;
    for (let x = 0; x < long; x++) {
      if (known[at(x)]) continue;
      let end = x;
      while (end + 1 < long && !known[at(end + 1)]) end++;
      let n = 0,
        set = 0;
      for (let k = 1; k <= NEAR; k++) {
        for (const u of [x - k, end + k])
          if (u >= 0 && u < long && known[at(u)]) {
            n++;
            set += mask[at(u)];
          }
      }
      const value = n > 0 && 2 * set > n ? 1 : 0;
      for (let u = x; u <= end; u++) mask[at(u)] = before?.[at(u)] || value;
      x = end;
    }
  }
  // A line of which nothing is known is as the nearest of which something is.
  if (seen < 0 || before) return;
  const isBlind = new Set(blind);
  for (const line of blind) {
    let from = line;
    for (let d = 1; isBlind.has(from); d++)
      from =
        line >= d && !isBlind.has(line - d) ? line - d : line + d < lines && !isBlind.has(line + d) ? line + d : line;
    for (let k = 0; k < long; k++) mask[line * next + k * step] = mask[from * next + k * step];
  }
}
