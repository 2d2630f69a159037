import type { SmallPicture, SmallSize } from '../../base/image/picture';
import { boxMean } from '../../base/image/regions';
import type { View } from '../../base/image/panorama';

const { max, min } = Math;

/** The object's look is taken from its pixels within this reach of a place, small pixels, when they are this share of those. */
const REACH = 12;
const ENOUGH = 0.04;
/** Mean square of the difference that object and background would show, each against its noise, below which they are not told apart. */
const APART = 5;
const COLOUR_NOISE = 2.8;

/**
 * Share of the open pixels in which the object, by its look nearby, would not differ from what lies behind: there
 * nothing tells whether it covers. 0 when nothing is open.
 * @param covered 1 where the object is seen. @param view what lies behind, as this frame would show it
 */
export function alikeShare(
  { luma, blue, red }: SmallPicture,
  covered: Uint8Array,
  view: View,
  gain: number,
  noise: number,
  { width, height, colourWidth, colourHeight }: SmallSize,
): number {
  const pixels = width * height;
  const colourAt = (i: number) =>
    min(colourHeight - 1, ((i / width) | 0) >> 1) * colourWidth + min(colourWidth - 1, (i % width) >> 1);
  const near = (of: (i: number) => number) =>
    boxMean(
      Float32Array.from({ length: pixels }, (_, i) => (covered[i] ? of(i) : 0)),
      width,
      height,
      REACH,
      new Float32Array(pixels),
    );
  const share = near(() => 1),
    mean = near((i) => luma[i]),
    square = near((i) => luma[i] ** 2),
    meanBlue = near((i) => blue[colourAt(i)]),
    meanRed = near((i) => red[colourAt(i)]);
  let open = 0,
    alike = 0;
  for (let i = 0; i < pixels; i++) {
    if (covered[i] || !view.known[i]) continue;
    open++;
    if (share[i] < ENOUGH) continue;
    const own = mean[i] / share[i],
      spread = max(0, square[i] / share[i] - own * own);
    const behind = gain * view.luma[i];
    const tint = Math.abs(meanBlue[i] / share[i] - view.blue[i]) + Math.abs(meanRed[i] / share[i] - view.red[i]);
    if (((own - behind) ** 2 + spread) / (noise * noise) + (tint / COLOUR_NOISE) ** 2 < APART) alike++;
  }
  return open ? alike / open : 0;
}
