import { heldOf } from '../stills/held';
import type { ZoneFound } from '../../report/zone-types';
import type { BeatsFound, ClothFound, MeetFound, SpotFound, StillsFound } from '../../report/moment-types';

/** Where two takes meet, as it was measured: a frame of the first, how many frames later the second starts, and more. */
export interface Meeting {
  at?: number | null;
  slide?: number | null;
  /** The second's speed, per cent of real. */
  rate?: number | null;
  front?: 'first' | 'second' | null;
}

/** What a measure of the moment says of where two takes meet. @param measure the `moment` of a way of joining, or `zone` or `beats` */
export function meetingOf(measure: string, result: object): Meeting {
  switch (measure) {
    case 'spot': {
      const { at_a: a, at_b: b } = result as SpotFound;
      return a === null || b === null ? {} : { at: a + 1, slide: a - b };
    }
    case 'meet': {
      const { slide_frames: slide, rate_pct: rate, layer } = result as MeetFound;
      return { slide, rate, front: layer === 'b_over_a' ? 'second' : 'first' };
    }
    case 'zone': {
      // The plate shows in the zone once the cloth has been pulled across it.
      const { pulled } = result as ZoneFound;
      return { at: pulled ? pulled.end + 1 : null };
    }
    case 'beats':
      return { at: (result as BeatsFound).beats.find((b) => b.kind === 'starts')?.frame ?? null };
    case 'stills':
      return { at: heldOf((result as StillsFound).stills)?.frame ?? null };
    default:
      return { at: (result as Pick<ClothFound, 'switch_frame'>).switch_frame };
  }
}
