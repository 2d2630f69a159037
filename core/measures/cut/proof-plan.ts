import type { RevealMode } from '../cover/reveal';
import type { CoverMeasure } from '../../report/wipe-types';

/** What of the cut may be chosen; what is left out is taken from the measures. */
export interface ProofWish {
  /** The out side's frame under which the in side begins, and the in side's frame that lies there. */
  at?: number | null;
  in_start: number;
  /** Speed of the in side, 100 = as shot. */
  speed_pct: number;
  mirror: boolean;
  /** Soft edge, source pixels of the out side; measured when null. */
  feather_px: number | null;
  mode?: RevealMode | null;
}

/** One frame of a proof: which frame of each side it shows. The in side's is null before it may show. */
export interface ProofFrame {
  out: number;
  in: number | null;
}

export interface ProofPlan {
  mode: RevealMode;
  /** The out side's frame under which the in side begins, and from which on only it is seen. */
  from: number;
  done: number | null;
  feather_px: number;
  fps: number;
  frames: ProofFrame[];
  /** Frames at the end in which the in side stands still because it is too short. */
  in_missing: number;
}

/** Seconds shown before and after. */
const BEFORE_S = 1;
const AFTER_S = 1;
const MOST_FRAMES = 600;
/** A smooth step (3 t^2 - 2 t^3) rises from 10 to 90 % in 0.608 of its length. */
const FEATHER = 1 / 0.608;
const LEAST_FEATHER = 2;

export interface ProofSides {
  outCount: number;
  outFps: number;
  inCount: number;
  inFps: number;
  fps: number;
}

/** Length of the soft edge to start with, from its 10 to 90 % rise; in the unit of the rise. */
export function featherFor(rise: number): number {
  return Math.max(LEAST_FEATHER, FEATHER * rise);
}

/** How a kind of cover reveals what comes next. */
export function revealMode(kind: CoverMeasure['kind']): RevealMode {
  return { passing: 'behind', panning: 'behind', closing: 'instead', approaching: 'cut' }[kind] as RevealMode;
}

/**
 * Lays the frames of both sides under each other.
 * @returns null when the object never covers enough for a cut
 */
export function planProof(
  cover: Pick<
    CoverMeasure,
    'kind' | 'cut' | 'edge' | 'enter_frame' | 'first_full_frame' | 'leave_frame' | 'peak_frame'
  >,
  wish: ProofWish,
  sides: ProofSides,
): ProofPlan | null {
  const mode = wish.mode ?? revealMode(cover.kind);
  const measured = mode === 'instead' ? cover.enter_frame : (cover.cut.in_first_frame ?? cover.peak_frame);
  const from = wish.at ?? measured;
  if (from === null || from < 0 || from >= sides.outCount) return null;
  const end = mode === 'behind' ? cover.leave_frame : mode === 'instead' ? cover.first_full_frame : from;
  const done = end === null ? null : mode === 'behind' ? end + 1 : end;
  const { outFps, inFps, fps } = sides;
  const last = Math.min(sides.outCount - 1, done ?? sides.outCount - 1);
  const step = outFps / fps;
  const before = Math.max(0, from - Math.round(BEFORE_S * outFps));
  const count = Math.min(MOST_FRAMES, Math.ceil((last - before + 1) / step) + Math.round(AFTER_S * fps));
  // A hair is added so that a whole step is not rounded down by the computer's own arithmetic.
  const whole = (v: number) => Math.floor(v + 1e-6);
  let missing = 0;
  const frames = Array.from({ length: count }, (_, n) => {
    const out = Math.min(sides.outCount - 1, before + whole(n * step));
    const since = (before + n * step - from) / outFps;
    if (before + whole(n * step) < from) return { out, in: null };
    const wanted = wish.in_start + whole(Math.max(0, since) * inFps * (wish.speed_pct / 100));
    if (wanted > sides.inCount - 1) missing++;
    return { out, in: Math.min(sides.inCount - 1, Math.max(0, wanted)) };
  });
  return {
    mode,
    from,
    done,
    feather_px: wish.feather_px ?? featherFor(cover.edge.softness_px ?? LEAST_FEATHER),
    fps,
    frames,
    in_missing: missing,
  };
}
