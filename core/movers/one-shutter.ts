import { median } from '../base/numeric/quantile';
import { smearFrom, USUAL_RISE, type Smear } from './smear';

/** What one frame says: its edges, and how fast whoever is in moves, pixels a frame; null where that is not known. */
export interface Smeared extends Smear {
  speed: number | null;
}

/** Who moves by so many pixels a frame tells the shutter; so many such frames are wanted. */
const TELLS_PX = 4;
const TELL = 3;
/** A smear of less than this share of what the take's shutter makes of so fast a way was not read. */
const TOO_LITTLE = 0.4;

/**
 * Smears of the frames of one take, pixels. A take has one lens and one shutter: still edges rise alike in all of its
 * frames, and the shutter is open for one share of each. What the edges of a frame say and what the shutter makes of the
 * way in it are two readings of one thing: their mean is nearer to it than either. Null where neither tells.
 */
export function byOneShutter(seen: readonly Smeared[]): (number | null)[] {
  const still = seen.flatMap(({ across }) => (across === null ? [] : [across]));
  const rise = still.length ? median(still) : USUAL_RISE;
  const own = seen.map(({ along, blur, speed }) =>
    blur === null || !moves(speed) || along === null ? blur : smearFrom(along, rise),
  );
  const shares = own.flatMap((b, k) => (b !== null && tells(seen[k].speed) ? [b / seen[k].speed!] : []));
  if (shares.length < TELL) return own;
  const share = median(shares);
  return own.map((b, k) => {
    if (!tells(seen[k].speed)) return b;
    const usual = share * seen[k].speed!;
    return b === null || b < TOO_LITTLE * usual ? usual : (b + usual) / 2;
  });
}

const moves = (speed: number | null) => speed !== null && speed > 0;
const tells = (speed: number | null) => speed !== null && speed >= TELLS_PX;
