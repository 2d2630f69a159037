import { invertSimilarity, greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { stopsTable, type Transfer } from '../../base/image/transfer';
import { median } from '../../base/numeric/quantile';
import type { FineLuma, FineFrames } from '../../presence/fine-background';
import { kindsIn, type KindFrames } from '../../presence/kinds';
import { BODY, NONE, SHADOW } from '../../presence/shade';
import { relight } from '../../scene/gauge';
import { layPlane } from '../../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { hypot, max, min, round, sqrt } = Math;

export interface MatteInput {
  frames: Pick<FineFrames, 'read'>;
  who: KindFrames;
  behind: FineLuma;
  curve: Transfer;
  /** Stops of each frame over the background. */
  light: readonly (number | null)[];
  /** Where each frame lies, source pixels; and source pixels for one fine pixel. */
  poses: readonly (Similarity | null)[];
  factor: number;
  /** Whether shadows are in it. */
  shadow: boolean;
}

/** Shadows are in the matte by this share of their darkness. */
const SHADE_SHARE = 0.5;
/** A picture moved by less than this, fine pixels, is taken as it is. */
const LEAST_MOVE = 0.25;
/** An edge that is told from what lies behind by fewer standard deviations than this is unsure. */
const TOLD = 4;
/** A frame is unsure of whose edge this share is. */
const UNSURE_SHARE = 0.3;
/** Depth of a shadow is the mean over so many pixels to either side. */
const AROUND = 2;
/** Edges are told by squares of three pixels: to so much of one at best; and they rise over so many. */
const WITHIN_SQUARE = 0.7;
const RISE = 1.5;

/** The rough matte of a take, frame by frame, as finely as figures are outlined. */
export class Matte {
  private readonly stops: Float32Array;
  private readonly kinds: Uint8Array;
  private readonly laid: Uint8Array;
  private readonly errors: number[] = [];
  /** Whether each frame asked for so far is unsure. */
  readonly unsure: boolean[] = [];

  constructor(private readonly input: MatteInput) {
    this.stops = stopsTable(input.curve);
    this.kinds = new Uint8Array(input.who.width * input.who.height);
    this.laid = new Uint8Array(this.kinds.length);
  }

  /** Fills `out` with how much of each pixel is somebody's, 0 to 255, as it lies in the frame itself. Frames in order. */
  frame(f: number, out: Uint8Array): void {
    const { input, kinds, laid } = this;
    out.fill(0);
    const n = kindsIn(input.who, f, kinds);
    const pose = input.poses[f];
    const picture = n && input.light[f] !== null ? input.frames.read(f) : null;
    this.unsure.push(n === null || (n > 0 && (!picture || !pose)));
    if (!n) return;
    for (let i = 0; i < kinds.length; i++) laid[i] = kinds[i] === BODY ? 255 : 0;
    if (picture) {
      const difference = this.differenceOf(picture, input.light[f]!);
      if (input.shadow) this.addShadow(difference);
      this.lookAtEdge(difference, f);
    }
    this.layBack(pose, out);
  }

  /** How far the picture differs from the empty one, levels, in the reference's light. */
  private differenceOf(picture: Uint8Array, light: number): Float32Array {
    const table = relight(this.stops, -light);
    return this.input.behind.luma.map((v, i) => table[picture[i]] - v);
  }

  private addShadow(difference: Float32Array): void {
    const { kinds, laid, stops, input } = this;
    const { width, height } = input.who;
    const at = (level: number) => stops[max(0, min(255, round(level)))];
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (kinds[i] !== SHADOW) continue;
        let sum = 0,
          was = 0,
          n = 0;
        for (let v = max(0, y - AROUND); v <= min(height - 1, y + AROUND); v++)
          for (let u = max(0, x - AROUND); u <= min(width - 1, x + AROUND); u++) {
            const o = v * width + u;
            if (kinds[o] !== SHADOW) continue;
            sum += difference[o];
            was += input.behind.luma[o];
            n++;
          }
        const left = 2 ** min(0, at((was + sum) / n) - at(was / n));
        laid[i] = round(255 * SHADE_SHARE * (1 - left));
      }
  }

  /** How well bodies' edges are told from what lies behind them. */
  private lookAtEdge(difference: Float32Array, f: number): void {
    const { kinds, input } = this;
    const { width, height } = input.who;
    const { sigma } = input.behind;
    let edge = 0,
      poor = 0;
    const errors: number[] = [];
    for (let y = 2; y < height - 2; y++)
      for (let x = 2; x < width - 2; x++) {
        const i = y * width + x;
        if (kinds[i] !== BODY) continue;
        const rim =
          kinds[i - 1] === NONE || kinds[i + 1] === NONE || kinds[i - width] === NONE || kinds[i + width] === NONE;
        if (!rim) continue;
        edge++;
        let squares = 0,
          n = 0;
        for (let v = -2; v <= 2; v++)
          for (let u = -2; u <= 2; u++) {
            const o = i + v * width + u;
            if (kinds[o] !== BODY) continue;
            squares += difference[o] ** 2 - sigma[o] ** 2;
            n++;
          }
        // Of the mean of nine, as edges are told by.
        const told = sqrt(max(0, squares / n)) / max(0.3, sigma[i] / 3);
        if (told < TOLD) poor++;
        errors.push(hypot(WITHIN_SQUARE, RISE / max(1, told)));
      }
    if (edge === 0) return;
    this.errors.push(median(errors));
    if (poor > UNSURE_SHARE * edge) this.unsure[f] = true;
  }

  private layBack(pose: Similarity | null | undefined, out: Uint8Array): void {
    const { laid, input } = this;
    const { width, height } = input.who;
    const still =
      !pose ||
      greatestDisplacement(pose, IDENTITY, width * input.factor, height * input.factor) / input.factor < LEAST_MOVE;
    if (still) out.set(laid);
    else layPlane({ width, height, data: laid }, invertSimilarity(pose), 1 / input.factor, out, null);
  }

  /** How far its edges lie from the true ones, source pixels; null where there were none. */
  get edgeError(): number | null {
    return this.errors.length ? median(this.errors) * this.input.factor : null;
  }
}
