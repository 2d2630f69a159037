import type { CoverShape } from './measure';
import { LINES_AT } from './profile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, round } = Math;

/** How the next picture comes: behind the object as it leaves, in place of what closes, or all at once while the object fills the frame. */
export type RevealMode = 'behind' | 'instead' | 'cut';

export interface RevealPlan {
  mode: RevealMode;
  /**
   * The first frame in which anything of the next picture may show, and from which on nothing else does; null for an
   * edge that never leaves.
   */
  from: number;
  done: number | null;
  /** Length of the soft edge, source pixels: its 0 to 100 %. */
  feather_px: number;
  /** Size of the source picture. */
  width: number;
  height: number;
}

/** Rows to each side over which an edge from a mask is smoothed. */
const SMOOTH = 3;
/** An edge that is not to be seen on a row is taken from the others when this share of the rows shows the object. */
const SHOWS = 0.25;

/** How strongly the next picture shows at each pixel, for pictures of a wished size. */
export class RevealMatte {
  private readonly vertical: boolean;
  private readonly forwards: boolean;

  constructor(
    private readonly shape: CoverShape,
    private readonly plan: RevealPlan,
    private readonly outWidth: number,
    private readonly outHeight: number,
  ) {
    this.vertical = shape.way === 90 || shape.way === 270;
    this.forwards = shape.way === 0 || shape.way === 90;
  }

  /** Fills `out` (one value a pixel, 0 to 255) for a frame of the out side. */
  frame(frame: number, out: Uint8Array): Uint8Array {
    const { plan, shape, vertical, forwards, outWidth, outHeight } = this;
    if (frame < plan.from || !shape.masks[frame]) return out.fill(frame < plan.from ? 0 : 255);
    if (plan.mode === 'cut' || (plan.done !== null && frame >= plan.done)) return out.fill(255);
    const profile = this.profile(frame);
    if (!profile) return out.fill(plan.mode === 'instead' ? 0 : 255);
    const long = vertical ? outHeight : outWidth,
      broad = vertical ? outWidth : outHeight;
    const scale = long / (vertical ? plan.height : plan.width);
    const feather = max(1, plan.feather_px * scale);
    const places = new Float32Array(broad);
    for (let b = 0; b < broad; b++) places[b] = scale * at(profile, ((b + 0.5) / broad) * profile.length - 0.5);
    for (let y = 0, i = 0; y < outHeight; y++) {
      for (let x = 0; x < outWidth; x++, i++) {
        const edge = places[vertical ? x : y],
          along = (vertical ? y : x) + 0.5;
        // Behind the edge is where it came from.
        const t = min(1, max(0, (forwards ? edge - along : along - edge) / feather + 0.5));
        out[i] = round(255 * t * t * (3 - 2 * t));
      }
    }
    return out;
  }

  /** Place of the revealing edge on each row across the way, source pixels; null when the object is not in the picture. */
  private profile(frame: number): Float32Array | null {
    const { shape, plan, vertical, forwards } = this;
    const { width, height, masks } = shape;
    const broad = vertical ? width : height,
      long = vertical ? height : width;
    const unit = (vertical ? plan.height : plan.width) / long;
    const leading = plan.mode === 'instead';
    // The edge that reveals lies at the object's higher end when it is the leading one of a way towards higher places.
    const high = leading === forwards;
    const found = new Float32Array(broad).fill(NaN);
    let n = 0;
    for (let b = 0; b < broad; b++) {
      const at = longestRun(masks[frame], vertical ? b : b * width, vertical ? width : 1, long);
      if (!at) continue;
      n++;
      const border = high ? at.end >= long : at.start <= 0;
      // An edge at the frame's border lies outside it.
      found[b] = (high ? at.end : at.start) * unit + (border ? (high ? 1 : -1) * (plan.feather_px + unit) : 0);
    }
    if (n === 0) return null;
    if (n < SHOWS * broad && !leading)
      for (let b = 0; b < broad; b++)
        if (Number.isNaN(found[b])) found[b] = high ? -plan.feather_px - unit : long * unit + plan.feather_px + unit;
    const whole = smoothed(filled(found));
    return this.corrected(whole, leading ? shape.lead : shape.trail, frame);
  }

  /** Moved on to where the edge was found closely. */
  private corrected(profile: Float32Array, lines: (number | null)[][], frame: number): Float32Array {
    const offsets = LINES_AT.flatMap((share, k) => {
      const exact = lines[k]?.[frame] ?? null,
        row = share * profile.length - 0.5;
      return exact === null ? [] : [{ row, by: exact - at(profile, row) }];
    });
    if (offsets.length === 0) return profile;
    return profile.map((v, b) => {
      const after = offsets.findIndex((o) => o.row >= b);
      if (after === 0) return v + offsets[0].by;
      if (after < 0) return v + offsets[offsets.length - 1].by;
      const [p, q] = [offsets[after - 1], offsets[after]],
        t = (b - p.row) / (q.row - p.row);
      return v + p.by + t * (q.by - p.by);
    });
  }
}

function longestRun(
  mask: Uint8Array,
  start: number,
  step: number,
  count: number,
): { start: number; end: number } | null {
  let best: { start: number; end: number } | null = null;
  for (let a = 0; a < count;) {
    if (!mask[start + a * step]) {
      a++;
      continue;
    }
    let end = a;
    while (end < count && mask[start + end * step]) end++;
    if (!best || end - a > best.end - best.start) best = { start: a, end };
    a = end;
  }
  return best;
}

/** Rows without a value take after the nearest with one. */
function filled(values: Float32Array): Float32Array {
  const known = [...values.keys()].filter((b) => !Number.isNaN(values[b]));
  return values.map((v, b) =>
    Number.isNaN(v)
      ? values[known.reduce((near, k) => (Math.abs(k - b) < Math.abs(near - b) ? k : near), known[0])]
      : v,
  );
}

function smoothed(values: Float32Array): Float32Array {
  return values.map((_, b) => {
    const near = [...values.subarray(max(0, b - SMOOTH), b + SMOOTH + 1)].sort((p, q) => p - q);
    // The middle half: one row astray does not pull.
    const from = near.length >> 2,
      inner = near.slice(from, near.length - from);
    return inner.reduce((s, v) => s + v, 0) / inner.length;
  });
}

function at(values: Float32Array, place: number): number {
  const i = max(0, min(values.length - 2, Math.floor(place)));
  return values.length < 2 ? values[0] : values[i] + max(0, min(1, place - i)) * (values[i + 1] - values[i]);
}
