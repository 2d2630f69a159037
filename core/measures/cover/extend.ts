import { median } from '../../base/numeric/quantile';
import { edgesOf, type Way } from './edges';
import { shareOf } from '../../base/image/mask';

const { abs, round } = Math;

/** An object is followed beyond where it was found for so many frames at most. */
const FRAMES = 5;
/** What is left of it in the picture is nothing below this share. */
const NOTHING = 0.002;

/**
 * In a pan, what comes in at the edge was never seen before, background or not, and an object is found some frames
 * late (and at the other end lost some frames early). There its mask is moved on in proportion to the camera's
 * movement. Masks are changed in place.
 * @param from the frame in which it is found first (or last, going backwards through the take)
 * @param along where the background lies along the way in each frame, small pixels
 * @param by -1 to go on towards earlier frames, 1 towards later ones
 */
export function extendMasks(
  masks: Uint8Array[],
  from: number,
  by: 1 | -1,
  way: Way,
  leading: boolean,
  along: readonly number[],
  width: number,
  height: number,
): void {
  const ratios: number[] = [];
  const at = (f: number) => {
    const edges = masks[f] ? edgesOf(masks[f], width, height, way) : null;
    return edges && (leading ? edges.lead : edges.trail);
  };
  for (let k = 2; k < 7; k++) {
    const a = at(from - by * k),
      b = at(from - by * (k + 1));
    const camera = along[from - by * k] - along[from - by * (k + 1)];
    if (a !== null && b !== null && abs(camera) > 0.3) ratios.push((a - b) / camera);
  }
  if (ratios.length < 2) return;
  // The nearer the object, the faster its edge beside the background.
  const ratio = median(ratios);
  // The first mask found may be half of the object: the one inside it is moved on from.
  const base = masks[from - by];
  if (!base) return;
  const vertical = way === 90 || way === 270;
  for (let k = 1; k <= FRAMES + 1; k++) {
    const f = from - by + by * k;
    if (f < 0 || f >= masks.length) return;
    const shift = round(ratio * (along[f] - along[from - by]));
    const out = new Uint8Array(base.length);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        // What lay outside the picture on the object's side is object.
        const u = vertical ? x : Math.max(0, Math.min(width - 1, x - shift)),
          v = vertical ? Math.max(0, Math.min(height - 1, y - shift)) : y;
        out[i] = base[v * width + u];
      }
    }
    const share = shareOf(out);
    if (k === 1 && share < shareOf(masks[f])) continue;
    if (share < NOTHING) return;
    masks[f] = out;
  }
}
