import type { Still } from '../../report/moment-types';

/** Who moves by less than this from frame to frame, source pixels, holds still by themselves. */
const MOVES_PX = 2;

/** Of frames worth holding the one to hold: the best in mid-movement, where one holds; else the best. Null for none. */
export function heldOf(stills: readonly Still[]): Still | null {
  return stills.find((s) => s.hold === 'holds' && (s.speed_px ?? 0) > MOVES_PX) ?? stills[0] ?? null;
}
