import { sigmaOf } from '../../base/numeric/robust';
import { stopsTable, type Transfer } from '../../base/image/transfer';
import { median } from '../../base/numeric/quantile';
import type { FineLuma } from '../../presence/fine-background';
import { NONE } from '../../presence/shade';
import type { LightChange } from '../../report/zone-types';
import { relight, slopes } from '../../scene/gauge';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, max, min, round, sqrt } = Math;

/** The zone is read in so many cells at most; a cell has this side at least, pixels, and so many pixels of the zone. */
const MOST_CELLS = 36;
const LEAST_SIDE = 6;
const LEAST_PIXELS = 12;
/** A cell is read where at least this share of it is free of anybody, and nobody is nearer than so many pixels. */
const FREE = 0.5;
const AWAY = 5;
/** A cell differs that is off by so many stops, and so many standard deviations. */
const OFF_STOPS = 0.06;
const OFF_SIGMAS = 5;
/** Light falls in where this share of the cells differ, for so many frames; shorter pauses are none. */
const SOME_CELLS = 0.12;
/** So many of the cells must be free to be read. */
const KNOWN = 0.4;
const LEAST_FRAMES = 2;
const PAUSE = 2;

/** Reads, frame by frame, the light that falls into a zone beyond that of the whole picture. */
export class ZoneLight {
  /** The cell of each pixel; -1 outside the zone. */
  private readonly cellOf: Int16Array;
  private readonly sizes: number[] = [];
  private readonly frames: Float32Array[] = [];
  /** Whether anybody is in the zone. */
  private readonly taken: boolean[] = [];
  private readonly stops: Float32Array;
  private readonly slope: Float32Array;
  private readonly near: Uint8Array;

  constructor(
    zone: Uint8Array,
    private readonly width: number,
    private readonly height: number,
    private readonly behind: FineLuma,
    curve: Transfer,
  ) {
    this.stops = stopsTable(curve);
    this.slope = slopes(this.stops);
    this.near = new Uint8Array(zone.length);
    this.cellOf = new Int16Array(zone.length).fill(-1);
    let area = 0,
      [left, top, right] = [width, height, -1];
    for (let i = 0; i < zone.length; i++)
      if (zone[i]) {
        area++;
        left = min(left, i % width);
        right = max(right, i % width);
        top = min(top, (i / width) | 0);
      }
    if (area === 0) return;
    const side = max(LEAST_SIDE, ceil(sqrt(area / MOST_CELLS)));
    const across = ceil((right - left + 1) / side);
    const counts = new Map<number, number>();
    const raw = (i: number) => (((((i / width) | 0) - top) / side) | 0) * across + ((((i % width) - left) / side) | 0);
    for (let i = 0; i < zone.length; i++) if (zone[i]) counts.set(raw(i), (counts.get(raw(i)) ?? 0) + 1);
    const named = new Map<number, number>();
    for (const [cell, n] of counts)
      if (n >= LEAST_PIXELS) {
        named.set(cell, this.sizes.length);
        this.sizes.push(n);
      }
    for (let i = 0; i < zone.length; i++) if (zone[i]) this.cellOf[i] = named.get(raw(i)) ?? -1;
  }

  /** The next frame. @param kinds who is where in it; null where nothing of it is known */
  frame(picture: Uint8Array | null, light: number | null, kinds: Uint8Array | null): void {
    const out = new Float32Array(this.sizes.length).fill(NaN);
    this.frames.push(out);
    this.taken.push(kinds?.some((k, i) => k !== NONE && this.cellOf[i] >= 0) ?? false);
    if (!picture || light === null || !kinds) return;
    const { cellOf, behind, near, slope, sizes } = this;
    const table = relight(this.stops, -light);
    this.markNear(kinds);
    const sum = new Float64Array(sizes.length),
      seen = new Uint32Array(sizes.length);
    for (let i = 0; i < cellOf.length; i++) {
      const c = cellOf[i];
      if (c < 0 || near[i]) continue;
      const was = behind.luma[i];
      sum[c] += (table[picture[i]] - was) * slope[max(0, min(255, round(was)))];
      seen[c]++;
    }
    for (let c = 0; c < out.length; c++) if (seen[c] >= FREE * sizes[c]) out[c] = sum[c] / seen[c];
  }

  private markNear(kinds: Uint8Array): void {
    const { near, width, height } = this;
    near.fill(0);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (kinds[y * width + x] !== NONE)
          for (let v = max(0, y - AWAY); v <= min(height - 1, y + AWAY); v++)
            near.fill(1, v * width + max(0, x - AWAY), v * width + min(width - 1, x + AWAY) + 1);
  }

  /** The runs in which light falls in. */
  changes(): LightChange[] {
    const { frames, sizes } = this;
    const read = sizes.map((_, c) => {
      const values = frames.map((f) => f[c]);
      const known = values.filter((v) => !Number.isNaN(v));
      if (known.length < 3) return null;
      const usual = median(known);
      const steps = known.slice(1).map((v, k) => abs(v - known[k]));
      // Of the difference of two readings.
      const sigma = sigmaOf(steps) / Math.SQRT2;
      const limit = max(OFF_STOPS, OFF_SIGMAS * sigma);
      return values.map((v) => (abs(v - usual) > limit ? v - usual : Number.isNaN(v) ? NaN : 0));
    });
    const cells = read.filter((r) => r !== null);
    const off = frames.map((_, f): number | null => {
      const known = cells.map((c) => c[f]).filter((v) => !Number.isNaN(v));
      // Beside somebody it is darker for their sake.
      const lit = known.filter((v) => v > 0),
        dark = this.taken[f] ? [] : known.filter((v) => v < 0);
      const away = lit.length >= dark.length ? lit : dark;
      if (known.length < KNOWN * sizes.length || away.length < max(1, SOME_CELLS * known.length)) return null;
      return away.reduce((a, b) => a + b, 0) / away.length;
    });
    const out: LightChange[] = [];
    off.forEach((stops, f) => {
      if (stops === null) return;
      const last = out.at(-1);
      if (last && f - last.end <= PAUSE + 1 && stops > 0 === last.stops > 0) {
        last.end = f;
        if (abs(stops) > abs(last.stops)) last.stops = stops;
      } else out.push({ start: f, end: f, stops });
    });
    return out.filter((r) => r.end - r.start + 1 >= LEAST_FRAMES);
  }
}
