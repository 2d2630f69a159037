import { findRegions, type PixelBox } from '../base/image/regions';
import type { Transfer } from '../base/image/transfer';
import type { Background } from '../scene/background';
import { fineBackground, markNear, type FineFrames, type Outline } from './fine-background';
import type { Figure } from './figures';
import { HINT, Labeller } from './labels';
import { BODY, NONE, SHADOW } from './shade';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min } = Math;

export interface FineInput {
  frames: FineFrames;
  /** What was found in small pixels. */
  figures: readonly (readonly Figure[] | null)[];
  /** Stops of each frame over the background. */
  light: readonly (number | null)[];
  background: Background;
  curve: Transfer;
}

/** An outline is looked for so many small pixels to both sides of where the small pictures show somebody, or a shadow's end. */
const REACH = 6;
/** Colours of whoever is in are learned from so many frames, so many times over. */
const LEARNED_FROM = 10;
const LEARNED = 2;
/** Fewer fine pixels by themselves are nobody: half a square of coding; where somebody was the frame before, or will be, they are. */
const SPECK = 32;
const REST = 10;

/** Outlines of whoever is in, told again twice as finely, in colour. Null where nothing is known. */
export function fineOutlines({ frames, figures, light, background, curve }: FineInput): (Outline[] | null)[] {
  if (!figures.some((f) => f?.length)) return figures.map((f) => f && []);
  const behind = fineBackground(frames, figures, light, background, curve);
  const finder = new OutlineFinder(frames, background, new Labeller(behind, frames.width, frames.height, curve));
  const busy = figures.flatMap((all, f) => (all?.length && light[f] !== null ? [f] : []));
  const some = busy.filter(
    (_, k) => floor((k * LEARNED_FROM) / busy.length) !== floor(((k - 1) * LEARNED_FROM) / busy.length),
  );
  for (let round = 0; round < LEARNED; round++) {
    for (const f of some) finder.collect(f, light[f]!, figures[f]!);
    finder.labeller.learn();
  }
  const out = figures.map((all, f): Outline[] | null => {
    if (!all || all.length === 0) return all && [];
    const rows = light[f] === null ? null : finder.find(f, light[f], all);
    if (!rows) return all.map((a) => ({ rows: enlarged(a.rows, frames) }));
    return rows.length ? [{ rows }] : [];
  });
  // What small pictures do not see of whoever was there a frame ago, or will be: a hand beside what they went behind.
  const order = figures.map((_, f) => f);
  for (const [way, list] of [
    [-1, order],
    [1, [...order].reverse()],
  ] as const)
    for (const f of list) {
      const beside = out[f + way];
      if (!out[f] || out[f].length || !beside?.length || light[f] === null) continue;
      const rows = finder.rest(f, light[f], beside);
      if (rows?.length) out[f] = [{ rows }];
    }
  return out;
}

/** Rows of small pixels as rows of fine ones, where no more is known. */
function enlarged(rows: ArrayLike<number>, { ratio, width, height }: FineFrames): Int16Array {
  const out: number[] = [];
  for (let k = 0; k < rows.length; k += 4)
    for (let y = ceil(rows[k] * ratio); y < min(height, (rows[k] + 1) * ratio); y++)
      out.push(
        y,
        min(width - 1, floor(rows[k + 1] * ratio)),
        min(width, ceil((rows[k + 2] + 1) * ratio)) - 1,
        rows[k + 3],
      );
  return Int16Array.from(out);
}

class OutlineFinder {
  private readonly near: Uint8Array;
  /** The small pixel's column of each fine one. */
  private readonly columnOf: Int32Array;

  constructor(
    private readonly frames: FineFrames,
    private readonly small: { width: number; height: number },
    readonly labeller: Labeller,
  ) {
    this.near = new Uint8Array(small.width * small.height);
    this.columnOf = Int32Array.from({ length: frames.width }, (_, x) =>
      min(small.width - 1, floor((x + 0.5) / frames.ratio)),
    );
  }

  /** Rows of whoever is in a frame; null where its place is not known. */
  find(frame: number, light: number, figures: readonly Outline[]): Int16Array | null {
    return this.labelled(frame, light, this.mark(figures, true), SPECK);
  }

  /** Rows of what is left of whoever is in a frame beside it (fine pixels); null where its place is not known. */
  rest(frame: number, light: number, beside: readonly Outline[]): Int16Array | null {
    const { ratio } = this.frames;
    const small = beside.map(({ rows }) => ({
      rows: Int16Array.from(rows, (v, k) => (k % 4 === 3 ? v : floor(v / ratio))),
    }));
    return this.labelled(frame, light, this.mark(small, false), REST);
  }

  /** Takes in the colours of whoever is in a frame. */
  collect(frame: number, light: number, figures: readonly Outline[]): void {
    if (this.labelled(frame, light, this.mark(figures, true), SPECK)) this.labeller.collect();
  }

  private labelled(frame: number, light: number, part: PixelBox, least: number): Int16Array | null {
    const picture = this.frames.look(frame, part);
    return picture && this.rowsOf(this.labeller.label(picture, light, part), part, least);
  }

  /** Marks what is looked at, and what the small pictures said of it; gives the part of the fine picture that holds it. */
  private mark(figures: readonly Outline[], hinted: boolean): PixelBox {
    const { frames, small, near, columnOf } = this;
    const { ratio, width, height } = frames;
    const { inside } = this.labeller;
    markNear(figures, small.width, small.height, REACH, near);
    const box = { left: small.width, top: small.height, right: -1, bottom: -1 };
    for (const { rows } of figures)
      for (let k = 0; k < rows.length; k += 4) {
        const at = rows[k] * small.width;
        if (hinted) near.fill(HINT + rows[k + 3], at + rows[k + 1], at + rows[k + 2] + 1);
        box.left = min(box.left, rows[k + 1] - REACH);
        box.right = max(box.right, rows[k + 2] + REACH);
        box.top = min(box.top, rows[k] - REACH);
        box.bottom = max(box.bottom, rows[k] + REACH);
      }
    const part = {
      left: max(0, floor(box.left * ratio)),
      top: max(0, floor(box.top * ratio)),
      right: min(width, ceil((box.right + 1) * ratio)) - 1,
      bottom: min(height, ceil((box.bottom + 1) * ratio)) - 1,
    };
    for (let y = part.top; y <= part.bottom; y++) {
      const row = min(small.height - 1, floor((y + 0.5) / ratio)) * small.width;
      for (let x = part.left, i = y * width + x; x <= part.right; x++, i++) inside[i] = near[row + columnOf[x]];
    }
    return part;
  }

  /** The rows of what was labelled, specks of fewer pixels left out. */
  private rowsOf(kinds: Uint8Array, { left, top, right, bottom }: PixelBox, least: number): Int16Array {
    const { width } = this.frames;
    const { over } = this.labeller;
    const w = right - left + 1,
      h = bottom - top + 1;
    const mask = new Uint8Array(w * h),
      kept = new Uint8Array(w * h);
    const placed = (i: number) => (floor(i / w) + top) * width + (i % w) + left;
    const fill = (holds: (kind: number) => boolean) => {
      for (let y = 0, o = 0; y < h; y++)
        for (let x = 0, i = (y + top) * width + left; x < w; x++, i++, o++) mask[o] = holds(kinds[i]) ? 1 : 0;
    };
    // A speck of somebody amid their shadow is shadow, and one by itself nothing.
    fill((kind) => kind === BODY);
    for (const region of findRegions(mask, w, h, 1, least - 1))
      for (const i of region.pixels) kinds[placed(i)] = over[placed(i)] < 0 ? SHADOW : NONE;
    fill((kind) => kind !== NONE);
    for (const region of findRegions(mask, w, h, least)) for (const i of region.pixels) kept[i] = 1;
    const rows: number[] = [];
    for (let y = 0; y < h; y++) {
      let now = NONE,
        start = 0;
      for (let x = 0; x <= w; x++) {
        const k = x < w && kept[y * w + x] ? kinds[(y + top) * width + x + left] : NONE;
        if (k === now) continue;
        if (now !== NONE) rows.push(y + top, start + left, x - 1 + left, now);
        start = x;
        now = k;
      }
    }
    return Int16Array.from(rows);
  }
}
