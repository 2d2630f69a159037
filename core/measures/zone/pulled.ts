import { stopsTable, type Transfer } from '../../base/image/transfer';
import { runsOf } from '../../presence/measure';
import { NONE } from '../../presence/shade';
import type { Pulled } from '../../report/zone-types';
import { relight } from '../../scene/gauge';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, max, min } = Math;

export interface PulledInput {
  /** 1 inside the zone. */
  zone: Uint8Array;
  count: number;
  fps: number;
  /** A frame's picture as it lies on the reference, valid until the next call; null where it is not known. */
  read: (frame: number) => Uint8Array | null;
  /** Stops of each frame over the reference. */
  light: readonly (number | null)[];
  curve: Transfer;
  /** Spread of a pixel in light that does not change, levels. */
  sigma: Float32Array;
}

/** So many frames at either end say what the zone looks like before and after. */
const ENDS = 8;
/** A pixel differs by so many levels, and so many standard deviations. */
const LEVELS = 6;
const SIGMAS = 5;
/** Something was taken out of the zone when this share of it looks another way at the end. */
const CHANGED = 0.08;
/** The zone is as it was, or as it will be, where this share of what changes looks so. */
const ALIKE = 0.9;
/** Somebody touches it who hides this share of it. */
const TOUCHED = 0.01;
const LEAST_PIXELS = 8;
/** Whoever pulls reaches in before it moves, and lets go, within so long, s. */
const HANDS_S = 1;

/** Watches a zone from which something is pulled away: it looks one way before, another afterwards, and like neither where somebody is. */
export class ZonePull {
  private readonly before: Float32Array;
  private readonly after: Float32Array;
  private readonly limit: Float32Array;
  private readonly stops: Float32Array;
  /** The zone's pixels, and those of them that look another way at the end. */
  private readonly pixels: Int32Array;
  private readonly changed: Int32Array;
  /** Frame by frame: the shares of what changes that look as before and as after, and the share of the zone that is touched. */
  private readonly was: number[] = [];
  private readonly is: number[] = [];
  private readonly touched: number[] = [];

  constructor(private readonly input: PulledInput) {
    const { zone, count, sigma, curve } = input;
    this.stops = stopsTable(curve);
    const n = min(ENDS, ceil(count / 4));
    this.before = this.meanOf(0, n);
    this.after = this.meanOf(count - n, count);
    this.limit = sigma.map((s) => max(LEVELS, SIGMAS * s));
    this.pixels = Int32Array.from(zone.keys()).filter((i) => zone[i]);
    this.changed = this.pixels.filter((i) => abs(this.before[i] - this.after[i]) > 1.5 * this.limit[i]);
  }

  private meanOf(from: number, to: number): Float32Array {
    const sum = new Float32Array(this.input.zone.length);
    let n = 0;
    for (let f = max(0, from); f < to; f++) {
      const table = this.tableOf(f),
        picture = table && this.input.read(f);
      if (!picture) continue;
      for (let i = 0; i < sum.length; i++) sum[i] += table[picture[i]];
      n++;
    }
    return sum.map((v) => v / max(1, n));
  }

  private tableOf(frame: number): Float32Array | null {
    const stop = this.input.light[frame];
    return stop === null || stop === undefined ? null : relight(this.stops, -stop);
  }

  /** The next frame. @param kinds who is where in it; null where that is not known */
  frame(f: number, picture: Uint8Array | null, kinds: Uint8Array | null): void {
    const table = picture && kinds && this.tableOf(f);
    const { changed, pixels, before, after, limit } = this;
    if (!table || changed.length < CHANGED * pixels.length) {
      for (const list of [this.was, this.is, this.touched]) list.push(NaN);
      return;
    }
    let [was, is, neither] = [0, 0, 0];
    for (const i of changed) {
      const v = table[picture[i]];
      const old = abs(v - before[i]) <= limit[i],
        own = abs(v - after[i]) <= limit[i];
      if (old) was++;
      if (own) is++;
      if (!old && !own && kinds[i] !== NONE) neither++;
    }
    for (const i of pixels) {
      const v = table[picture[i]];
      const same = abs(before[i] - after[i]) <= 1.5 * limit[i];
      if (same && kinds[i] !== NONE && abs(v - before[i]) > limit[i] && abs(v - after[i]) > limit[i]) neither++;
    }
    this.was.push(was / changed.length);
    this.is.push(is / changed.length);
    this.touched.push(neither < LEAST_PIXELS ? 0 : neither / pixels.length);
  }

  /** When it is pulled away, and when somebody touches the zone besides; null where nothing leaves the zone. */
  found(): Pulled | null {
    const { was, is, touched, pixels, changed, input } = this;
    if (changed.length < CHANGED * pixels.length) return null;
    const last = was.findLastIndex((v) => v >= ALIKE);
    const after = is.findIndex((v, f) => f > last && v >= ALIKE);
    if (last < 0 || after < 0) return null;
    const [start, end] = [last + 1, max(last + 1, after - 1)];
    const hands = ceil(HANDS_S * input.fps);
    const runs = runsOf(touched.map((t) => t >= TOUCHED));
    // Whoever takes hold of it is in the zone without a break until it moves.
    const beside = runs.flatMap((r) => {
      const touches = r.end >= start - 2 && r.start <= end + 2;
      const own = touches ? { start: start - hands, end: end + hands } : { start, end };
      const parts = [
        { start: r.start, end: min(r.end, own.start - 1) },
        { start: max(r.start, own.end + 1), end: r.end },
      ];
      return parts.filter((p) => p.end >= p.start);
    });
    return { start, end, touched_runs: beside };
  }
}
