import { availableParallelism } from 'node:os';
import { basename } from 'node:path';
import { assureLooked, foundNoRoom, UnusableMedia, writingFailed } from '../errors';
import { DECODE_LIMITS } from './limits';
import type { Run } from '../../core/report/types';
import { MEASURE_WIDTH, measureSize, type ColourWish, type FullPicture } from '../../core/take/source';
import type { Probe } from './probe';
import { PicturePump } from './picture-pump';
import { inputArguments, type StillFormat } from './run';
import { ColourIntake, fineSize, LumaIntake, SMALL_PIXELS, type Picture } from '../../core/base/image/picture';

/** Filter that lets only some frames through. */
function selectFrames(only: readonly number[] | undefined, run?: Run): string {
  if (run) return `select='between(n\\,${run.start}\\,${run.end})',`;
  return only ? `select='${only.map((n) => `eq(n\\,${n})`).join('+')}',` : '';
}

/** Every frame as it comes, whatever its time: times that round to the same tick would make ffmpeg give up. */
const EVEN_TIMES = 'settb=1/90000,setpts=N*3600,';
const AS_THEY_COME = ['-fps_mode', 'passthrough', '-enc_time_base', '1:90000'];

/**
 * Pictures decoded at a time, a thread each: some more than there are cores, so that none waits while scaling or
 * measuring takes a turn.
 */
const SPREAD = ['-threads', String(Math.min(16, availableParallelism() + 4))];

/** Pictures that come as luma and colour differences in planes of their own. */
const PLANES = /^yuv[aj]?4\d\dp/;

export interface DecodeOptions {
  /** Also writes every frame as a JPEG, one after the other, into this file, at most this wide. */
  proxy?: { path: string; width: number };
  signal?: AbortSignal;
  /** Told what decoding complained of, when all frames have been read. */
  onComplaint?: (text: string) => void;
  /** Only a run of frames, or these frames by number, rising; all when left out. */
  run?: Run;
  only?: readonly number[];
  /** Measuring size to use instead of the file's own. */
  size?: { width: number; height: number };
  /** Also gives colour of the fine size with each picture. */
  fineColour?: boolean;
  /** For a still in red, green and blue: the matrix by which to make luma and colour of it. */
  matrix?: 'bt709' | 'bt601';
}

/** Numbers, or what ffmpeg works out from the first picture: sizes to which pictures are brought. */
interface Sizes {
  measure: string;
  colour: string;
  fine: string;
  proxyWidth: number | string;
}

/** Scaling uses a smooth kernel (cubic B-spline), so that fine detail does not alias into false movement. */
function decodeArguments(
  path: string,
  { measure, colour, fine, proxyWidth }: Sizes,
  still: StillFormat | null,
  planes: boolean,
  { only, run, matrix, proxy, fineColour }: DecodeOptions,
): string[] {
  const by = matrix ? `:out_color_matrix=${matrix}` : '';
  // Range is left as it is: bringing it to the whole range takes ffmpeg a good part of the time that scaling takes.
  const asItIs = ':in_range=pc:out_range=pc';
  const args = [
    '-v',
    'error',
    '-nostdin',
    '-y',
    ...SPREAD,
    ...inputArguments(path, still as StillFormat | null),
    '-filter_complex',
    [
      `[0:V:0]${selectFrames(only, run)}${EVEN_TIMES}split=${proxy ? 3 : 2}[a][b]${proxy ? '[c]' : ''}`,
      `[a]scale=${measure}:flags=bicubic:param0=1:param1=0${by}${planes ? asItIs : ''},format=gray[measure]`,
      // Only colour is made small here, red differences below blue: the small luma is a sum over the measured picture.
      `[b]${planes ? '' : `scale=out_range=tv${by},format=yuv444p,`}extractplanes=u+v[u][v]`,
      `[u][v]vstack${fineColour ? ',split[s][f]' : '[s]'}`,
      `[s]scale=${colour}:flags=area${asItIs},format=gray[small]`,
      ...(fineColour ? [`[f]scale=${fine}:flags=area${asItIs},format=gray[fine]`] : []),
      ...(proxy ? [`[c]scale=${proxyWidth}:-2:flags=bilinear,setsar=1,format=yuvj420p[proxy]`] : []),
    ].join(';'),
  ];
  if (proxy)
    args.push(
      '-map',
      '[proxy]',
      ...AS_THEY_COME,
      '-c:v',
      'mjpeg',
      '-q:v',
      '4',
      '-f',
      'image2pipe',
      `file:${proxy.path}`,
    );
  return [
    ...args,
    '-map',
    '[measure]',
    ...AS_THEY_COME,
    '-f',
    'rawvideo',
    'pipe:1',
    '-map',
    '[small]',
    ...AS_THEY_COME,
    '-f',
    'rawvideo',
    'pipe:3',
    ...(fineColour ? ['-map', '[fine]', ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:5'] : []),
  ];
}

/**
 * What nearly all cameras record: square pixels, colour differences in planes of half the size. Then ffmpeg can work
 * out all sizes itself.
 */
function isUsual({ still, squarePixels, pixelFormat, width, height }: Probe): boolean {
  return !still && squarePixels && /^yuvj?420p/.test(pixelFormat) && width % 2 === 0 && height % 2 === 0;
}

/**
 * The sums of `measureSize` and `smallSize` as ffmpeg does them, from a picture `w` x `h` in its words; the measuring
 * size is left in 0 and 1.
 */
const measured = (w: string, h: string) => `st(0,min(${MEASURE_WIDTH},${w}));st(1,max(16,round(${h}*ld(0)/${w})))`;
const colourSide = (side: 0 | 1) =>
  `${measured('(2*iw)', 'ih')};st(2,max(1,round(sqrt(ld(0)*ld(1)/${SMALL_PIXELS}))));st(3,ceil(max(1,floor(ld(${side})/ld(2)))/2))`;
const fineSide = (side: 0 | 1) =>
  `${measured('(2*iw)', 'ih')};st(2,max(1,round(sqrt(ld(0)*ld(1)/${SMALL_PIXELS}))));` +
  `st(2,min(ld(2),max(2,round(ld(2)/2))));st(3,floor(ld(${side})/ld(2)))`;
const USUAL_SIZES = {
  measure: `w='${measured('iw', 'ih')};ld(0)':h='${measured('iw', 'ih')};ld(1)'`,
  // Here the picture is the two colour planes, one below the other.
  colour: `w='${colourSide(0)}':h='${colourSide(1)};2*ld(3)'`,
  fine: `w='${fineSide(0)};ld(3)':h='${fineSide(1)};2*ld(3)'`,
};

/**
 * Starts decoding a recording before anything is known of it, on the guess that it is a usual one: give it to
 * `pictures`, which goes on with it if it is. Stop it in any case.
 */
export function decodeAhead(path: string, options: DecodeOptions): PicturePump {
  return new PicturePump(
    decodeArguments(
      path,
      { ...USUAL_SIZES, proxyWidth: `'bitand(min(${options.proxy?.width},iw),65534)'` },
      null,
      true,
      options,
    ),
    options.fineColour ? 3 : 2,
    DECODE_LIMITS,
  );
}

/**
 * Decodes a file once and gives its frames in presentation order, upright, at measuring size, full range. The picture
 * given is used again for the next frame.
 * @param ahead decoding of the same with the same options that has begun
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* pictures(
  path: string,
  probe: Probe,
  options: DecodeOptions = {},
  ahead: PicturePump | null = null,
): AsyncGenerator<Picture> {
  const size = options.size ?? measureSize(probe.width, probe.height);
  const planes = PLANES.test(probe.pixelFormat);
  const intake = new LumaIntake(size.width, size.height, planes && !probe.fullRange, size.width < probe.width);
  const { colourWidth, colourHeight } = intake.size;
  const fine = fineSize(size.width, size.height);
  const [colour, fineColour] = [colourWidth * colourHeight, options.fineColour ? fine.width * fine.height : 0];
  // What was no picture of planes has become one of broadcast range.
  const isFull = planes && probe.fullRange;
  const narrow = isFull ? null : new ColourIntake(2 * colour);
  const fineNarrow = isFull || !fineColour ? null : new ColourIntake(2 * fineColour);
  let pump = ahead;
  if (!pump || options.size || !isUsual(probe)) {
    // Both write the same proxy.
    await pump?.stop();
    const sizes = {
      measure: `${size.width}:${size.height}`,
      colour: `${colourWidth}:${2 * colourHeight}`,
      fine: `${fine.width}:${2 * fine.height}`,
      proxyWidth: Math.min(options.proxy?.width ?? 0, probe.width) & ~1,
    };
    pump = new PicturePump(
      decodeArguments(path, sizes, probe.still as StillFormat | null, planes, options),
      fineColour ? 3 : 2,
      DECODE_LIMITS,
    );
  }
  let count = 0;
  const sizes = [size.width * size.height, 2 * colour, ...(fineColour ? [2 * fineColour] : [])];
  for await (const [data, bytes, fineBytes] of pump.pictures(sizes, options.signal)) {
    count++;
    const { luma, small } = intake.take(data);
    const colours = narrow?.widen(bytes) ?? bytes;
    yield {
      luma,
      small: { luma: small, blue: colours.subarray(0, colour), red: colours.subarray(colour) },
      fineColour: fineNarrow?.widen(fineBytes) ?? fineBytes,
    };
  }
  options.onComplaint?.(pump.ending.errors);
  assureWhole(path, pump, count, options.only?.length ?? null);
}

/**
 * Holds the pictures that were read against those that were asked for.
 * @param wanted how many were asked for; null for all there are
 * @throws UnusableMedia when decoding broke off, or gave fewer
 * @throws LookFailed when ffmpeg was ended, which says nothing of the file
 */
function assureWhole(
  path: string,
  { ending: { code, errors } }: PicturePump,
  count: number,
  wanted: number | null,
): void {
  const name = `"${basename(path)}"`;
  if (code !== 0 && foundNoRoom(errors)) throw writingFailed('Small pictures could not be written', errors);
  assureLooked({ code, stderr: errors }, name, 'ffmpeg', 'decoded');
  const said = errors && ` (${errors.split('\n')[0].slice(0, 120)})`;
  if (count === 0)
    throw new UnusableMedia(
      `${name} has no frame that can be decoded. Copy it from the card again.${said}`,
      'truncated',
    );
  if (code !== 0 || (wanted !== null && count < wanted))
    throw new UnusableMedia(
      `Decoding ${name} broke off after ${count === 1 ? 'one picture' : `${count} pictures`}` +
        `${wanted === null ? '' : ` of ${wanted}`}. Run it again; if that does not help, ` +
        `copy it from the card again.${said}`,
      'broken-off',
    );
}

/** Raw pictures on pipe 1, as a filter gives them. */
function rawArguments(path: string, { still }: Probe, filter: string): string[] {
  const input = inputArguments(path, still as StillFormat | null);
  const out = ['-map', '0:V:0', '-vf', filter, ...AS_THEY_COME, '-f', 'rawvideo', 'pipe:1'];
  return ['-v', 'error', '-nostdin', ...input, ...out];
}

/**
 * Decodes some frames at full size, upright, square pixels. Files of more than 8 bits give 16. The picture given is used again.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* fullPictures(
  path: string,
  probe: Probe,
  only: readonly number[],
  signal?: AbortSignal,
): AsyncGenerator<FullPicture> {
  const deep = probe.bitDepth > 8;
  const { width, height } = probe;
  const matrix = probe.matrixTag ? '' : `:in_color_matrix=${Math.min(width, height) >= 720 ? 'bt709' : 'bt601'}`;
  const filter =
    `${selectFrames(only)}${EVEN_TIMES}scale=${width}:${height}:flags=bicubic+accurate_rnd+full_chroma_int${matrix},` +
    `format=${deep ? 'rgb48le' : 'rgb24'}`;
  let count = 0;
  const pump = new PicturePump(rawArguments(path, probe, filter), 1, DECODE_LIMITS);
  for await (const [bytes] of pump.pictures([width * height * (deep ? 6 : 3)], signal)) {
    count++;
    yield {
      width,
      height,
      data: deep ? new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2) : bytes,
      most: deep ? 65535 : 255,
    };
  }
  assureWhole(path, pump, count, only.length);
}

/**
 * Decodes a run of frames in red, green and blue, 8 bits each, filling a size: what stands over is cut off at both
 * sides. The picture given is used again.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* colourPictures(
  path: string,
  probe: Probe,
  { width, height, from, to, mirror }: ColourWish,
  signal?: AbortSignal,
): AsyncGenerator<Uint8Array, void> {
  const filter =
    `select='between(n\\,${from}\\,${to})',${EVEN_TIMES}scale=${width}:${height}:` +
    `force_original_aspect_ratio=increase:flags=area,crop=${width}:${height},${mirror ? 'hflip,' : ''}format=rgb24`;
  let count = 0;
  const pump = new PicturePump(rawArguments(path, probe, filter), 1, DECODE_LIMITS);
  for await (const [bytes] of pump.pictures([width * height * 3], signal)) {
    count++;
    yield bytes;
    if (count > to - from) return;
  }
  assureWhole(path, pump, count, to - from + 1);
}
