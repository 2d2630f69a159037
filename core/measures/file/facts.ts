import { sigmaOfMad } from '../../base/numeric/robust';
import { median } from '../../base/numeric/quantile';
import type { MediaFacts, Run } from '../../report/types';
import { asBytes, type Plane } from '../../base/image/plane';
import { Kernels } from '../../base/kernels/kernels';

/** What the container says, as far as the facts need it. */
export interface ContainerFacts {
  width: number;
  height: number;
  rotationDeg: number;
  codec: string;
  pixelFormat: string;
  bitDepth: number;
  /** "30000/1001" */
  containerFps: string;
  /** Presentation times in order, seconds; NaN where unknown. */
  times: readonly number[];
  timecode: string | null;
}

/** What decoding showed of a file beside its pictures; a whole file of one shot where it is left out. */
export interface FileState {
  cuts?: readonly number[];
  stops?: readonly number[];
  shot?: Run;
  declared?: number | null;
  whole?: boolean;
  broken?: readonly Run[];
}

/** "30000/1001" as a number; NaN when it is no rate. */
export function rateOf(text: string): number {
  const [a, b = 1] = text.split('/').map(Number);
  const rate = a / b;
  return rate > 0 && Number.isFinite(rate) ? rate : NaN;
}

/** Every so many rows are looked at. */
const ROW_STEP = 8;
/** A copy, decoded after compression, still has at least this share of exactly equal samples. */
const COPY_SHARE = 0.85;
/** And differs this many times less from the frame before than the changed frames on both sides of it do. */
const COPY_RATIO = 5;
/** Pictures that differ by less than this, in levels on the mean, may be one scene as a coder refreshes it. */
const LEAST_CHANGE = 0.15;
/** Samples that differ by more levels than light that flickers makes them, and their share among pictures in which something moves. */
const CLEARLY = 8;
const LEAST_MOVED = 0.003;
/** A single copy is believed among pictures that differ by more. */
const CLEAR_CHANGE = 0.5;
/** So many copies in a row are believed at the very end. */
const LONGEST_OPEN = 2;
/** Each picture comes twice when so many of every second frame, at least, are so many times less new than their neighbours. */
const PAIR_RATIO = 1.8;
const PAIR_SHARE = 0.9;
const LEAST_PAIRS = 12;
/** A good part of the pictures round a copy must be new ones: at least one in five. */
const NEW_SHARE = 0.2;

/**
 * Notes how much each frame differs from the one before: `frame` for every frame in order, then `repeated`.
 *
 * A repeated frame is a copy of the one before, between pictures that change. Where nothing moves for longer, copies and
 * new pictures look alike after compression, and none is claimed.
 */
export class RepeatMeter {
  private readonly differences: number[] = [];
  private readonly equalShares: number[] = [];
  /** Share of the samples that changed by more than light does. */
  private readonly movedShares: number[] = [];
  private readonly spreads: number[] = [];
  private kernels: Kernels | null = null;
  /** Looked-at rows of this picture and the one before, and a number for each difference, in the kernels' memory. */
  private at = { now: 0, before: 0, counts: 0 };

  frame(plane: Plane): void {
    const { width, height } = plane;
    const data = asBytes(plane);
    const count = Math.ceil(height / ROW_STEP) * width;
    const first = this.kernels === null;
    const kernels = (this.kernels ??= new Kernels(2 * count + 4096));
    if (first)
      this.at = { now: kernels.reserve(count), before: kernels.reserve(count), counts: kernels.reserve(4 * 511) };
    const { at } = this;
    const now = kernels.bytes(at.now, count);
    for (let y = 0, k = 0; y < height; y += ROW_STEP, k += width) now.set(data.subarray(y * width, (y + 1) * width), k);
    kernels.run.countChanges({ now: at.now, before: at.before, count, counts: at.counts });
    // How often each difference occurs (index 255 is none): all that is asked for can be told from that.
    const counts = kernels.words(at.counts, 511);
    // Light that changes alike everywhere, as mains flicker does, makes no new picture.
    const common = middleOf(counts, count);
    let sum = 0;
    let clearly = 0;
    for (let i = 0; i < 511; i++) {
      const off = Math.abs(i - 255 - common);
      sum += counts[i] * off;
      if (off > CLEARLY) clearly += counts[i];
    }
    this.movedShares.push(first ? 0 : clearly / count);
    this.differences.push(first ? NaN : sum / count);
    this.equalShares.push(first ? 0 : counts[255] / count);
    this.spreads.push(first ? NaN : sigmaOfMad(middleDifference(counts, count)) / Math.SQRT2);
  }

  /** Standard deviation of the grain as it changes from frame to frame, levels; NaN for one frame. */
  get grain(): number {
    const known = this.spreads.filter((s) => !Number.isNaN(s));
    return known.length ? median(known) : NaN;
  }

  get count(): number {
    return this.differences.length;
  }

  /** Share of samples that stay exactly as they are from one frame to the next, in the middle; NaN for one frame. */
  get usualEqual(): number {
    return this.count > 1 ? median(this.equalShares.slice(1)) : NaN;
  }

  /** Share of each frame's samples that changed by more than light does; 0 for the first. */
  get changes(): readonly number[] {
    return this.movedShares;
  }

  /**
   * Numbers of the frames that repeat the one before.
   * @param longest frames in a row that may be copies before it counts as a standstill
   */
  repeated(longest: number): number[] {
    const d = this.differences;
    const low = d.map((v, f) => {
      if (f === 0 || this.equalShares[f] < COPY_SHARE) return false;
      let most = 0;
      for (let k = Math.max(1, f - longest); k <= Math.min(d.length - 1, f + longest); k++) most = Math.max(most, d[k]);
      return v * COPY_RATIO < most;
    });
    const found: number[] = [];
    for (let f = 1; f < d.length; f++) {
      if (!low[f]) continue;
      let end = f;
      while (end + 1 < d.length && low[end + 1]) end++;
      const run = d.slice(f, end + 1);
      const bound = COPY_RATIO * Math.max(...run);
      const before = f > 1 ? d[f - 1] : Infinity;
      const after = end + 1 < d.length ? d[end + 1] : Infinity;
      const around = [...d.slice(Math.max(1, f - longest), f), ...d.slice(end + 1, end + 1 + longest)].sort(
        (a, b) => b - a,
      );
      const fresh = around.length ? around[Math.floor(NEW_SHARE * around.length)] : 0;
      // At the take's ends nothing shows that the pictures go on changing: a longer standstill there is the scene's.
      const open = (end + 1 >= d.length || f === 1) && run.length > LONGEST_OPEN;
      const moved = [
        ...this.movedShares.slice(Math.max(1, f - longest), f),
        ...this.movedShares.slice(end + 1, end + 1 + longest),
      ].sort((a, b) => b - a);
      const moves = (moved[Math.floor(NEW_SHARE * moved.length)] ?? 0) > LEAST_MOVED;
      if (
        !open &&
        moves &&
        run.length <= longest &&
        before > bound &&
        after > bound &&
        fresh > Math.max(bound, CLEAR_CHANGE)
      )
        run.forEach((_, k) => found.push(f + k));
      f = end;
    }
    const every = this.everyOther();
    return every === null ? found : [...new Set([...found, ...every])].sort((a, b) => a - b);
  }

  /** Where each picture comes twice: every second frame, each less new than those on both sides of it. Null where not. */
  private everyOther(): number[] | null {
    const { differences: d, equalShares } = this;
    if (d.length < LEAST_PAIRS * 2) return null;
    for (const phase of [1, 2]) {
      let pairs = 0,
        less = 0;
      const equal: number[] = [];
      for (let f = phase + 2; f + 1 < d.length; f += 2) {
        const fresh = Math.min(d[f - 1], d[f + 1]);
        if (Math.max(d[f - 1], d[f + 1]) < LEAST_CHANGE) continue;
        pairs++;
        equal.push(equalShares[f]);
        if (d[f] * PAIR_RATIO < fresh) less++;
      }
      if (pairs >= LEAST_PAIRS && less >= PAIR_SHARE * pairs && median(equal) >= COPY_SHARE)
        return Array.from({ length: Math.ceil((d.length - phase) / 2) }, (_, k) => phase + 2 * k);
    }
    return null;
  }
}

/** The middle of the differences themselves, in whole levels, from their counts (index 255 is none). */
function middleOf(counts: Uint32Array, total: number): number {
  let seen = 0;
  for (let i = 0; i < 511; i++) {
    seen += counts[i];
    if (seen >= total / 2) return i - 255;
  }
  return 0;
}

/** Median of absolute differences from their counts (index 255 is none), between whole levels in proportion. */
function middleDifference(counts: Uint32Array, total: number): number {
  let seen = counts[255];
  if (seen >= total / 2) return ((0.5 * total) / Math.max(1, seen)) * 0.5;
  for (let d = 1; d < 256; d++) {
    const n = counts[255 - d] + counts[255 + d];
    if (seen + n >= total / 2) return d - 0.5 + (total / 2 - seen) / n;
    seen += n;
  }
  return 255;
}

/** Puts container, time stamps and pictures together. `repeats` must have seen every decoded frame. */
export function mediaFacts(container: ContainerFacts, repeats: RepeatMeter, state: FileState = {}): MediaFacts {
  const { cuts = [], stops = [], shot, whole = true, broken = [] } = state;
  const declared = rateOf(container.containerFps);
  const times = container.times.slice(0, repeats.count);
  const known = times.length >= 2 && times.every(Number.isFinite);
  const gaps = known ? times.slice(1).map((t, i) => t - times[i]) : [];
  const usual = gaps.length ? median(gaps) : Number.isFinite(declared) ? 1 / declared : NaN;
  const span = known ? times[times.length - 1] - times[0] : NaN;
  const measured = known && span > 0 ? (times.length - 1) / span : Number.isFinite(declared) ? declared : NaN;
  // Containers round times (to a millisecond in some): a gap is off when it differs by more than that allows.
  const tolerance = Math.max(0.0021, 0.02 * usual);
  const uneven = gaps.filter((g) => Math.abs(g - usual) > tolerance).length;
  const missing = gaps.flatMap((g, i) => {
    const count = Math.round(g / usual) - 1;
    // A gap of hardly two pictures may be a rate that wanders; a longer one is none.
    const isGap = count >= 2 || Math.abs(g / usual - (count + 1)) < 0.25;
    return count >= 1 && isGap ? [{ after: i, count }] : [];
  });
  const repeated = repeats.repeated(Number.isFinite(measured) ? Math.max(2, Math.round(measured / 2)) : 12);
  const count = repeats.count;
  const rate = Number.isFinite(measured) ? measured : null;
  const share = count ? repeated.length / count : 0;
  return {
    width: container.width,
    height: container.height,
    rotation_deg: container.rotationDeg,
    codec: container.codec,
    pixel_format: container.pixelFormat,
    bit_depth: container.bitDepth,
    frame_count: count,
    duration_s: known && Number.isFinite(usual) ? span + usual : rate ? count / rate : null,
    container_fps: container.containerFps,
    measured_fps: rate,
    variable_rate: known ? uneven > Math.max(1, 0.02 * gaps.length) || (missing.length > 0 && uneven > 0) : null,
    repeated_frames: repeated,
    repeated_share: share,
    real_fps: rate === null ? null : rate * (1 - share),
    missing_frames: missing,
    missing_count: missing.reduce((n, m) => n + m.count, 0),
    first_gap_after: missing[0]?.after ?? null,
    timecode: container.timecode,
    cuts: [...cuts],
    stops: [...stops],
    shot: shot ?? { start: 0, end: Math.max(0, count - 1) },
    declared_frames: state.declared ?? null,
    complete: whole,
    broken_frames: [...broken],
  };
}
