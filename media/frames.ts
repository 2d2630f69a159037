import { availableParallelism } from 'node:os';
import { basename } from 'node:path';
import { UnusableMedia } from './errors';
import { DECODE_LIMITS } from './limits';
import type { Probe } from './probe';
import { pumpPictures } from './picture-pump';
import { inputArguments } from './run';
import { smallSize, type Picture } from '../core/image/picture';

/** Pictures are measured at this width at most, in pixels. */
export const MEASURE_WIDTH = 960;

export interface MeasureSize {
  width: number;
  height: number;
  /** Source pixels for one measuring pixel, across and down. */
  factorX: number;
  factorY: number;
}

/** Filter that lets only some frames through. */
function selectFrames(only: readonly number[] | undefined): string {
  return only ? `select='${only.map((n) => `eq(n\\,${n})`).join('+')}',` : '';
}

/** Every frame as it comes, whatever its time: times that round to the same tick would make ffmpeg give up. */
const EVEN_TIMES = 'settb=1/90000,setpts=N*3600,';
const AS_THEY_COME = ['-fps_mode', 'passthrough', '-enc_time_base', '1:90000'];

/** Pictures decoded at a time, a thread each: some more than there are cores, so that none waits while scaling or measuring takes a turn. */
const SPREAD = ['-threads', String(Math.min(16, availableParallelism() + 4))];

/** The size at which a picture this large is measured. */
export function measureSize(width: number, height: number): MeasureSize {
  const w = Math.min(MEASURE_WIDTH, width);
  const h = Math.max(16, Math.round((height * w) / width));
  return { width: w, height: h, factorX: width / w, factorY: height / h };
}

export interface DecodeOptions {
  /** Also writes every frame as a JPEG, one after the other, into this file, at most this wide. */
  proxy?: { path: string; width: number };
  signal?: AbortSignal;
  /** Only these frames, by number, rising; all when left out. */
  only?: readonly number[];
  /** Measuring size to use instead of the file's own. */
  size?: { width: number; height: number };
  /** For a still in red, green and blue: the matrix by which to make luma and colour of it. */
  matrix?: 'bt709' | 'bt601';
}

/**
 * Decodes a file once and gives its frames in presentation order, upright, at measuring size, full range.
 *
 * Scaling uses a smooth kernel (cubic B-spline), so that fine detail does not alias into false movement. The picture given
 * is used again for the next frame.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* pictures(path: string, probe: Probe, options: DecodeOptions = {}): AsyncGenerator<Picture> {
  const size = options.size ?? measureSize(probe.width, probe.height);
  const small = smallSize(size.width, size.height);
  const matrix = options.matrix ? `:out_color_matrix=${options.matrix}` : '';
  const args = ['-v', 'error', '-nostdin', '-y', ...SPREAD, ...inputArguments(path, probe.still), '-filter_complex', [
    `[0:v:0]${selectFrames(options.only)}${EVEN_TIMES}split=${options.proxy ? 3 : 2}[a][b]${options.proxy ? '[c]' : ''}`,
    `[a]scale=${size.width}:${size.height}:flags=bicubic:param0=1:param1=0${matrix},format=gray[measure]`,
    `[b]scale=${small.width}:${small.height}:flags=area${matrix},format=yuvj420p[small]`,
    ...(options.proxy ? [`[c]scale=${Math.min(options.proxy.width, probe.width) & ~1}:-2:flags=bilinear,setsar=1,format=yuvj420p[proxy]`] : []),
  ].join(';')];
  if (options.proxy) args.push('-map', '[proxy]', ...AS_THEY_COME, '-c:v', 'mjpeg', '-q:v', '4', '-f', 'image2pipe', `file:${options.proxy.path}`);
  args.push('-map', '[measure]', ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:1', '-map', '[small]', ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:3');
  let errors = '';
  let broken = false;
  let count = 0;
  const smallLuma = small.width * small.height, colour = small.colourWidth * small.colourHeight;
  for await (const [data, bytes] of pumpPictures(args, [size.width * size.height, smallLuma + 2 * colour], DECODE_LIMITS, options.signal, (text, code) => { errors = text; broken = code !== 0; })) {
    count++;
    yield { luma: { width: size.width, height: size.height, data }, small: { luma: bytes.subarray(0, smallLuma), blue: bytes.subarray(smallLuma, smallLuma + colour), red: bytes.subarray(smallLuma + colour) } };
  }
  if (broken && count > 0) throw new UnusableMedia(`Decoding "${basename(path)}" broke off after frame ${count - 1}. Run it again; if that does not help, copy it from the card again. (${errors.split('\n')[0].slice(0, 120)})`, 'broken-off');
  if (count === 0) {
    throw new UnusableMedia(`"${basename(path)}" has no frame that can be decoded. Copy it from the card again. (${errors.split('\n')[0].slice(0, 120)})`, 'truncated');
  }
}

/** One full-size picture in colour: 8 or 16 bits a value, red, green, blue. */
export interface FullPicture { width: number; height: number; data: Uint8Array | Uint16Array; most: 255 | 65535 }

/**
 * Decodes some frames at full size, upright, square pixels. Files of more than 8 bits give 16. The picture given is used again.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* fullPictures(path: string, probe: Probe, only: readonly number[], signal?: AbortSignal): AsyncGenerator<FullPicture> {
  const deep = probe.bitDepth > 8;
  const { width, height } = probe;
  const matrix = probe.matrixTag ? '' : `:in_color_matrix=${Math.min(width, height) >= 720 ? 'bt709' : 'bt601'}`;
  const args = ['-v', 'error', '-nostdin', ...inputArguments(path, probe.still), '-map', '0:v:0',
    '-vf', `${selectFrames(only)}${EVEN_TIMES}scale=${width}:${height}:flags=bicubic+accurate_rnd+full_chroma_int${matrix},format=${deep ? 'rgb48le' : 'rgb24'}`, ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:1'];
  let count = 0;
  for await (const [bytes] of pumpPictures(args, [width * height * (deep ? 6 : 3)], DECODE_LIMITS, signal, () => undefined)) {
    count++;
    yield { width, height, data: deep ? new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2) : bytes, most: deep ? 65535 : 255 };
  }
  if (count === 0) throw new UnusableMedia(`"${basename(path)}" has no frame that can be decoded. Copy it from the card again.`, 'truncated');
}

export interface SmallColour { width: number; height: number; from: number; to: number; mirror?: boolean }

/**
 * Decodes a run of frames in red, green and blue, 8 bits each, filling a size: what stands over is cut off at both sides. The picture
 * given is used again.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* colourPictures(path: string, probe: Probe, { width, height, from, to, mirror }: SmallColour, signal?: AbortSignal): AsyncGenerator<Uint8Array> {
  const filter = `select='between(n\\,${from}\\,${to})',${EVEN_TIMES}scale=${width}:${height}:force_original_aspect_ratio=increase:flags=area,crop=${width}:${height},${mirror ? 'hflip,' : ''}format=rgb24`;
  const args = ['-v', 'error', '-nostdin', ...inputArguments(path, probe.still), '-map', '0:v:0', '-vf', filter, ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:1'];
  let count = 0;
  for await (const [bytes] of pumpPictures(args, [width * height * 3], DECODE_LIMITS, signal, () => undefined)) {
    count++;
    yield bytes;
    if (count > to - from) return;
  }
  if (count === 0) throw new UnusableMedia(`"${basename(path)}" has no frame that can be decoded. Copy it from the card again.`, 'truncated');
}
