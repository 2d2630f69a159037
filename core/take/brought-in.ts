import { measureSize } from './source';
import type { MeasuredTake } from './measured-take';
import { median } from '../base/numeric/quantile';
import type { Box } from '../report/types';

/** A picture of small pixels. */
interface Small {
  width: number;
  height: number;
  luma: ArrayLike<number>;
}

/** So much of what differs in a take as a whole may be left at one of its ends for that end to be like the other picture. */
const ALIKE = 0.35;

/** Mean difference of two pictures in a box, levels, but for what differs all over. */
function differenceIn(a: Small, b: Small, box: Box, scale: number): number {
  const all = Float32Array.from({ length: a.width * a.height }, (_, i) => a.luma[i] - b.luma[i]);
  const common = median(Array.from(all));
  const clamp = (v: number, most: number) => Math.max(0, Math.min(most, Math.round(v * scale)));
  const [left, right] = [clamp(box.x, a.width - 1), clamp(box.x + box.width, a.width)];
  const [top, bottom] = [clamp(box.y, a.height - 1), clamp(box.y + box.height, a.height)];
  let sum = 0,
    n = 0;
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++, n++) sum += Math.abs(all[y * a.width + x] - common);
  return n ? sum / n : Infinity;
}

/**
 * Which of some boxes hold what came into a take, or left it, while it was rolled: at its beginning or its end it looks
 * there like another picture of the same place, though not as a whole.
 * @param other the other picture, as small as the take's background, laid on it @returns for each box, true where so
 */
export async function cameOrWent(
  { source, analysis }: MeasuredTake,
  other: Small,
  boxes: readonly Box[],
  signal?: AbortSignal,
): Promise<boolean[]> {
  const { scene, lock, probe, media } = analysis;
  const background = scene?.background;
  if (!background || boxes.length === 0 || background.width !== other.width || background.height !== other.height)
    return boxes.map(() => false);
  const run = lock.usable_run ?? media.shot;
  const scale = background.width / probe.width;
  const whole = boxes.map((box) => differenceIn(background, other, box, scale));
  const nearest = boxes.map(() => Infinity);
  const size = measureSize(probe.width, probe.height);
  const only = [...new Set([run.start, run.end])];
  for await (const { small } of source.pictures({ size, only, signal })) {
    const end = { width: background.width, height: background.height, luma: small.luma };
    if (small.luma.length !== end.width * end.height) return boxes.map(() => false);
    boxes.forEach((box, k) => {
      nearest[k] = Math.min(nearest[k], differenceIn(end, other, box, scale));
    });
  }
  return boxes.map((_, k) => nearest[k] < ALIKE * whole[k]);
}
