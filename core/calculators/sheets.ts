import { PAN_PAST, WALK_IN } from './approach';
import { COVER } from './cover';
import { DOUBLE_ROOM } from './double-room';
import { FLICKER } from './flicker';
import { HEADROOM } from './headroom';
import type { SumKind, SumResult, SumSheet, SumValues } from './kinds';
import { LIGHT } from './light';
import { MASK_WORK } from './mask-work';
import { RETIME } from './retime';
import { SOFTNESS } from './softness';
import { TIMECODE } from './timecode';
import { VEHICLE } from './vehicle';

/** Every sum, by its key. */
export const SUM_SHEETS: Record<SumKind, SumSheet> = {
  retime: RETIME,
  timecode: TIMECODE,
  cover: COVER,
  'pan-past': PAN_PAST,
  'walk-in': WALK_IN,
  softness: SOFTNESS,
  headroom: HEADROOM,
  'double-room': DOUBLE_ROOM,
  'mask-work': MASK_WORK,
  vehicle: VEHICLE,
  light: LIGHT,
  flicker: FLICKER,
};

/** A sum's result, or the sentence why there is none. */
export function workOut(
  kind: SumKind,
  values: SumValues,
): { result: SumResult; error: null } | { result: null; error: string } {
  try {
    return { result: SUM_SHEETS[kind].work(values), error: null };
  } catch (error) {
    if (error instanceof RangeError) return { result: null, error: error.message };
    throw error;
  }
}

/** The values a sum starts with. */
export function usualValues(kind: SumKind): SumValues {
  return Object.fromEntries(SUM_SHEETS[kind].inputs.map((i) => [i.key, i.usual]));
}
