import { applySimilarity, invertSimilarity, type Similarity } from '../geometry/similarity';
import type { SmallPicture, SmallSize } from './picture';
import { addressOf as at, Kernels } from '../kernels/kernels';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { cos, floor, max, min, sin } = Math;

/** A panorama as one camera position shows it. Colours lie at the luma pixels. */
export interface View {
  luma: Float32Array;
  blue: Float32Array;
  red: Float32Array;
  /** 1 where the panorama has been seen. */
  known: Uint8Array;
}

/** The share by which the panorama follows what is seen, at least: light and focus change slowly. */
const FOLLOW = 0.12;
/** Widths and heights of the picture that a panorama may reach to each side. */
const REACH_X = 2.2,
  REACH_Y = 0.8;

/**
 * What lies behind, put together from the pictures of a camera that may move: pixels of the first picture's place,
 * reaching beyond its edges. Poses say where the first picture's content lies in a frame, in small pixels about its
 * centre.
 */
export class Panorama {
  private readonly width: number;
  private readonly height: number;
  private readonly left: number;
  private readonly top: number;
  private readonly kernels: Kernels;
  private readonly own: ReturnType<typeof room>['arrays'];
  readonly view: View;
  /** The pose that the view shows; null when something was added since. */
  private shown: Similarity | null = null;
  /** Whether its colour is shown too. */
  private coloured = false;

  constructor(
    private readonly size: SmallSize,
    moving: boolean,
  ) {
    this.left = moving ? floor(size.width * REACH_X) : 0;
    this.top = moving ? floor(size.height * REACH_Y) : 0;
    this.width = size.width + 2 * this.left;
    this.height = size.height + 2 * this.top;
    const { kernels, arrays } = room(size, this.width * this.height);
    this.kernels = kernels;
    this.own = arrays;
    this.view = { luma: arrays.luma, blue: arrays.blue, red: arrays.red, known: arrays.known };
  }

  /** Shows the panorama as a frame at this pose would see it; what is given is used again. @param colour false where its luma is enough */
  show(pose: Similarity, colour = true): View {
    const { size, width, height, own, view } = this;
    const last = this.shown;
    if (
      last &&
      last.dx === pose.dx &&
      last.dy === pose.dy &&
      last.rotation === pose.rotation &&
      last.scale === pose.scale &&
      (this.coloured || !colour)
    )
      return view;
    this.shown = { ...pose };
    this.coloured = colour;
    const back = invertSimilarity(pose);
    const c = back.scale * cos(back.rotation),
      s = back.scale * sin(back.rotation);
    const cx = (size.width - 1) / 2,
      cy = (size.height - 1) / 2;
    const [u0, v0] = applySimilarity(back, -cx, -cy);
    this.kernels.run.showPanorama({
      field: at(own.field),
      width,
      height,
      u0: u0 + cx + this.left,
      v0: v0 + cy + this.top,
      c,
      s,
      across: size.width,
      down: size.height,
      coloured: colour ? 1 : 0,
      luma: at(own.luma),
      blue: at(own.blue),
      red: at(own.red),
      known: at(own.known),
    });
    return view;
  }

  /**
   * What a frame at this pose is expected to show, in a light of `gain`, and where it may be compared: where the
   * panorama was seen and nothing covers it; what is given is used again.
   */
  expect(
    pose: Similarity,
    gain: number,
    covered: Uint8Array,
  ): { expected: Float32Array; usable: Uint8Array; share: number } {
    const { own } = this;
    this.show(pose, false);
    own.covered.set(covered);
    const count = this.kernels.run.expectView({
      luma: at(own.luma),
      known: at(own.known),
      covered: at(own.covered),
      gain,
      count: covered.length,
      expected: at(own.expected),
      usable: at(own.usable),
    });
    return { expected: own.expected, usable: own.usable, share: count / covered.length };
  }

  /**
   * Takes in what a frame at this pose shows where `free` says that nothing stands in front; null takes all of it.
   * @param gain factor that brings the frame's luma to the panorama's light
   */
  add(picture: SmallPicture, pose: Similarity, free: Uint8Array | null, gain: number): void {
    const { size, width, height, own } = this;
    this.shown = null;
    const cx = (size.width - 1) / 2,
      cy = (size.height - 1) / 2;
    // Every pixel of the panorama that the frame may show.
    const back = invertSimilarity(pose);
    const corners = [
      [-cx, -cy],
      [cx, -cy],
      [cx, cy],
      [-cx, cy],
    ].map(([x, y]) => applySimilarity(back, x, y));
    const fromX = max(0, floor(min(...corners.map((p) => p[0])) + cx + this.left)),
      toX = min(width - 1, floor(max(...corners.map((p) => p[0])) + cx + this.left) + 1);
    const fromY = max(0, floor(min(...corners.map((p) => p[1])) + cy + this.top)),
      toY = min(height - 1, floor(max(...corners.map((p) => p[1])) + cy + this.top) + 1);
    const c = pose.scale * cos(pose.rotation),
      s = pose.scale * sin(pose.rotation);
    const [u0, v0] = applySimilarity(pose, -cx - this.left, -cy - this.top);
    own.seenLuma.set(picture.luma);
    own.seenBlue.set(picture.blue);
    own.seenRed.set(picture.red);
    if (free) own.free.set(free);
    this.kernels.run.addToPanorama({
      field: at(own.field),
      weight: at(own.weight),
      width,
      fromX,
      toX,
      fromY,
      toY,
      u0: u0 + cx,
      v0: v0 + cy,
      c,
      s,
      luma: at(own.seenLuma),
      blue: at(own.seenBlue),
      red: at(own.seenRed),
      free: free ? at(own.free) : 0,
      across: size.width,
      down: size.height,
      colourAcross: size.colourWidth,
      colourDown: size.colourHeight,
      gain,
      follow: FOLLOW,
    });
  }
}

/** The field (luma, blue, red and whether it was seen, pixel by pixel), what it shows and leads to expect, and a frame. */
function room({ width, height, colourWidth, colourHeight }: SmallSize, whole: number) {
  const pixels = width * height,
    colours = colourWidth * colourHeight;
  return Kernels.with({
    field: ['floats', 4 * whole],
    weight: ['floats', whole],
    luma: ['floats', pixels],
    blue: ['floats', pixels],
    red: ['floats', pixels],
    known: ['bytes', pixels],
    covered: ['bytes', pixels],
    expected: ['floats', pixels],
    usable: ['bytes', pixels],
    seenLuma: ['bytes', pixels],
    seenBlue: ['bytes', colours],
    seenRed: ['bytes', colours],
    free: ['bytes', pixels],
  });
}
