/** One point of a drawn trace. */
export interface TracePoint {
  x: number;
  y: number;
}

/**
 * Lays a series over a strip: one or two points for each pixel column (its least and greatest value), so that no peak
 * is lost however long the take. Missing frames break the line.
 * @param values one for each frame, null where missing
 * @param top value at the strip's upper edge
 * @returns runs of points, in strip pixels
 */
export function tracePoints(
  values: readonly (number | null)[],
  width: number,
  height: number,
  top: number,
): TracePoint[][] {
  const count = values.length;
  if (count === 0 || width <= 0) return [];
  const x = (frame: number) => (count === 1 ? width / 2 : (frame * width) / (count - 1));
  const y = (value: number) => height - Math.max(0, Math.min(1, top > 0 ? value / top : 0)) * height;
  const perColumn = Math.max(1, count / width);
  const runs: TracePoint[][] = [];
  let run: TracePoint[] = [];
  const close = () => {
    if (run.length) runs.push(run);
    run = [];
  };
  for (let start = 0; start < count; start += perColumn) {
    const from = Math.floor(start);
    const to = Math.max(from + 1, Math.min(count, Math.floor(start + perColumn)));
    let low = Infinity,
      high = -Infinity,
      lowAt = from,
      highAt = from;
    let gap = false;
    for (let f = from; f < to; f++) {
      const v = values[f];
      if (v === null) {
        gap = true;
        continue;
      }
      if (v < low) {
        low = v;
        lowAt = f;
      }
      if (v > high) {
        high = v;
        highAt = f;
      }
    }
    if (high === -Infinity) {
      close();
      continue;
    }
    if (lowAt === highAt) run.push({ x: x(highAt), y: y(high) });
    else if (lowAt < highAt) run.push({ x: x(lowAt), y: y(low) }, { x: x(highAt), y: y(high) });
    else run.push({ x: x(highAt), y: y(high) }, { x: x(lowAt), y: y(low) });
    if (gap) close();
  }
  close();
  return runs;
}

/** A round number at or above `value`, for the top of a strip. */
export function roundTop(value: number): number {
  if (!(value > 0)) return 1;
  const power = 10 ** Math.floor(Math.log10(value));
  for (const step of [1, 2, 5, 10]) if (value <= step * power) return step * power;
  return 10 * power;
}

/** Time of a frame as hours:minutes:seconds:frames, counted at the nearest whole rate. */
export function frameTime(frame: number, fps: number): string {
  const rate = Math.max(1, Math.round(fps));
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(frame / rate);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(frame % rate)}`;
}
