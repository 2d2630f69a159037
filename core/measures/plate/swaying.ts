import { findRegions } from '../../base/image/regions';
import type { Figure } from '../../presence/figures';
import { BODY } from '../../presence/shade';
import type { Background } from '../../scene/background';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min } = Math;

/** Smaller than this share of the picture is glitter, or leaves. */
const LEAST_AREA = 0.008;
/** What moves in both pictures is looked for so many small pixels around. */
const AROUND = 2;
/** Leaves that move keep the brightness of a block so large; somebody in front of it does not. */
const BLOCK = 5;
/** A block is another thing when its mean differs by so many stops, beyond so many levels of grain. */
const OFF_STOPS = 0.14;
const OFF_LEVELS = 3;
/** Of a body so many of its blocks at least are other than what is behind it. */
const OTHER = 0.5;

export interface SwayingInput {
  background: Background;
  /** The other picture as it lies on the background, and where it moves by itself. */
  luma: Uint8Array;
  restless: Uint8Array;
  /** Stops by which it is brighter all over. */
  light: number;
  /** Stops of each code value. */
  stops: Float32Array;
}

/** Somebody who stands in one of two pictures from first to last, and in which. */
export interface Swaying {
  figure: Figure;
  where: 'take' | 'plate';
}

/**
 * Nobody stands quite still: where one of two pictures moves by itself and the other does not, and the one is brighter or
 * darker there than the other, somebody stands.
 */
export function swayingIn({ background, luma, restless, light, stops }: SwayingInput): Swaying[] {
  const { width, height } = background;
  const off = (i: number) => stops[luma[i]] - light - stops[max(0, min(255, Math.round(background.luma[i])))];
  return (['take', 'plate'] as const).flatMap((where) => {
    const [own, other] = where === 'take' ? [background.restless, restless] : [restless, background.restless];
    const alone = withoutNear(own, other, width, height);
    return findRegions(alone, width, height, LEAST_AREA * width * height).flatMap((region): Swaying[] => {
      const figure = filled(region, alone, width);
      if (!isOther(figure, off, luma, background)) return [];
      return [{ figure, where }];
    });
  });
}

/** 1 where one mask is and the other is not near. */
function withoutNear(mask: Uint8Array, other: Uint8Array, width: number, height: number): Uint8Array {
  const out = mask.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!other[y * width + x]) continue;
      for (let v = max(0, y - AROUND); v <= min(height - 1, y + AROUND); v++)
        out.fill(0, v * width + max(0, x - AROUND), v * width + min(width - 1, x + AROUND) + 1);
    }
  return out;
}

interface Bounds {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** A region as a figure: in each row from its first pixel to its last. */
function filled({ left, top, right, bottom }: Bounds, mask: Uint8Array, width: number): Figure {
  const rows: number[] = [];
  let body = 0;
  for (let y = top; y <= bottom; y++) {
    let from = left,
      to = right;
    while (from <= to && !mask[y * width + from]) from++;
    while (to >= from && !mask[y * width + to]) to--;
    if (from > to) continue;
    rows.push(y, from, to, BODY);
    body += to - from + 1;
  }
  const box = { left, top, right, bottom };
  return { ...box, body, shadow: 0, box, rows: Int16Array.from(rows) };
}

/** Whether much of a figure is brighter or darker than what the other picture shows there. */
function isOther(
  { rows }: Figure,
  off: (i: number) => number,
  luma: Uint8Array,
  { width, luma: own }: Background,
): boolean {
  const blocks = new Map<number, { stops: number; levels: number; n: number }>();
  for (let k = 0; k < rows.length; k += 4)
    for (let x = rows[k + 1]; x <= rows[k + 2]; x++) {
      const i = rows[k] * width + x;
      const key = floor(rows[k] / BLOCK) * width + floor(x / BLOCK);
      const block = blocks.get(key) ?? { stops: 0, levels: 0, n: 0 };
      block.stops += off(i);
      block.levels += luma[i] - own[i];
      block.n++;
      blocks.set(key, block);
    }
  const whole = [...blocks.values()].filter((b) => b.n >= (BLOCK * BLOCK) / 2);
  const others = whole.filter((b) => abs(b.stops / b.n) > OFF_STOPS && abs(b.levels / b.n) > OFF_LEVELS);
  return whole.length > 0 && others.length >= OTHER * whole.length;
}
