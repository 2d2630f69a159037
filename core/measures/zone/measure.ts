import { DistanceField } from '../../base/image/distance';
import { kindsIn, steadied, type KindFrames } from '../../presence/kinds';
import { runsOf } from '../../presence/measure';
import { BODY, NONE } from '../../presence/shade';
import type { Entered, ZoneFound } from '../../report/zone-types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

export interface ZoneInput extends KindFrames {
  /** 1 inside the zone. */
  zone: Uint8Array;
  /** Source pixels for one pixel of the grid. */
  factor: number;
}

export type ZoneSums = Omit<ZoneFound, 'changes' | 'pulled' | 'edge' | 'unjudged'>;

/** Fewer pixels of somebody than these, and than this share of the zone, do not enter it. */
const LEAST_PIXELS = 8;
const LEAST_SHARE = 0.002;
/** Somebody shows outside it only farther from it than their outline may be wrong, and by more than this share of the picture. */
const BESIDE = 4;
const LEAST_OUTSIDE = 0.0004;
/** Of what is taken so much at least is a body's, where one is in. */
const BODY_SHARE = 0.2;

/** When a zone of the picture is entered, and how near anybody comes. */
export function measureZone(input: ZoneInput): ZoneSums {
  const { width, height, frames, zone, factor } = input;
  const size = zone.reduce((n, z) => n + z, 0);
  const away = new DistanceField(width, height).of(zone, new Float32Array(zone.length));
  const kinds = new Uint8Array(zone.length);
  const share: (number | null)[] = [],
    gap: (number | null)[] = [],
    bodies: number[] = [],
    out: (number | null)[] = [],
    outBodies: number[] = [];
  for (let f = 0; f < frames.length; f++) {
    const known = kindsIn(input, f, kinds);
    let taken = 0,
      body = 0,
      beyond = 0,
      beyondBody = 0,
      nearest = Infinity;
    if (known)
      for (let i = 0; i < kinds.length; i++) {
        if (kinds[i] === NONE) continue;
        if (zone[i]) {
          taken++;
          if (kinds[i] === BODY) body++;
        } else {
          nearest = min(nearest, away[i]);
          if (away[i] <= BESIDE) continue;
          beyond++;
          if (kinds[i] === BODY) beyondBody++;
        }
      }
    const least = max(LEAST_PIXELS, LEAST_SHARE * size);
    const inside = taken >= least;
    share.push(known === null ? null : inside ? taken / max(1, size) : 0);
    const far = beyond >= max(LEAST_PIXELS, LEAST_OUTSIDE * kinds.length);
    out.push(known === null ? null : far ? beyond / kinds.length : 0);
    outBodies.push(beyondBody >= max(LEAST_PIXELS, BODY_SHARE * beyond) ? 1 : 0);
    bodies.push(body >= max(least, BODY_SHARE * taken) ? 1 : 0);
    // To the zone's own edge: half a pixel nearer than to the middle of its first pixel.
    gap.push(!known ? null : inside ? 0 : Number.isFinite(nearest) ? max(0, nearest - 0.5) * factor : 0);
  }
  const closest = gap.reduce<number | null>(
    (best, g, f) => (g !== null && (best === null || g < gap[best]!) ? f : best),
    null,
  );
  const runs = runsOf(share.map((s) => s !== null && s > 0));
  return {
    entered_runs: runs,
    first_frame: runs[0]?.start ?? null,
    closest_px: closest === null ? null : gap[closest],
    closest_frame: closest,
    entered: enteredIn(share, bodies),
    outside: enteredIn(out, outBodies),
    known_share: share.filter((s) => s !== null).length / max(1, frames.length),
    path: { share, gap_px: gap },
  };
}

/** The runs in which anything is taken, told by whether a body or a shadow alone takes it. */
function enteredIn(share: readonly (number | null)[], bodies: number[]): Entered[] {
  const steady = steadied(bodies);
  return [true, false]
    .flatMap((what) =>
      runsOf(share.map((s, f) => s !== null && s > 0 && steady[f]! > 0.5 === what)).map((run): Entered => {
        let frame = run.start;
        for (let f = run.start; f <= run.end; f++) if (share[f]! > share[frame]!) frame = f;
        return { ...run, what: what ? 'body' : 'shadow', share: share[frame]!, frame };
      }),
    )
    .sort((a, b) => a.start - b.start);
}
