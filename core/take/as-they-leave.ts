import type { PictureSource } from './source';
import type { MeasuredTake } from './measured-take';
import { Unlike } from '../base/image/unlike';
import type { Outline } from '../presence/fine-background';
import type { KindFrames } from '../presence/kinds';
import { BODY, NONE } from '../presence/shade';
import { emptyColour, type Laid } from './empty-colour';

/** Whoever stood there from the first frame has moved where so much of their place looks otherwise. */
const MOVED = 0.12;

/**
 * Who is in, in the frames in which somebody leaves the place where they stood until then: the take's own empty picture
 * shows them there, so what they uncover is told from them by the plate.
 */
export async function asTheyLeave<Who extends KindFrames & Laid>(
  who: Who,
  take: MeasuredTake,
  from: PictureSource,
  signal?: AbortSignal,
): Promise<Who> {
  const { width, height, always } = who;
  if (!always) return who;
  const area = always.reduce((n, v) => n + v, 0);
  const kinds = new Uint8Array(always.length);
  const drawn = (outlines: readonly Outline[]) => {
    kinds.fill(NONE);
    for (const { rows } of outlines)
      for (let r = 0; r < rows.length; r += 4)
        kinds.fill(rows[r + 3], rows[r] * width + rows[r + 1], rows[r] * width + rows[r + 2] + 1);
  };
  const moved = who.frames.flatMap((outlines, f) => {
    if (!outlines) return [];
    drawn(outlines);
    let n = 0;
    for (let i = 0; i < kinds.length; i++) if (always[i] && kinds[i] !== NONE) n++;
    return n > MOVED * area ? [f] : [];
  });
  const empty = moved.length ? await emptyColour(take, from, who, signal) : null;
  if (!empty) return who;
  const unlike = new Unlike(empty.rgb, width, height, empty.grain);
  const there = new Uint8Array(kinds.length);
  const frames = [...who.frames];
  const wanted = new Set(moved);
  const [first, last] = [moved[0], moved[moved.length - 1]];
  let f = first;
  for await (const rgb of take.source.colour({ width, height, from: first, to: last }, signal)) {
    if (wanted.has(f)) {
      unlike.mask(rgb, there);
      drawn(who.frames[f]!);
      for (let i = 0; i < kinds.length; i++)
        if (always[i]) kinds[i] = there[i] ? BODY : NONE;
        // What they left is seen through a rim of what is coded beside it.
        else if (kinds[i] === BODY && !there[i]) kinds[i] = NONE;
      frames[f] = [{ rows: rowsOf(kinds, width) }];
    }
    f++;
  }
  return { ...who, frames, told: new Set(moved) };
}

/** A mask of kinds as rows of y, first x, last x and kind. */
function rowsOf(kinds: Uint8Array, width: number): number[] {
  const rows: number[] = [];
  for (let i = 0; i < kinds.length; i++) {
    if (kinds[i] === NONE) continue;
    const [start, x] = [i, i % width];
    while (i + 1 < kinds.length && (i + 1) % width !== 0 && kinds[i + 1] === kinds[start]) i++;
    rows.push((start - x) / width, x, i % width, kinds[start]);
  }
  return rows;
}
