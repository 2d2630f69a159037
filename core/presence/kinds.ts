import { median } from '../base/numeric/quantile';
import type { Outline } from './fine-background';
import { BODY, NONE } from './shade';

/** Who is where in each frame of a take, on one grid, bodies and shadows told apart. */
export interface KindFrames {
  width: number;
  height: number;
  frames: readonly (readonly Outline[] | null)[];
  /** 1 where somebody stands from first to last, so that they are background to the take itself. */
  always: Uint8Array | null;
  /** Frames whose outlines hold those too; none when left out. */
  told?: ReadonlySet<number>;
}

/** Fewer pixels than these are nobody. */
const SPECK = 12;

/** Fills `out` with BODY, SHADOW or NONE for each pixel of a frame; gives how many are somebody's, or null where that is not known. */
export function kindsIn({ width, frames, always, told }: KindFrames, frame: number, out: Uint8Array): number | null {
  out.fill(NONE);
  const all = frames[frame];
  if (!all) return null;
  if (always && !told?.has(frame)) for (let i = 0; i < out.length; i++) if (always[i]) out[i] = BODY;
  for (const { rows } of all)
    for (let r = 0; r < rows.length; r += 4)
      out.fill(rows[r + 3], rows[r] * width + rows[r + 1], rows[r] * width + rows[r + 2] + 1);
  let n = 0;
  for (let i = 0; i < out.length; i++) if (out[i] !== NONE) n++;
  if (n >= SPECK) return n;
  out.fill(NONE);
  return 0;
}

/** 1 where a picture's kinds are this one. */
export function maskOf(kinds: Uint8Array, kind: number, out = new Uint8Array(kinds.length)): Uint8Array {
  for (let i = 0, n = kinds.length; i < n; i++) out[i] = kinds[i] === kind ? 1 : 0;
  return out;
}

/** So many frames to either side say what a frame's number should be. */
const AROUND = 2;

/** Numbers of frames without those of single frames that stand out: the median of five. Null stays. */
export function steadied(values: readonly (number | null)[]): (number | null)[] {
  return values.map((v, f) => {
    if (v === null) return null;
    const around = values.slice(Math.max(0, f - AROUND), f + AROUND + 1).filter((n) => n !== null);
    return median(around);
  });
}
