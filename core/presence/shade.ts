import type { PixelBox, Region } from '../base/image/regions';
import { onceForSize } from '../base/kernels/kernels';
import type { Background } from '../scene/background';
import { between, slopes } from '../scene/gauge';
import type { SteadyPicture } from '../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min, round } = Math;

export const NONE = 0;
export const BODY = 1;
export const SHADOW = 2;
const MAYBE = 3;
const UNLIKE = 4;
const LIT = 5;
const MAYBE_LIT = 6;

/** A cast shadow takes at least and at most this much light, in stops. */
const SLIGHTEST = 0.06;
const DEEPEST = 3.2;
const DEEPEST_FLAT = 1.8;
/** Textured pixels show the background's own texture when this share of it, at most, is left over. */
const SAME_TEXTURE = 0.45;
/** Energy this many times that of the noise counts as texture. */
const TEXTURED = 4;
/** Neighbouring pixels of one shadow differ by less than this, stops. */
const SMOOTH = 0.3;
/** From this code value on a picture is burnt out: light that falls there takes the texture with it. */
const BURNT = 248;
/** The squares that texture is compared in reach across a body's outline by so many pixels, where a shadow's own depth decides. */
const ACROSS = 2;
const SMOOTH_ACROSS = 0.2;
const FADING = 7;

/** Memory that is used again for the next picture: fresh memory costs more than the sums. */
const totalsFor = onceForSize((count) => ({
  left: new Float64Array(count),
  energy: new Float64Array(count),
  still: new Float64Array(count),
}));

/** Running totals over a part of a picture: of what differs in texture, of all texture, and of noise. */
interface Sums {
  x0: number;
  y0: number;
  w: number;
  h: number;
  left: Float64Array;
  energy: Float64Array;
  still: Float64Array;
}

/**
 * Tells the light that somebody takes away from the body itself.
 *
 * Under a shadow the background's own texture goes on, darker and in the same colour; a body brings a texture of its own
 * (as in Rosin & Ellis 1995 and Jacques et al. 2005). Where neither has texture, a shadow continues one that is sure.
 */
export class ShadeTest {
  private made: ReturnType<ShadeTest['makeTables']> | null = null;
  private sums: Sums | null = null;

  constructor(
    private readonly background: Background,
    private readonly stops: Float32Array,
  ) {}

  /**
   * Light of the background at each pixel and its steps to the right and down, stops; the energy of those steps and of
   * the noise in them. Worked out when somebody is first seen.
   */
  private get tables() {
    return (this.made ??= this.makeTables());
  }

  private makeTables() {
    const { luma, sigma, width, height } = this.background;
    const slope = slopes(this.stops);
    const levels = luma.map((v) => between(this.stops, v));
    const across = new Float32Array(luma.length),
      down = new Float32Array(luma.length),
      energy = new Float32Array(luma.length);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (x + 1 < width) across[i] = levels[i + 1] - levels[i];
        if (y + 1 < height) down[i] = levels[i + width] - levels[i];
        energy[i] = across[i] ** 2 + down[i] ** 2;
      }
    }
    const still = luma.map((v, i) => 4 * (sigma[i] ** 2 + 0.09) * slope[round(min(255, v))] ** 2);
    return { levels, across, down, energy, still };
  }

  /**
   * Sums over the picture that classifying needs: of the part in which the regions lie, once for all of them.
   * @param box holds every region that is classified next
   */
  prepare(box: PixelBox, picture: SteadyPicture): void {
    const { background, stops, tables } = this;
    const { width, height } = background;
    const x0 = max(0, box.left - 3),
      x1 = min(width - 1, box.right + 3);
    const y0 = max(0, box.top - 3),
      y1 = min(height - 1, box.bottom + 3);
    const w = x1 - x0 + 1,
      h = y1 - y0 + 1;
    // Sums over squares of five, by running totals.
    const { left, energy, still } = totalsFor((width + 1) * (height + 1));
    // Only the sums before the first row and column are not written below.
    for (const sums of [left, energy, still]) {
      sums.fill(0, 0, w + 1);
      for (let y = 0; y <= h; y++) sums[y * (w + 1)] = 0;
    }
    const { luma } = picture;
    const { across, down, energy: texture, still: noise } = tables;
    for (let y = 0; y < h; y++) {
      let a = 0,
        b = 0,
        c = 0;
      const isLast = y + y0 + 1 >= height;
      let i = (y + y0) * width + x0,
        o = (y + 1) * (w + 1) + 1;
      let own = stops[luma[i]];
      for (let x = x0; x <= x1; x++, i++, o++) {
        const next = x + 1 < width ? stops[luma[i + 1]] : own;
        const hx = next - own,
          hy = isLast ? 0 : stops[luma[i + width]] - own;
        const dx = hx - across[i],
          dy = hy - down[i];
        a += dx * dx + dy * dy;
        b += hx * hx + hy * hy + texture[i];
        c += noise[i];
        left[o] = left[o - w - 1] + a;
        energy[o] = energy[o - w - 1] + b;
        still[o] = still[o - w - 1] + c;
        own = next;
      }
    }
    this.sums = { x0, y0, w, h, left, energy, still };
  }

  /** Writes BODY, SHADOW or NONE (light added, not taken) into `kind` for each pixel of a region that was prepared for. */
  classify(region: Region, picture: SteadyPicture, light: number, kind: Uint8Array): void {
    const { background, stops, tables } = this;
    const { levels } = tables;
    const { width, colourWidth, colourHeight } = background;
    const { x0, y0, w, h, left, energy, still } = this.sums!;
    const square = (sums: Float64Array, x: number, y: number) => {
      const a = max(0, x - 2),
        b = min(w, x + 3),
        c = max(0, y - 2),
        d = min(h, y + 3);
      return sums[d * (w + 1) + b] - sums[c * (w + 1) + b] - sums[d * (w + 1) + a] + sums[c * (w + 1) + a];
    };
    const sure: number[] = [],
      lit: number[] = [];
    for (const i of region.pixels) {
      const x = i % width,
        y = (i - x) / width;
      const r = stops[picture.luma[i]] - light - levels[i];
      const c = min(colourHeight - 1, y >> 1) * colourWidth + min(colourWidth - 1, x >> 1);
      const gain = 2 ** ((light + r) / 2.1);
      const apart =
        abs(picture.blue[c] - 128 - (background.blue[c] - 128) * gain) +
        abs(picture.red[c] - 128 - (background.red[c] - 128) * gain);
      const sameColour = apart < 3 + 4 * background.colourNoise + 0.03 * background.luma[i];
      const total = square(energy, x - x0, y - y0);
      const textured = total > TEXTURED * square(still, x - x0, y - y0);
      const same = square(left, x - x0, y - y0) < SAME_TEXTURE * total;
      if (!sameColour || r < -DEEPEST || background.restless[i]) kind[i] = BODY;
      else if (r > SLIGHTEST) {
        kind[i] = textured && same ? LIT : textured && picture.luma[i] < BURNT ? BODY : MAYBE_LIT;
        if (kind[i] === LIT) lit.push(i);
      } else if (textured) {
        kind[i] = same ? SHADOW : UNLIKE;
        if (same) sure.push(i);
      } else if (r > -DEEPEST_FLAT) {
        kind[i] = MAYBE;
      } else kind[i] = BODY;
    }
    this.continueShadow(region, sure, picture, light, kind);
    this.continueLight(region, lit, picture, light, kind);
  }

  /** Light that goes on smoothly over pixels without texture is light; what does not is a body, unless nothing here is. */
  private continueLight(region: Region, lit: number[], picture: SteadyPicture, light: number, kind: Uint8Array): void {
    const { width, height } = this.background;
    const { levels } = this.tables;
    const gain = (i: number) => this.stops[picture.luma[i]] - light - levels[i];
    for (let k = 0; k < lit.length; k++) {
      const i = lit[k];
      const x = i % width;
      for (const o of [x > 0 ? i - 1 : i, x + 1 < width ? i + 1 : i, i - width, i + width])
        if (o >= 0 && o < width * height && kind[o] === MAYBE_LIT && abs(gain(o) - gain(i)) < SMOOTH) {
          kind[o] = LIT;
          lit.push(o);
        }
    }
    let bodies = 0,
      rest = 0;
    for (const i of region.pixels) {
      if (kind[i] === BODY) bodies++;
      if (kind[i] === MAYBE_LIT) rest++;
    }
    const onlyLight = rest > 0 && bodies < 0.1 * rest && this.softEdged(region, picture, light);
    for (const i of region.pixels) {
      if (kind[i] === LIT) kind[i] = NONE;
      else if (kind[i] === MAYBE_LIT) kind[i] = onlyLight ? NONE : BODY;
    }
  }

  /** Light taken by the shadow pixels of a region on the mean, stops. */
  meanDepth(region: Region, picture: SteadyPicture, light: number, kind: Uint8Array): number {
    const { levels } = this.tables;
    let sum = 0,
      n = 0;
    for (const i of region.pixels) {
      if (kind[i] !== SHADOW) continue;
      sum += levels[i] + light - this.stops[picture.luma[i]];
      n++;
    }
    return n ? sum / n : 0;
  }

  /** Pixels without texture join the shadow beside them when they are as dark; else they are body, unless nothing here is. */
  private continueShadow(
    region: Region,
    sure: number[],
    picture: SteadyPicture,
    light: number,
    kind: Uint8Array,
  ): void {
    const { width, height } = this.background;
    const { levels } = this.tables;
    const depth = (i: number) => this.stops[picture.luma[i]] - light - levels[i];
    const steps = sure.map(() => 0);
    for (let k = 0; k < sure.length; k++) {
      const i = sure[k];
      const x = i % width,
        y = (i - x) / width;
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        const u = x + dx,
          v = y + dy,
          o = v * width + u;
        if (u < 0 || v < 0 || u >= width || v >= height || (kind[o] !== MAYBE && kind[o] !== UNLIKE)) continue;
        const far = kind[o] === UNLIKE ? steps[k] + 1 : 0;
        const change = depth(o) - depth(i);
        // Towards its rim a shadow fades; a body beside it does not take just less light in the same colour.
        if (
          far
            ? far > (change > 0 ? FADING : ACROSS) || change < -SMOOTH_ACROSS || depth(o) > 0.03
            : abs(change) > SMOOTH
        )
          continue;
        kind[o] = SHADOW;
        sure.push(o);
        steps.push(far);
      }
    }
    let bodies = 0,
      rest = 0;
    for (const i of region.pixels) {
      if (kind[i] === UNLIKE) kind[i] = BODY;
      if (kind[i] === BODY) bodies++;
      if (kind[i] === MAYBE) rest++;
    }
    const onlyShade = bodies < 0.1 * rest && this.softEdged(region, picture, light);
    for (const i of region.pixels) if (kind[i] === MAYBE) kind[i] = onlyShade ? SHADOW : BODY;
  }

  /** Whether a region fades out at its border, as a shadow's rim does, rather than ending in a step. */
  private softEdged(region: Region, picture: SteadyPicture, light: number): boolean {
    const { width } = this.background;
    const { levels } = this.tables;
    let sum = 0,
      n = 0,
      deep = 0;
    for (const i of region.pixels) {
      const x = i % width;
      const r = this.stops[picture.luma[i]] - light - levels[i];
      deep = max(deep, abs(r));
      if (x > 0 && x + 1 < width) {
        sum = max(
          sum,
          abs(this.stops[picture.luma[i + 1]] - levels[i + 1] - this.stops[picture.luma[i - 1]] + levels[i - 1]),
        );
        n++;
      }
    }
    return n > 0 && sum < 0.6 * max(0.3, deep);
  }
}
