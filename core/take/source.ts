import { BT601, BT709, type Matrix, type Picture } from '../base/image/picture';
import { taggedTransfer, type Transfer } from '../base/image/transfer';
import type { Run } from '../report/types';
import type { FrameStore } from '../base/image/stack';

/** What a recording or a still picture says of itself before any picture is decoded. */
export interface PictureFacts {
  /** Size as shown: turned upright, square pixels. */
  width: number;
  height: number;
  rotationDeg: 0 | 90 | 180 | 270;
  squarePixels: boolean;
  container: string;
  codec: string;
  pixelFormat: string;
  /** Whether its numbers use their whole range, not that of broadcast (16 to 235, 16 to 240 for colour). */
  fullRange: boolean;
  bitDepth: number;
  /** Rate the container declares, "30000/1001". */
  containerFps: string;
  /** The format of a still picture, as whoever reads it calls it; null for a recording. */
  still: string | null;
  /** Index of the picture's stream in the file. */
  stream: number;
  timecode: string | null;
  /** Tags of the transfer curve and of the colour matrix, as the file has them; null without. */
  transferTag: string | null;
  matrixTag: string | null;
  /** Duration the file declares, in seconds; null when it does not. */
  declaredDuration: number | null;
  /** The same of its picture alone; and how many pictures its header or index declares. */
  pictureDuration: number | null;
  declaredFrames: number | null;
}

/** The transfer curve a file names; null when it names none. */
export function transferOf({ transferTag }: PictureFacts): Transfer | null {
  return taggedTransfer(transferTag);
}

/** The matrix that made the file's luma and colour: its tag, else the usual one for its size. */
export function matrixOf({ matrixTag, width, height }: PictureFacts): Matrix {
  if (matrixTag === 'smpte170m' || matrixTag === 'bt470bg' || matrixTag === 'fcc') return BT601;
  return matrixTag || Math.min(width, height) >= 720 ? BT709 : BT601;
}

/** What one decoding of a whole recording told of the file. */
export interface FileEnding {
  /** Presentation times in order, seconds; NaN where the file gives none. */
  times: number[];
  /** Pictures that the file promises; null when it does not say. */
  declared: number | null;
  whole: boolean;
  /** Runs of pictures that could not be decoded as they were recorded. */
  broken: Run[];
}

/** Room for pictures while they are measured. Close it in any case. */
export type KeptPictures = FrameStore & { close: () => void };

/** One decoding of a recording, from its first frame (or that of a run) to its last. Close it in any case. */
export interface Reading {
  facts: PictureFacts;
  /** Frames there will be, as far as is known by now. */
  expected: () => number;
  /** The frames in order, once; each is used again for the next. @throws UnusableMedia when none can be decoded */
  pictures: () => AsyncIterable<Picture>;
  /** What the file is like, once all its frames have been read. @throws UnusableMedia when it holds no picture */
  ending: () => Promise<FileEnding>;
  close: () => Promise<void>;
}

/** What of a recording is read at measuring size. */
export interface ReadWish {
  /** Only these frames, both ends included; all when left out. */
  run?: Run;
  /** Colours of the fine size besides. */
  fineColour?: boolean;
  signal?: AbortSignal;
}

/** Begins to decode a recording. @throws UnusableMedia with a sentence when it is none */
export type OpenReading = (wish: ReadWish) => Promise<Reading>;

/** Room for pictures of so many bytes in memory, and more elsewhere where there is such a place. */
export type KeepPictures = (bytes?: number) => KeptPictures;

/** Some frames at a measuring size of one's own. */
export interface PictureWish extends Omit<ReadWish, 'run'> {
  /** These frames by number, rising; all when left out. */
  only?: readonly number[];
  size?: { width: number; height: number };
  /** For a still in red, green and blue: the matrix by which to make luma and colour of it. */
  matrix?: 'bt709' | 'bt601';
}

/** A run of frames in small colour, cut at the sides to fill the size. */
export interface ColourWish {
  width: number;
  height: number;
  from: number;
  to: number;
  mirror?: boolean;
}

/** One full-size picture in colour: 8 or 16 bits a value, red, green, blue. */
export interface FullPicture {
  width: number;
  height: number;
  data: Uint8Array | Uint16Array;
  most: 255 | 65535;
}

/** Sound is read as one channel at this rate, Hz. */
export const SOUND_RATE = 8000;

/**
 * A recording, or a still picture, that can be read as often as measures need it. Pictures are upright, of square pixels
 * and full range; each is used again for the next. All throw UnusableMedia with a sentence where nothing can be decoded.
 */
export interface PictureSource {
  facts: PictureFacts;
  read: OpenReading;
  keep: KeepPictures;
  pictures: (wish: PictureWish) => AsyncIterable<Picture>;
  colour: (wish: ColourWish, signal?: AbortSignal) => AsyncIterable<Uint8Array>;
  /** Frames at full size, by number, rising. */
  full: (frames: readonly number[], signal?: AbortSignal) => AsyncIterable<FullPicture>;
  /** Presentation times in order, seconds; NaN where the file gives none. */
  times: () => Promise<number[]>;
  /** One channel at SOUND_RATE, -1 to 1, from the time its clock starts; null where there is none. */
  sound: () => Promise<Float32Array | null>;
}

/** Pictures are measured at this width at most, pixels. */
export const MEASURE_WIDTH = 960;

export interface MeasureSize {
  width: number;
  height: number;
  /** Source pixels for one measuring pixel, across and down. */
  factorX: number;
  factorY: number;
}

/** The size at which a picture this large is measured. */
export function measureSize(width: number, height: number): MeasureSize {
  const w = Math.min(MEASURE_WIDTH, width);
  const h = Math.max(16, Math.round((height * w) / width));
  return { width: w, height: h, factorX: width / w, factorY: height / h };
}
