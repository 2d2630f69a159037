import { UnusableMedia } from './unusable';
import type { FullPicture } from './source';
import type { Against, MeasuredTake } from './measured-take';
import { sigmaOf } from '../base/numeric/robust';
import { applySimilarity, greatestDisplacement, IDENTITY, invertSimilarity } from '../base/geometry/similarity';
import { median } from '../base/numeric/quantile';
import type { ColourPicture } from '../measures/plate/stitch';
import { makePlate } from './plate';
import { analyseTake } from './analyse';

/** A take's own empty picture that leaves more than this share unseen is worse than a plate. */
const UNSEEN = 0.002;
/** Moved by less than this, pixels, a frame lies where the empty picture does. */
const LEAST_MOVE = 0.3;

/**
 * The empty picture of a take at full size: what is seen of it in the take itself, or the plate where somebody always
 * hides something. Null where neither tells.
 */
export async function emptyPicture(
  take: MeasuredTake,
  plate: Against | null,
  signal?: AbortSignal,
): Promise<ColourPicture | null> {
  const own = await makePlate([take], { signal }).catch(() => null);
  if (own && (own.source.unseen_share < UNSEEN || !plate)) return own.picture;
  if (!plate) return null;
  const { facts } = plate.source;
  if (facts.width !== take.analysis.probe.width || facts.height !== take.analysis.probe.height)
    return own?.picture ?? null;
  if (facts.still) return onePicture(plate, signal);
  const analysis = plate.analysis ?? (await analyseTake(plate, { signal }));
  const made = await makePlate([{ ...plate, analysis }], { signal }).catch(() => own);
  return made?.picture ?? null;
}

/** The only picture of a still. @throws UnusableMedia when it cannot be decoded */
async function onePicture({ source, name }: Against, signal?: AbortSignal): Promise<ColourPicture> {
  for await (const picture of source.full([0], signal)) return picture;
  throw new UnusableMedia(`"${name}" has no picture that can be decoded.`, 'truncated');
}

/** Luma of a picture, levels of 255. */
export function lumaOf({ data, most }: ColourPicture | FullPicture): Float32Array {
  const out = new Float32Array(data.length / 3);
  const by = 255 / most;
  for (let i = 0, k = 0; i < out.length; i++, k += 3)
    out[i] = (0.2126 * data[k] + 0.7152 * data[k + 1] + 0.0722 * data[k + 2]) * by;
  return out;
}

/** The empty picture's luma as it lies in a frame, in that frame's light. */
export function behindFrame(
  empty: Float32Array,
  picture: Float32Array,
  { analysis: { poses, probe } }: MeasuredTake,
  frame: number,
): Float32Array {
  const { width, height } = probe;
  const pose = poses[frame];
  let out = empty;
  if (pose && greatestDisplacement(pose, IDENTITY, width, height) > LEAST_MOVE) {
    out = new Float32Array(empty.length);
    const inverse = invertSimilarity(pose);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const [u, v] = applySimilarity(inverse, x - width / 2, y - height / 2);
        const a = Math.max(0, Math.min(width - 1, Math.round(u + width / 2))),
          b = Math.max(0, Math.min(height - 1, Math.round(v + height / 2)));
        out[i] = empty[b * width + a];
      }
  }
  const ratios: number[] = [];
  for (let i = 0; i < out.length; i += 97) if (out[i] > 16) ratios.push(picture[i] / out[i]);
  const gain = ratios.length > 50 ? median(ratios) : 1;
  return Math.abs(gain - 1) < 0.002 ? out : out.map((v) => v * gain);
}

/** Calls `use` with some frames at full size, in rising order. */
export async function eachFull(
  { source }: MeasuredTake,
  frames: readonly number[],
  use: (picture: FullPicture, frame: number) => Promise<void> | void,
  signal?: AbortSignal,
): Promise<void> {
  if (frames.length === 0) return;
  let k = 0;
  for await (const picture of source.full(frames, signal)) {
    if (k < frames.length) await use(picture, frames[k++]);
  }
}

/** Who is where on the grid of a frame as it was shot, from who is where on the reference frame. */
export function laidOnFrame(
  kinds: Uint8Array,
  { width, height, factor }: { width: number; height: number; factor: number },
  { analysis: { poses } }: MeasuredTake,
  frame: number,
): Uint8Array {
  const pose = poses[frame];
  const out = kinds.slice();
  if (!pose || greatestDisplacement(pose, IDENTITY, width * factor, height * factor) < factor / 2) return out;
  const back = invertSimilarity(pose);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = applySimilarity(back, (x + 0.5 - width / 2) * factor, (y + 0.5 - height / 2) * factor);
      const a = Math.floor(u / factor + width / 2),
        b = Math.floor(v / factor + height / 2);
      out[i] = a < 0 || b < 0 || a >= width || b >= height ? 0 : kinds[b * width + a];
    }
  return out;
}

/** Grain of a picture against the empty one, levels: what most of it is off by. */
export function grainOf(picture: Float32Array, behind: Float32Array): number {
  const off: number[] = [];
  for (let i = 0; i < picture.length; i += 53) off.push(Math.abs(picture[i] - behind[i]));
  return Math.max(0.5, sigmaOf(off));
}
