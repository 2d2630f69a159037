import { boxMean } from '../base/image/regions';
import type { Background } from '../scene/background';

/** Passes of box filters, radius and number: near enough to what a lens does at the size of a few small pixels. */
const BLURS: [radius: number, passes: number][] = [
  [1, 1],
  [1, 2],
  [2, 2],
  [3, 2],
  [4, 2],
];
/** A difference larger than this, levels, is somebody's and says nothing of the blur. */
const CAP = 12;

/** The background as it looks through a lens out of focus, in several steps made when first asked for. */
export class DefocusedBackground {
  private steps: Float32Array[] | null = null;

  constructor(private readonly background: Background) {}

  /**
   * The step that is nearest to a picture.
   * @param table what each code value of the picture is in the background's light
   */
  nearest(luma: Uint8Array, table: Float32Array): Float32Array {
    this.steps ??= [this.background.luma, ...BLURS.map(([radius, passes]) => blurred(this.background, radius, passes))];
    let best = this.steps[0],
      least = Infinity;
    for (const step of this.steps) {
      const off = distance(luma, table, step);
      if (off < least) {
        least = off;
        best = step;
      }
    }
    return best;
  }
}

function blurred({ luma, width, height }: Background, radius: number, passes: number): Float32Array {
  let out = luma;
  for (let n = 0; n < passes; n++) out = boxMean(out, width, height, radius, new Float32Array(luma.length));
  return out;
}

function distance(luma: Uint8Array, table: Float32Array, expected: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < luma.length; i += 3) {
    const d = table[luma[i]] - expected[i];
    sum += d > CAP || d < -CAP ? CAP * CAP : d * d;
  }
  return sum;
}
