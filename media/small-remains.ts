import { greatestDisplacement, IDENTITY } from '../core/geometry/similarity';
import { findRegions } from '../core/image/regions';
import { placed } from '../core/moments/track';
import { Unlike } from '../core/moments/unlike';
import { laidOnFirst } from '../core/pair/even';
import { kindsIn } from '../core/presence/kinds';
import { runsOf } from '../core/presence/measure';
import { BODY } from '../core/presence/shade';
import type { Box, Run } from '../core/report/types';
import { emptyColour } from './empty-colour';
import { colourPictures } from './frames';
import type { AgainstFile } from './lay-on';
import type { TakeFile } from './plate';
import { enlarged, type WhoIsIn } from './who-is-in';

/** Pictures are looked at so many times as finely as outlines are. */
const FINER = 2;
/** Fewer of these pixels, side by side, are nothing of anybody. */
const LEAST = 36;
/** Pictures moved by less than this, pixels, are taken as they are. */
const MOVES = 0.4;
/** It shows for so many frames at least; for more where each picture had to be laid on the others. */
const LASTS = 2;
const LASTS_LAID = 6;
/** What is left of somebody lies no further than this share of the width from where they were last seen, or are seen next. */
const NEAR = 0.15;
/** More than this share of the picture is no remainder: the light, or the camera. */
const MOST_SHARE = 0.02;
/** So many frames are looked at after they are gone, and so many before they come. */
const MOST = 600;
const BEFORE = 8;

/**
 * A hand or a foot that shows beside what somebody went behind is too small for outlines: in the frames in which nothing
 * of them was outlined it is told by the empty picture, in colour, close to where they were last seen.
 * @throws UnusableMedia when a file cannot be used
 */
export async function withRemains(
  who: WhoIsIn,
  take: TakeFile,
  plate: AgainstFile | null,
  signal?: AbortSignal,
): Promise<WhoIsIn> {
  const { width: w, height: h } = who;
  const kinds = new Uint8Array(w * h);
  const shown = who.frames.map((_, f) => kindsIn(who, f, kinds));
  const first = shown.findIndex((n) => n !== null && n > 0);
  const gone = runsOf(shown.map((n, f) => first >= 0 && f > first && n === 0));
  if (!plate || gone.length === 0) return who;
  const [width, height] = [FINER * w, FINER * h];
  const empty = await emptyColour(take, plate.path, { width, height, laid: who.laid }, signal);
  if (!empty) return who;
  const unlike = new Unlike(empty.rgb, width, height, empty.grain);
  const small = take.analysis.scene?.background;
  const stirs = small && enlarged(small.restless, small, { width, height });
  const mask = new Uint8Array(width * height),
    laid = new Uint8Array(3 * mask.length);
  const { poses, probe } = take.analysis;
  const scale = width / probe.width;
  const moves = (f: number) =>
    !!poses[f] && greatestDisplacement(poses[f], IDENTITY, probe.width, probe.height) * scale > MOVES;
  const handheld = poses.filter((_, f) => moves(f)).length > poses.length / 4;
  const look = async ({ start: from, end: to }: Run, use: (frame: number) => void) => {
    let f = from;
    for await (const rgb of colourPictures(take.path, probe, { width, height, from, to }, signal)) {
      const pose = poses[f];
      if (pose) {
        unlike.mask(moves(f) ? laidOnFirst(rgb, { width, height }, pose, scale, laid) : rgb, mask);
        use(f);
      }
      f++;
    }
  };
  // What differs before anybody came is not theirs.
  const other = new Uint8Array(mask.length);
  const clear = { start: Math.max(0, first - 1 - BEFORE), end: first - 2 };
  if (clear.end >= clear.start)
    await look(clear, () => {
      for (let i = 0; i < mask.length; i++) other[i] += mask[i];
    });
  const frames = [...who.frames];
  for (const run of gone) {
    const windows = [run.start - 1, run.end + 1].flatMap((f) => seenIn(who, f, kinds) ?? []);
    if (windows.length === 0) continue;
    const found = new Map<number, Int16Array>();
    await look({ start: run.start, end: Math.min(run.end, run.start + MOST - 1) }, (f) => {
      for (let i = 0; i < mask.length; i++) if (other[i] > BEFORE / 2 || stirs?.[i]) mask[i] = 0;
      const rows = remainsIn(mask, width, height, windows);
      if (rows.length) found.set(f, rows);
    });
    // What shows in a single frame is coding; where pictures are laid on each other, edges differ for a few.
    for (const { start, end } of runsOf(frames.map((_, f) => found.has(f))))
      if (end - start + 1 >= (handheld ? LASTS_LAID : LASTS))
        for (let f = start; f <= end; f++) frames[f] = [{ rows: found.get(f)! }];
  }
  return { ...who, frames };
}

/** Around whoever was in a frame, pixels of the outlines. */
function seenIn(who: WhoIsIn, frame: number, kinds: Uint8Array): Box | null {
  if (frame >= who.frames.length || !kindsIn(who, frame, kinds)) return null;
  const box = placed(kinds, who.width, who.height, 1)?.box;
  const by = NEAR * who.width;
  return box ? { x: box.x - by, y: box.y - by, width: box.width + 2 * by, height: box.height + 2 * by } : null;
}

/** Rows of y, first x, last x and kind, of the outlines' grid, of every part that is large enough; a pixel wider all round. */
function remainsIn(mask: Uint8Array, width: number, height: number, windows: readonly Box[]): Int16Array {
  const rows: number[] = [];
  for (const { left, right, top, bottom, pixels } of findRegions(mask, width, height, LEAST)) {
    const [l, r, t, b] = [left, right, top, bottom].map((v) => v / FINER);
    const near = windows.some((o) => r >= o.x && l <= o.x + o.width && b >= o.y && t <= o.y + o.height);
    if (!near || pixels.length > MOST_SHARE * width * height) continue;
    const spans = new Map<number, [number, number]>();
    for (const i of pixels) {
      const [u, v] = [Math.floor((i % width) / FINER), Math.floor(Math.floor(i / width) / FINER)];
      for (let k = v - 1; k <= v + 1; k++) {
        const own = spans.get(k);
        spans.set(k, own ? [Math.min(own[0], u - 1), Math.max(own[1], u + 1)] : [u - 1, u + 1]);
      }
    }
    for (const [k, [from, to]] of spans)
      if (k >= 0 && k < height / FINER) rows.push(k, Math.max(0, from), Math.min(width / FINER - 1, to), BODY);
  }
  return Int16Array.from(rows);
}
