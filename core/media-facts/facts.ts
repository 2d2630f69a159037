import type { MediaFacts } from '../report/types';
import type { Plane } from '../image/plane';
import { median } from '../lock/knocks';

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

/** "30000/1001" as a number; NaN when it is no rate. */
export function rateOf(text: string): number {
  const [a, b = 1] = text.split('/').map(Number);
  const rate = a / b;
  return rate > 0 && Number.isFinite(rate) ? rate : NaN;
}

/**
 * Notes how much each frame differs from the one before: `frame` for every frame in order, then `repeated`.
 * A repeated frame is one whose picture is a copy although the picture around it in time changes (grain counts as change).
 */
export class RepeatMeter {
  private readonly differences: number[] = [];
  private last: Uint8Array | null = null;

  frame(plane: Plane): void {
    const { data } = plane;
    const step = 7;
    const count = Math.ceil(data.length / step);
    const last = this.last;
    const now = this.last ?? new Uint8Array(count);
    let sum = 0;
    for (let i = 0, k = 0; i < data.length; i += step, k++) {
      const v = data[i];
      const d = v - now[k];
      sum += d < 0 ? -d : d;
      now[k] = v;
    }
    this.differences.push(last ? sum / count : NaN);
    this.last = now;
  }

  get count(): number {
    return this.differences.length;
  }

  /**
   * Numbers of the frames that repeat the one before.
   * @param windowFrames how many frames on each side tell what change is usual
   */
  repeated(windowFrames: number): number[] {
    const d = this.differences;
    const found: number[] = [];
    for (let f = 1; f < d.length; f++) {
      const start = Math.max(1, f - windowFrames);
      const around = d.slice(start, f + windowFrames + 1).sort((a, b) => a - b);
      // Nine frames in ten may be copies before there is nothing left to compare with.
      const usual = around[Math.floor(0.9 * (around.length - 1))];
      if (usual > 0.05 && d[f] < 0.08 * usual) found.push(f);
    }
    return found;
  }
}

/** Puts container, time stamps and pictures together. `repeats` must have seen every decoded frame. */
export function mediaFacts(container: ContainerFacts, repeats: RepeatMeter): MediaFacts {
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
    return count >= 1 && Math.abs(g / usual - (count + 1)) < 0.25 ? [{ after: i, count }] : [];
  });
  const repeated = repeats.repeated(Number.isFinite(measured) ? Math.max(12, Math.round(2 * measured)) : 50);
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
    timecode: container.timecode,
  };
}
