/** Frames on which a path that is set there and drawn straight between stays within `within` of itself, found by repeated halving. */
export function keyFrames(path: readonly (readonly (number | null)[])[], within: number): number[] {
  const keys = new Set<number>();
  const runs: [number, number][] = [];
  const frames = path[0]?.length ?? 0;
  const known = (f: number) => path.some((line) => line[f] !== null);
  for (let f = 0; f < frames; f++) {
    if (!known(f)) continue;
    let end = f;
    while (end + 1 < frames && known(end + 1)) end++;
    runs.push([f, end]);
    f = end;
  }
  const straight = (a: number, b: number) => path.every((line) => {
    if (line[a] === null || line[b] === null) return line.slice(a, b + 1).every((v) => v === null) || b - a < 2;
    for (let f = a + 1; f < b; f++) {
      const v = line[f];
      if (v !== null && Math.abs(v - line[a]! - ((line[b]! - line[a]!) * (f - a)) / (b - a)) > within) return false;
    }
    return true;
  });
  const halve = (a: number, b: number) => {
    if (b - a < 2 || straight(a, b)) return;
    const middle = (a + b) >> 1;
    keys.add(middle);
    halve(a, middle);
    halve(middle, b);
  };
  for (const [a, b] of runs) {
    keys.add(a);
    keys.add(b);
    halve(a, b);
  }
  return [...keys].sort((a, b) => a - b);
}
