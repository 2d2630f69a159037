import type { SmallPicture, SmallSize } from '../../base/image/picture';
import { addressOf as at, Kernels } from '../../base/kernels/kernels';
import type { View } from '../../base/image/panorama';

/** Edges may lie this far off, small pixels, or be this much softer in the panorama, which was put together from many pictures. */
const SLACK = 0.5;
/** Mean square of nine pixels' differences, luma and colour, each against its noise, from which they are something else. */
const OTHER = 7;
const CAP = 40;
/** Most of the nine must each differ by this. */
const ONE = 2.5;
/** Fewer pixels than this share that differ at all are nothing. */
const FEW = 0.001;
/** At a glance each so many pixels are looked at, across and down. */
const GLANCE = 2;
/** The same over 81 pixels, with each difference cut, and what the nine nearest must show besides. */
const OTHER_WIDE = 2.2;
const OTHER_NEAR = 1.6;
const WIDE_CAP = 6;
/** Where this share of a line is covered, less is enough; so much of it must be known. */
const MUCH = 0.35;
const SEEN = 0.3;
const LESS_WIDE = 1.2;
const LEAST_COLOUR = 1.4;
/** What lies nearer or further than the rest shifts by another amount when the camera moves, small pixels. */
const PARALLAX: [number, number][] = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [2, 0],
  [-2, 0],
];
/** A shift explains what differs when it leaves this share of it, or less. */
const EXPLAINED = 0.3;
/** Other shifts are looked at when more than this share seems to be something else. */
const LOOK_AGAIN = 0.01;

/** Tells where a picture is something else than the background. Buffers are used again. */
export class UnlikeTest {
  private readonly kernels: Kernels;
  private readonly own: ReturnType<typeof room>['arrays'];

  constructor(private readonly size: SmallSize) {
    const { kernels, arrays } = room(size);
    this.kernels = kernels;
    this.own = arrays;
    arrays.shifts.set(PARALLAX.flat().map((v) => v & 255));
  }

  /**
   * 1 where the picture is something else; 0 too where the background is not known.
   * @param noise spread of luma, levels. @param moving whether parts of the background may have shifted by themselves
   */
  test(picture: SmallPicture, view: View, gain: number, noise: number, moving: boolean): Uint8Array {
    const { width, height, colourWidth } = this.size;
    const {
      own,
      kernels: { run },
    } = this;
    const pixels = width * height;
    own.luma.set(picture.luma);
    own.blue.set(picture.blue);
    own.red.set(picture.red);
    own.known.set(view.known);
    own.ownLuma.set(view.luma);
    own.ownBlue.set(view.blue);
    own.ownRed.set(view.red);
    run.allowances({
      luma: at(own.ownLuma),
      blue: at(own.ownBlue),
      red: at(own.ownRed),
      width,
      height,
      slack: SLACK * gain,
      base: noise * noise,
      tintSlack: SLACK,
      tinted: 4 * LEAST_COLOUR * LEAST_COLOUR,
      least: at(own.least),
      leastColour: at(own.leastColour),
    });
    run.squaresOf({
      luma: at(own.luma),
      blue: at(own.blue),
      red: at(own.red),
      colourAcross: colourWidth,
      ownLuma: at(own.ownLuma),
      ownBlue: at(own.ownBlue),
      ownRed: at(own.ownRed),
      known: at(own.known),
      width,
      height,
      gain,
      least: at(own.least),
      leastColour: at(own.leastColour),
      cap: CAP,
      wideCap: WIDE_CAP,
      squares: at(own.square),
      cut: at(own.cut),
    });
    // By their number and not their sum, so that an object does not grow by half a window.
    if (run.markAbove({ values: at(own.square), count: pixels, limit: ONE, marks: at(own.scratch) }) < FEW * pixels) {
      own.near.fill(0);
      own.wide.fill(0);
      return new Uint8Array(pixels);
    }
    run.boxMeans({ values: at(own.scratch), width, height, r: 1, columns: at(own.columns), out: at(own.most) });
    run.boxMeans({ values: at(own.square), width, height, r: 1, columns: at(own.columns), out: at(own.near) });
    // Where an object is nearly as bright as what it hides, many pixels together tell what a few do not; those that tell by
    // themselves are left out, so that an object does not grow by half of the larger window either.
    run.leaveOut({ values: at(own.near), count: pixels, limit: OTHER, cut: at(own.cut), rest: at(own.rest) });
    run.boxMeans({ values: at(own.cut), width, height, r: 4, columns: at(own.columns), out: at(own.wide) });
    run.boxMeans({ values: at(own.rest), width, height, r: 4, columns: at(own.columns), out: at(own.scratch) });
    run.divideBy({ sums: at(own.wide), shares: at(own.scratch), count: pixels });
    const marked = run.markOther({
      known: at(own.known),
      near: at(own.near),
      most: at(own.most),
      wide: at(own.wide),
      count: pixels,
      other: OTHER,
      otherWide: OTHER_WIDE,
      otherNear: OTHER_NEAR,
      out: at(own.out),
    });
    if (marked >= LOOK_AGAIN * pixels && moving) {
      // What is explained by a part of the background that shifted by another amount is none.
      run.explainByShift({
        out: at(own.out),
        near: at(own.near),
        luma: at(own.luma),
        blue: at(own.blue),
        red: at(own.red),
        colourAcross: colourWidth,
        ownLuma: at(own.ownLuma),
        ownBlue: at(own.ownBlue),
        ownRed: at(own.ownRed),
        known: at(own.known),
        width,
        height,
        gain,
        least: at(own.least),
        leastColour: at(own.leastColour),
        cap: CAP,
        shifts: at(own.shifts),
        many: PARALLAX.length,
        other: OTHER,
        most: OTHER_NEAR,
        explained: EXPLAINED,
      });
    }
    return own.out.slice();
  }

  /** Whether a picture is the background at a glance, by some of its pixels, and by what the last test allowed them to differ. */
  isLike({ luma }: SmallPicture, view: View, gain: number): boolean {
    const { width, height } = this.size;
    return glance(luma, view, gain, this.own.least, width, height) < FEW * (width / GLANCE) * (height / GLANCE);
  }

  /**
   * While the camera pans, the columns (or rows) in which much is known to be covered are looked at again with less
   * doubt: something as large as that seldom ends where it is as bright as what it hides. Call after `test`, for the
   * same picture.
   */
  lookAgain(raw: Uint8Array, { known }: View, across: boolean): void {
    const { width, height } = this.size;
    const { own } = this;
    own.out.set(raw);
    own.known.set(known);
    this.kernels.run.setInLines({
      raw: at(own.out),
      known: at(own.known),
      wide: at(own.wide),
      width,
      height,
      across: across ? 1 : 0,
      seen: SEEN,
      much: MUCH,
      limit: LESS_WIDE,
      set: at(own.scratch),
      knownIn: at(own.rest),
    });
    raw.set(own.out);
  }
}

/** A picture, the view of what lies behind it, and what is made of them, in the kernels' memory. */
function room({ width, height, colourWidth, colourHeight }: SmallSize) {
  const pixels = width * height,
    colours = colourWidth * colourHeight;
  return Kernels.with({
    luma: ['bytes', pixels],
    blue: ['bytes', colours],
    red: ['bytes', colours],
    known: ['bytes', pixels],
    out: ['bytes', pixels],
    shifts: ['bytes', 2 * PARALLAX.length],
    ownLuma: ['floats', pixels],
    ownBlue: ['floats', pixels],
    ownRed: ['floats', pixels],
    least: ['floats', pixels],
    leastColour: ['floats', pixels],
    square: ['floats', pixels],
    cut: ['floats', pixels],
    near: ['floats', pixels],
    wide: ['floats', pixels],
    scratch: ['floats', pixels],
    most: ['floats', pixels],
    rest: ['floats', pixels],
    columns: ['floats', width + 3],
  });
}

/** Number of pixels of a coarse grid whose luma differs. */
function glance(
  luma: Uint8Array,
  { luma: behind, known }: View,
  gain: number,
  allowed: Float32Array,
  width: number,
  height: number,
): number {
  let n = 0;
  for (let y = 0; y < height; y += GLANCE) {
    for (let x = y % GLANCE, i = y * width + x; x < width; x += GLANCE, i += GLANCE) {
      const d = luma[i] - gain * behind[i];
      if (d * d * allowed[i] > ONE && known[i] === 1) n++;
    }
  }
  return n;
}
