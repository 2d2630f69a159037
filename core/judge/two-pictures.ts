import { greatestDisplacement, IDENTITY } from '../base/geometry/similarity';
import type { PairFound } from '../report/pair-types';
import type { Reason, Run, VerdictWord } from '../report/types';
import { LIMITS } from './limits';

export interface Size {
  width: number;
  height: number;
}

/** What two pictures of one place are judged with. */
export interface PairJudgedWith {
  /** The pictures' size, source pixels, and what the edit is finished at. */
  size: Size;
  delivery: Size;
}

/** One thing that is said, with its word. */
export interface Found {
  word: VerdictWord;
  reason: Reason;
}

/** What the two are called, and what to do about the second: "The second pass", "the first". */
export interface TwoNames {
  other: string;
  one: string;
  again: string;
}

export const LOOK = 'Look at both by eye, mixed half and half.';
export const many = (n: number) => `${n} ${n === 1 ? 'frame' : 'frames'}`;
export const lengthOf = (runs: readonly Run[]) => runs.reduce((n, r) => n + r.end - r.start + 1, 0);
export const said = (word: VerdictWord, code: string, text: string, more: Partial<Reason> = {}): Found => ({
  word,
  reason: { code, text, frames: [], value: null, limit: null, fix: null, ...more },
});

/** Whether two pictures of one place lie on each other. */
export function placeOf(
  { offset }: Pick<PairFound, 'offset'>,
  { size, delivery }: PairJudgedWith,
  { other, one, again }: TwoNames,
): Found[] {
  if (!offset)
    return [
      said('unjudged', 'no-match', 'The two could not be laid on each other: they show too little in common.', {
        fix: LOOK,
      }),
    ];
  const { dx_px: dx, dy_px: dy, rotation_deg: turn, scale } = offset;
  const lies = { dx, dy, rotation: (turn * Math.PI) / 180, scale };
  const off = greatestDisplacement(lies, IDENTITY, size.width, size.height);
  const limit = LIMITS.plate.offset_px;
  if (Math.max(0, off - 3 * offset.uncertainty_px) * (delivery.width / size.width) <= limit) return [];
  const word = (200 * off) / size.width > LIMITS.lock.crop_pct ? 'reshoot' : 'workable';
  return [
    said(word, 'offset', `${other} lies ${off.toFixed(1)} px off ${one}: the camera was moved between them.`, {
      value: off,
      limit,
      fix: `Put the camera back and roll ${again} again; or lay one on the other by that much.`,
    }),
  ];
}

/** Whether their light is the same. */
export function lightOf({ light }: Pick<PairFound, 'light'>, { other, one, again }: TwoNames): Found[] {
  const gap = light?.gap_stops ?? 0,
    limit = LIMITS.pair.light_stops;
  if (Math.abs(gap) <= limit) return [];
  const text = `${other} is ${Math.abs(gap).toFixed(2)} stop ${gap > 0 ? 'brighter' : 'darker'} than ${one}.`;
  return [
    said(Math.abs(gap) > LIMITS.light.grade_stops ? 'reshoot' : 'workable', 'light', text, {
      value: gap,
      limit,
      fix: `Roll ${again} again in the light of ${one}; or grade one to the other before they are joined.`,
    }),
  ];
}
