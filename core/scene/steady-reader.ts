import { greatestDisplacement, IDENTITY, type Similarity } from '../base/geometry/similarity';
import type { Plane } from '../base/image/plane';
import type { SmallSize } from '../base/image/picture';
import { addressOf as at, Kernels, onceForSize } from '../base/kernels/kernels';
import type { PixelBox } from '../base/image/regions';
import type { Pictures } from '../base/image/stack';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { cos, max, sin } = Math;

/** Movements smaller than this, in small pixels, are left as they are. */
const LEAST_MOVE = 0.08;

/** A small picture as it lies on the reference frame. */
export interface SteadyPicture {
  luma: Uint8Array;
  blue: Uint8Array;
  red: Uint8Array;
  /** Small pixels that the frame shows, with a rim left out, 1 or 0; null when it shows all of them. */
  seen: Uint8Array | null;
}

/** What is laid round the reference frame, to each side, small pixels: even numbers. */
export interface Margin {
  x: number;
  y: number;
}

/** Gives a take's small pictures laid on the reference frame, by what the lock measured. */
export class SteadyReader {
  /** That of the reference frame with its margin. */
  readonly size: SmallSize;
  readonly count: number;
  private readonly out: SteadyPicture & { seen: Uint8Array };

  /**
   * @param poses camera movement against the reference frame, in source pixels; null where unknown. @param factor
   * source pixels for one small pixel
   */
  constructor(
    private readonly stack: Pictures,
    private readonly poses: readonly (Similarity | null)[],
    private readonly factor: number,
    private readonly margin: Margin = { x: 0, y: 0 },
  ) {
    const own = stack.size;
    this.size = {
      ...own,
      width: own.width + 2 * margin.x,
      height: own.height + 2 * margin.y,
      colourWidth: own.colourWidth + margin.x,
      colourHeight: own.colourHeight + margin.y,
    };
    this.count = stack.count;
    const { width, height, colourWidth, colourHeight } = this.size;
    const bytes = (n: number) => new Uint8Array(n);
    this.out = {
      luma: bytes(width * height),
      blue: bytes(colourWidth * colourHeight),
      red: bytes(colourWidth * colourHeight),
      seen: bytes(width * height),
    };
  }

  /** How far the frame's picture lies off the reference, in small pixels; null when that is not known. */
  displacement(frame: number): number | null {
    const p = this.poses[frame];
    if (!p) return null;
    return greatestDisplacement(this.small(p), IDENTITY, this.stack.size.width, this.stack.size.height);
  }

  private small(p: Similarity): Similarity {
    return { ...p, dx: p.dx / this.factor, dy: p.dy / this.factor };
  }

  /** The picture of a frame, valid until the next call; null where the camera's place is not known. */
  read(frame: number): SteadyPicture | null {
    const pose = this.poses[frame];
    if (!pose) return null;
    const picture = this.stack.read(frame);
    const p = this.small(pose);
    const { width, height, colourWidth, colourHeight } = this.stack.size;
    const { out, margin, size } = this;
    const bare = margin.x === 0 && margin.y === 0;
    if (bare && greatestDisplacement(p, IDENTITY, width, height) < LEAST_MOVE) return { ...picture, seen: null };
    const colours = { width: colourWidth, height: colourHeight };
    const half = { width: size.colourWidth, height: size.colourHeight };
    layPlane({ width, height, data: picture.luma }, p, 1, out.luma, out.seen, size);
    layPlane({ ...colours, data: picture.blue }, p, 0.5, out.blue, null, half);
    layPlane({ ...colours, data: picture.red }, p, 0.5, out.red, null, half);
    return out;
  }
}

/** Weights of the cubic through four samples (Catmull & Rom 1974; Keys 1981 with a = -1/2) at 64 fractions, four by four. */
const CUBIC = Float32Array.from({ length: 65 * 4 }, (_, n) => {
  const t = (n >> 2) / 64;
  switch (n & 3) {
    case 0:
      return t * (-0.5 + t * (1 - 0.5 * t));
    case 1:
      return 1 + t * t * (-2.5 + 1.5 * t);
    case 2:
      return t * (0.5 + t * (2 - 1.5 * t));
    default:
      return t * t * (-0.5 + 0.5 * t);
  }
});

/**
 * Looks a plane up where `pose`, times `scale`, put the reference's pixels. Pixels from outside keep the nearest edge and
 * are not seen. @param shape of what is made, about the same middle; the plane's own when left out @param part of it that
 * is made, both ends included; the rest of `out` stays as it is
 */
export function layPlane(
  plane: Plane,
  pose: Similarity,
  scale: number,
  out: Uint8Array,
  seen: Uint8Array | null,
  shape: { width: number; height: number } = plane,
  part: PixelBox = { left: 0, top: 0, right: shape.width - 1, bottom: shape.height - 1 },
): void {
  const { width, height, data } = plane;
  const c = pose.scale * cos(pose.rotation),
    s = pose.scale * sin(pose.rotation);
  const mx = (shape.width - 1) / 2,
    my = (shape.height - 1) / 2;
  const { left, top } = part;
  const across = part.right - left + 1,
    down = part.bottom - top + 1;
  const pixels = across * down;
  const { kernels, arrays: a } = roomFor(max(data.length, pixels));
  a.plane.set(data);
  kernels.run.layPicture({
    plane: at(a.plane),
    width,
    height,
    u0: pose.dx * scale + (width - 1) / 2 + c * (left - mx) - s * (top - my),
    v0: pose.dy * scale + (height - 1) / 2 + s * (left - mx) + c * (top - my),
    c,
    s,
    across,
    down,
    cubic: at(a.cubic),
    out: at(a.out),
    seen: seen ? at(a.seen) : 0,
  });
  const put = (from: Uint8Array, to: Uint8Array) => {
    if (across === shape.width) to.set(from.subarray(0, pixels), top * across);
    else
      for (let y = 0; y < down; y++)
        to.set(from.subarray(y * across, (y + 1) * across), (top + y) * shape.width + left);
  };
  put(a.out, out);
  if (seen) put(a.seen, seen);
}

const roomFor = onceForSize((pixels) => {
  const made = Kernels.with({
    plane: ['bytes', pixels],
    cubic: ['floats', CUBIC.length],
    out: ['bytes', pixels],
    seen: ['bytes', pixels],
  });
  made.arrays.cubic.set(CUBIC);
  return made;
});
