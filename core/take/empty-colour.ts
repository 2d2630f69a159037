import type { PictureSource } from './source';
import type { MeasuredTake } from './measured-take';
import { applySimilarity, greatestDisplacement, IDENTITY } from '../base/geometry/similarity';
import { median } from '../base/numeric/quantile';
import type { LaidTogether } from './lay-on';

/** So many pictures of a plate are taken together. */
const PLATE_FRAMES = 25;

/** A grid, and the plate laid on its take. */
export interface Laid {
  width: number;
  height: number;
  laid: LaidTogether | null;
}

/** The empty picture in small colour, as it lies on the take, and the grain of one picture. */
export async function emptyColour(
  take: MeasuredTake,
  source: PictureSource,
  { width, height, laid }: Laid,
  signal?: AbortSignal,
): Promise<{ rgb: Uint8Array; grain: number } | null> {
  if (!laid?.offset) return null;
  const { probe } = laid;
  const run = laid.presence?.clear_runs.reduce((x, y) => (y.end - y.start > x.end - x.start ? y : x), {
    start: 0,
    end: -1,
  });
  const from = run && run.end >= run.start ? run.start : 0;
  const to = probe.still ? 0 : run && run.end >= run.start ? Math.min(run.end, from + PLATE_FRAMES - 1) : 0;
  const sum = new Float64Array(width * height * 3),
    squares = new Float64Array(sum.length);
  let n = 0;
  for await (const rgb of source.colour({ width, height, from, to }, signal)) {
    n++;
    for (let k = 0; k < sum.length; k++) {
      sum[k] += rgb[k];
      squares[k] += rgb[k] ** 2;
    }
  }
  if (n === 0) return null;
  const mean = Uint8Array.from(sum, (v) => Math.round(v / n));
  const spread: number[] = [];
  if (n > 2)
    for (let k = 0; k < sum.length; k += 101) spread.push(Math.sqrt(Math.max(0, squares[k] / n - (sum[k] / n) ** 2)));
  const grain = spread.length ? median(spread) : 2;
  const { analysis } = take;
  const move = laid.offset.pictures;
  const { width: w, height: h } = analysis.probe;
  if (greatestDisplacement(move, IDENTITY, w, h) * (width / w) < 0.4) return { rgb: mean, grain };
  const out = new Uint8Array(mean.length);
  const factor = w / width;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = applySimilarity(move, (x + 0.5 - width / 2) * factor, (y + 0.5 - height / 2) * factor);
      const c = Math.max(0, Math.min(width - 1, Math.floor(u / factor + width / 2))),
        r = Math.max(0, Math.min(height - 1, Math.floor(v / factor + height / 2)));
      for (let k = 0; k < 3; k++) out[3 * i + k] = mean[3 * (r * width + c) + k];
    }
  return { rgb: out, grain };
}
