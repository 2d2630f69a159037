import { ColourIntake, fineSize, LumaIntake, smallSize, type Matrix, type Picture } from '../base/image/picture';
import { Scaler, turned } from '../base/image/scale';
import { MemoryStore } from '../base/image/stack';
import {
  matrixOf,
  measureSize,
  type ColourWish,
  type FullPicture,
  type PictureFacts,
  type PictureSource,
  type PictureWish,
  type Reading,
  type ReadWish,
} from './source';

interface Size {
  width: number;
  height: number;
}

/** One frame as a decoder gives it: luma and the two colour differences, each in a plane of bytes, row after row. */
export interface DecodedFrame {
  luma: Uint8Array;
  blue: Uint8Array;
  red: Uint8Array;
}

/** Frames that something else decodes: a browser, or a test. */
export interface DecodedFrames {
  facts: PictureFacts;
  /** Sizes of the planes as they are decoded: not turned, pixels as they were coded. */
  luma: Size;
  colour: Size;
  /** All frames in presentation order, from the first; may be asked for again. Each is used again for the next. */
  frames: () => AsyncIterable<DecodedFrame>;
  /** Presentation times in order, seconds. */
  times: number[];
}

const turnedSize = ({ width, height }: Size, degrees: number): Size =>
  degrees % 180 ? { width: height, height: width } : { width, height };

/** Pictures of one size at measuring size, of the whole range: what ffmpeg's scaling gives, to a rounding. */
class MeasuringIntake {
  private readonly luma: Scaler;
  private readonly small: Scaler;
  private readonly fine: Scaler | null;
  private readonly intake: LumaIntake;
  private readonly smallColours: Uint8Array;
  private readonly fineColours: Uint8Array;
  private readonly widen: { small: ColourIntake; fine: ColourIntake | null } | null;
  private readonly measured: Uint8Array;

  constructor(
    private readonly source: DecodedFrames,
    size: Size,
    fineColour: boolean,
  ) {
    const { facts } = source;
    const { rotationDeg, fullRange } = facts;
    this.luma = new Scaler(turnedSize(source.luma, rotationDeg), size, 'spline');
    this.intake = new LumaIntake(size.width, size.height, !fullRange, size.width < facts.width);
    this.measured = new Uint8Array(size.width * size.height);
    const { colourWidth, colourHeight } = smallSize(size.width, size.height);
    const fine = fineSize(size.width, size.height);
    // Blue differences above red ones, as one picture.
    const both = ({ width, height }: Size) => ({ width, height: 2 * height });
    const colour = both(turnedSize(source.colour, rotationDeg));
    this.small = new Scaler(colour, both({ width: colourWidth, height: colourHeight }), 'area');
    this.fine = fineColour ? new Scaler(colour, both(fine), 'area') : null;
    this.smallColours = new Uint8Array(2 * colourWidth * colourHeight);
    this.fineColours = new Uint8Array(fineColour ? 2 * fine.width * fine.height : 0);
    this.widen = fullRange
      ? null
      : {
          small: new ColourIntake(this.smallColours.length),
          fine: fineColour ? new ColourIntake(this.fineColours.length) : null,
        };
  }

  /** One picture; overwritten by the next. */
  take(frame: DecodedFrame): Picture {
    const { source, smallColours, fineColours, widen } = this;
    const { rotationDeg } = source.facts;
    this.luma.run(turned(frame.luma, source.luma, rotationDeg), this.measured);
    const planes = [frame.blue, frame.red].map((p) => turned(p, source.colour, rotationDeg));
    const both = new Uint8Array(planes[0].length + planes[1].length);
    both.set(planes[0]);
    both.set(planes[1], planes[0].length);
    this.small.run(both, smallColours);
    this.fine?.run(both, fineColours);
    const { luma, small } = this.intake.take(this.measured);
    const colours = widen?.small.widen(smallColours) ?? smallColours;
    const half = colours.length / 2;
    return {
      luma,
      small: { luma: small, blue: colours.subarray(0, half), red: colours.subarray(half) },
      ...(this.fine ? { fineColour: widen?.fine?.widen(fineColours) ?? fineColours } : {}),
    };
  }
}

/** Red, green and blue of pixels whose luma and colour differences are known (Rec. ITU-R BT.709, 3.3 and 3.4). */
function rgbOf(
  { luma, blue, red }: DecodedFrame,
  { fullRange }: PictureFacts,
  { red: kr, blue: kb }: Matrix,
  out: Uint8Array,
): void {
  const [black, gain, colourGain] = fullRange ? [0, 1, 1] : [16, 255 / 219, 255 / 224];
  const kg = 1 - kr - kb;
  const clamp = (v: number) => Math.max(0, Math.min(255, Math.round(v)));
  for (let i = 0, k = 0; i < luma.length; i++, k += 3) {
    const y = (luma[i] - black) * gain,
      b = (blue[i] - 128) * colourGain * 2 * (1 - kb),
      r = (red[i] - 128) * colourGain * 2 * (1 - kr);
    out[k] = clamp(y + r);
    out[k + 1] = clamp(y - (kr * r + kb * b) / kg);
    out[k + 2] = clamp(y + b);
  }
}

/** Frames in red, green and blue at a size; both sides may be cut to fill it. */
class ColourTaker {
  private readonly scaled: Size;
  private readonly scalers: { luma: Scaler; colour: Scaler };
  private readonly planes: DecodedFrame;
  private readonly rgb: Uint8Array;

  constructor(
    private readonly source: DecodedFrames,
    private readonly size: Size,
  ) {
    const { facts } = source;
    const { rotationDeg } = facts;
    const by = Math.max(size.width / facts.width, size.height / facts.height);
    this.scaled = {
      width: Math.max(size.width, Math.round(facts.width * by)),
      height: Math.max(size.height, Math.round(facts.height * by)),
    };
    this.scalers = {
      luma: new Scaler(turnedSize(source.luma, rotationDeg), this.scaled, 'area'),
      colour: new Scaler(turnedSize(source.colour, rotationDeg), this.scaled, 'area'),
    };
    const plane = () => new Uint8Array(this.scaled.width * this.scaled.height);
    this.planes = { luma: plane(), blue: plane(), red: plane() };
    this.rgb = new Uint8Array(3 * this.scaled.width * this.scaled.height);
  }

  take(frame: DecodedFrame, mirror = false): Uint8Array {
    const { source, scaled, size, planes, rgb } = this;
    const { rotationDeg } = source.facts;
    for (const name of ['luma', 'blue', 'red'] as const) {
      const kind = name === 'luma' ? 'luma' : 'colour';
      this.scalers[kind].run(turned(frame[name], source[kind], rotationDeg), planes[name]);
    }
    rgbOf(planes, source.facts, matrixOf(source.facts), rgb);
    if (scaled.width === size.width && scaled.height === size.height && !mirror) return rgb;
    const [left, top] = [(scaled.width - size.width) >> 1, (scaled.height - size.height) >> 1];
    const out = new Uint8Array(3 * size.width * size.height);
    for (let y = 0, o = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++, o += 3) {
        const i = 3 * ((y + top) * scaled.width + left + (mirror ? size.width - 1 - x : x));
        for (let c = 0; c < 3; c++) out[o + c] = rgb[i + c];
      }
    return out;
  }
}

/** A recording that something else has decoded, as measures read it. */
export function decodedSource(source: DecodedFrames): PictureSource {
  const { facts, times } = source;
  const chosen = async function* (wanted: (f: number) => boolean, last: number, signal?: AbortSignal) {
    let f = 0;
    for await (const frame of source.frames()) {
      signal?.throwIfAborted();
      if (wanted(f)) yield frame;
      if (f++ >= last) return;
    }
  };
  const measured = async function* (frames: AsyncIterable<DecodedFrame>, size: Size, fineColour = false) {
    const intake = new MeasuringIntake(source, size, fineColour);
    for await (const frame of frames) yield intake.take(frame);
  };
  const own = measureSize(facts.width, facts.height);
  const read = ({ run, fineColour, signal }: ReadWish): Promise<Reading> => {
    const { start, end } = run ?? { start: 0, end: times.length - 1 };
    return Promise.resolve({
      facts,
      expected: () => end - start + 1,
      pictures: () =>
        measured(
          chosen((f) => f >= start, end, signal),
          own,
          fineColour,
        ),
      ending: () => Promise.resolve({ times, declared: times.length, whole: true, broken: [] }),
      close: () => Promise.resolve(),
    });
  };
  return {
    facts,
    read,
    keep: () => Object.assign(new MemoryStore(), { close: () => undefined }),
    pictures: ({ only, size = own, fineColour, signal }: PictureWish) =>
      measured(
        chosen((f) => only?.includes(f) ?? true, only?.at(-1) ?? times.length - 1, signal),
        size,
        fineColour,
      ),
    async *colour({ width, height, from, to, mirror }: ColourWish, signal) {
      const taker = new ColourTaker(source, { width, height });
      for await (const frame of chosen((f) => f >= from, to, signal)) yield taker.take(frame, mirror);
    },
    async *full(frames, signal): AsyncGenerator<FullPicture> {
      const { width, height } = facts;
      const taker = new ColourTaker(source, { width, height });
      for await (const frame of chosen((f) => frames.includes(f), frames.at(-1) ?? -1, signal))
        yield { width, height, data: taker.take(frame), most: 255 };
    },
    times: () => Promise.resolve(times),
    sound: () => Promise.resolve(null),
  };
}
