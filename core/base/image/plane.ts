import { sigmaOfMad } from '../numeric/robust';
// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round, sqrt } = Math;

/** One grey picture: `data[y * width + x]`, 0 black to 255 white, in the clip's own transfer curve. */
export interface Plane {
  width: number;
  height: number;
  data: Uint8Array | Float32Array;
}

/** Refuses a plane whose data does not fit its size. */
export function assertPlane(plane: Plane): void {
  const { width, height, data } = plane;
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1) {
    throw new RangeError(`A picture needs a whole width and height of at least 1 px, not ${width} x ${height}.`);
  }
  if (data.length !== width * height) {
    throw new RangeError(`A ${width} x ${height} picture has ${width * height} values, not ${data.length}.`);
  }
}

/** The plane's values as whole numbers from 0 to 255; its own data where they are bytes already. */
export function asBytes({ data }: Plane): Uint8Array {
  return data instanceof Uint8Array ? data : Uint8Array.from(data, (v) => max(0, min(255, round(v))));
}

/** Averages blocks of `factor` x `factor` pixels; what is left over at the right and bottom is dropped. */
export function shrink(plane: Plane, factor: number, out?: Float32Array): Plane {
  const width = floor(plane.width / factor);
  const height = floor(plane.height / factor);
  const data = out && out.length === width * height ? out : new Float32Array(width * height);
  const source = plane.data;
  const weight = 1 / (factor * factor);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let j = 0; j < factor; j++) {
        const row = (y * factor + j) * plane.width + x * factor;
        for (let i = 0; i < factor; i++) sum += source[row + i];
      }
      data[y * width + x] = sum * weight;
    }
  }
  return { width, height, data };
}

/**
 * Standard deviation of the picture's grain, in grey levels of 255. Median absolute response of a mask that cancels
 * planes and straight edges (Immerkaer 1996), so that detail counts little.
 */
export function grainOf(plane: Plane): number {
  const { width, height, data } = plane;
  if (width < 8 || height < 8) return 0.5;
  const step = max(1, floor(sqrt((width * height) / 40000)));
  const counts = new Uint32Array(1024);
  let total = 0;
  for (let y = 1; y < height - 1; y += step) {
    for (let x = 1; x < width - 1; x += step) {
      const i = y * width + x;
      const r = abs(
        data[i - width - 1] -
          2 * data[i - width] +
          data[i - width + 1] -
          2 * (data[i - 1] - 2 * data[i] + data[i + 1]) +
          data[i + width - 1] -
          2 * data[i + width] +
          data[i + width + 1],
      );
      counts[min(1023, round(r))]++;
      total++;
    }
  }
  let seen = 0;
  let median = 0;
  while (median < 1023 && seen + counts[median] < total / 2) seen += counts[median++];
  const inside = counts[median] ? (total / 2 - seen) / counts[median] - 0.5 : 0;
  // The mask's own gain on white noise is 6.
  return sigmaOfMad(max(0, median + inside)) / 6;
}
