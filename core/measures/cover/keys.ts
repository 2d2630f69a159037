/**
 * Frames to set first, so that straight lines between them keep every path within `within` of itself, found by
 * repeated halving: the ends, then the middle of whatever is not straight enough.
 * @param paths one value a frame, the first for frame `from`; none may be missing
 */
export function keyFrames(paths: readonly (readonly number[])[], from: number, within: number): number[] {
  const last = (paths[0]?.length ?? 0) - 1;
  if (last < 0) return [];
  const keys = new Set([0, last]);
  const straight = (a: number, b: number) =>
    paths.every((path) => {
      for (let f = a + 1; f < b; f++)
        if (Math.abs(path[f] - path[a] - ((path[b] - path[a]) * (f - a)) / (b - a)) > within) return false;
      return true;
    });
  const halve = (a: number, b: number) => {
    if (b - a < 2 || straight(a, b)) return;
    const middle = (a + b) >> 1;
    keys.add(middle);
    halve(a, middle);
    halve(middle, b);
  };
  halve(0, last);
  return [...keys].sort((a, b) => a - b).map((k) => k + from);
}
