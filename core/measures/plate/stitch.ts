import { findRegions } from '../../base/image/regions';
import type { Box } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

/** Full-size colour, three values a pixel, row by row. */
export interface ColourPicture {
  width: number;
  height: number;
  data: Uint8Array | Uint16Array;
  most: 255 | 65535;
}

/** Regions of never seen pixels smaller than this share of the picture are not worth a box. */
const LEAST_UNSEEN = 0.00005;

/**
 * Averages pictures of one place where each is free: add frame by frame, then finish. Where nothing was ever free, the
 * middle of all pictures stands in, and the map says so.
 */
export class PlateStitcher {
  private readonly sums: Float64Array;
  private readonly weights: Float32Array;
  private readonly all: Float64Array;
  private frames = 0;

  /** @param keepGrain each pixel from one frame alone, so that the plate has a frame's own grain */
  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly most: 255 | 65535,
    private readonly keepGrain = false,
  ) {
    this.sums = new Float64Array(width * height * 3);
    this.weights = new Float32Array(width * height);
    this.all = new Float64Array(keepGrain ? 0 : width * height * 3);
  }

  /**
   * @param free which pixels may be used, on a smaller grid; null for all
   * @param relight new value for each value (0 to `most`), to bring the frame to the plate's light; null leaves it
   */
  add(
    data: Uint8Array | Uint16Array,
    free: { mask: Uint8Array; width: number; height: number } | null,
    relight: Float32Array | null,
  ): void {
    const { width, height, sums, weights, all } = this;
    const average = all.length > 0;
    for (let y = 0, i = 0; y < height; y++) {
      const row = free ? min(free.height - 1, floor((y * free.height) / height)) * free.width : 0;
      for (let x = 0; x < width; x++, i++) {
        const open = free ? free.mask[row + min(free.width - 1, floor((x * free.width) / width))] : 1;
        if (!open && !average) continue;
        const k = 3 * i;
        const r = relight ? relight[data[k]] : data[k],
          g = relight ? relight[data[k + 1]] : data[k + 1],
          b = relight ? relight[data[k + 2]] : data[k + 2];
        if (average) {
          all[k] += r;
          all[k + 1] += g;
          all[k + 2] += b;
        }
        if (!open || (this.keepGrain && weights[i] > 0)) continue;
        sums[k] += r;
        sums[k + 1] += g;
        sums[k + 2] += b;
        weights[i]++;
      }
    }
    this.frames++;
  }

  finish(): { picture: ColourPicture; unseenShare: number; unseen: Box[] } {
    const { width, height, sums, weights, most, frames, all } = this;
    const data = most === 255 ? new Uint8Array(sums.length) : new Uint16Array(sums.length);
    const missing = new Uint8Array(weights.length);
    let unseen = 0;
    for (let i = 0; i < weights.length; i++) {
      const w = weights[i];
      if (w === 0) {
        missing[i] = 1;
        unseen++;
      }
      for (let c = 0; c < 3; c++) {
        const v = w > 0 ? sums[3 * i + c] / w : all.length && frames ? all[3 * i + c] / frames : 0;
        data[3 * i + c] = max(0, min(most, round(v)));
      }
    }
    const boxes = unseen
      ? findRegions(missing, width, height, max(4, LEAST_UNSEEN * weights.length)).map((r) => ({
          x: r.left,
          y: r.top,
          width: r.right - r.left + 1,
          height: r.bottom - r.top + 1,
        }))
      : [];
    return { picture: { width, height, data, most }, unseenShare: unseen / weights.length, unseen: boxes };
  }
}
