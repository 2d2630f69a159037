import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { rename, rm } from 'node:fs/promises';
import { basename } from 'node:path';
import type { ColourPicture } from '../../core/measures/plate/stitch';
import { UnusableMedia, writingFailed } from '../errors';
import { fullPictures } from '../ffmpeg/frames';
import { WRITE_LIMITS } from '../ffmpeg/limits';
import { probeFile } from '../ffmpeg/probe';
import { inputArguments, runTool, toolCommand } from '../ffmpeg/run';

const ONE_PNG = ['-frames:v', '1', '-c:v', 'png', '-f', 'image2', '-update', '1'];

/** Reads a still picture whole. @throws UnusableMedia when it is none */
export async function readStill(path: string): Promise<ColourPicture> {
  for await (const picture of fullPictures(path, await probeFile(path, basename(path), true), [0])) return picture;
  throw new UnusableMedia(`"${basename(path)}" has no picture that can be decoded.`, 'truncated');
}

/** Writes a cut-out, red, green, blue and alpha, as PNG, whole or not at all. @throws Error when it cannot be written */
export async function writeCutout(picture: ColourPicture, path: string, signal?: AbortSignal): Promise<void> {
  const format = 'format=' + (picture.most === 255 ? 'rgba' : 'rgba64be');
  await write(picture, path, ['-vf', format, ...ONE_PNG], signal, picture.most === 255 ? 'rgba' : 'rgba64le');
}

/**
 * Writes a cut-out PNG at another size, cut to its shape, whole or not at all; where it is not opaque colours do not spill
 * over its edge. @throws Error when it cannot be written
 */
export async function resizeCutout(
  from: string,
  path: string,
  { width, height }: { width: number; height: number },
  signal?: AbortSignal,
): Promise<void> {
  const deep = (await probeFile(from, basename(from), true)).bitDepth > 8;
  const filter = [
    `format=${deep ? 'gbrap16le' : 'gbrap'}`,
    'premultiply=inplace=1',
    `scale=${width}:${height}:force_original_aspect_ratio=increase:flags=lanczos`,
    `crop=${width}:${height}`,
    'unpremultiply=inplace=1',
    `format=${deep ? 'rgba64be' : 'rgba'}`,
  ].join(',');
  const fresh = `${path}.part`;
  const args = ['-v', 'error', '-nostdin', '-y', ...inputArguments(from, 'png_pipe'), '-vf', filter, ...ONE_PNG];
  try {
    const { code, stderr } = await runTool('ffmpeg', [...args, `file:${fresh}`], WRITE_LIMITS, undefined, signal);
    if (code !== 0) throw writingFailed(`The picture could not be written to ${path}`, stderr);
    await rename(fresh, path);
  } finally {
    await rm(fresh, { force: true });
  }
}

export interface StillOptions {
  /** Size to write; the picture's own when left out. */
  width?: number;
  height?: number;
  /** Ends the writing; then it throws. */
  signal?: AbortSignal;
}

/** Writes a picture as PNG (16 bits a value when it has more than 8), whole or not at all. @throws Error when it cannot be written */
export async function writePng(picture: ColourPicture, path: string, options: StillOptions = {}): Promise<void> {
  await write(
    picture,
    path,
    [...scaled(picture, options, 'format=' + (picture.most === 255 ? 'rgb24' : 'rgb48be')), ...ONE_PNG],
    options.signal,
  );
}

/** Writes a mask, a byte a pixel, as a grey PNG, whole or not at all. @throws Error when it cannot be written */
export async function writeMask(
  mask: Uint8Array,
  { width, height }: { width: number; height: number },
  path: string,
  signal?: AbortSignal,
): Promise<void> {
  await write({ width, height, data: mask, most: 255 }, path, ['-vf', 'format=gray', ...ONE_PNG], signal, 'gray');
}

/** Writes a picture as a JPEG at most so wide, for looking at. @throws Error when it cannot be written */
export async function writeJpeg(picture: ColourPicture, path: string, width: number): Promise<void> {
  await write(picture, path, [
    '-vf',
    `scale=${Math.min(width, picture.width) & ~1}:-2:flags=area,format=yuvj444p`,
    '-frames:v',
    '1',
    '-c:v',
    'mjpeg',
    '-q:v',
    '2',
    '-f',
    'image2',
    '-update',
    '1',
  ]);
}

/**
 * Writes a picture as a still clip: H.264, of ten bits when the picture has more than eight, of the wished length and
 * rate. @throws Error when it cannot be written
 */
export async function writeStillClip(
  picture: ColourPicture,
  path: string,
  seconds: number,
  fps: number,
  options: StillOptions = {},
): Promise<void> {
  const even =
    'scale=trunc(iw/2)*2:trunc(ih/2)*2:out_color_matrix=bt709,format=' +
    (picture.most === 255 ? 'yuv420p' : 'yuv420p10le');
  await write(
    picture,
    path,
    [
      ...scaled(picture, options, `${even},loop=loop=-1:size=1,fps=${fps},trim=duration=${seconds}`),
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '12',
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      '-movflags',
      '+faststart',
      '-f',
      'mp4',
    ],
    options.signal,
  );
}

function scaled(picture: ColourPicture, { width, height }: StillOptions, last: string): string[] {
  const size =
    width && height && (width !== picture.width || height !== picture.height)
      ? `scale=${width}:${height}:force_original_aspect_ratio=increase:flags=lanczos,crop=${width}:${height},`
      : '';
  return ['-vf', `${size}${last}`];
}

async function write(
  { width, height, data, most }: ColourPicture,
  path: string,
  output: string[],
  signal?: AbortSignal,
  pixels = most === 255 ? 'rgb24' : 'rgb48le',
): Promise<void> {
  const fresh = `${path}.part`;
  const [command, ...args] = toolCommand(
    'ffmpeg',
    [
      '-v',
      'error',
      '-nostdin',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      pixels,
      '-s',
      `${width}x${height}`,
      '-r',
      '25',
      '-i',
      'pipe:0',
      ...output,
      `file:${fresh}`,
    ],
    WRITE_LIMITS,
  );
  const child = spawn(command, args, { stdio: ['pipe', 'ignore', 'pipe'], signal, killSignal: 'SIGKILL' });
  let errors = '';
  child.stderr.on('data', (d: Buffer) => {
    errors += d.toString('utf8');
  });
  child.stdin.on('error', () => undefined);
  const closed = once(child, 'close');
  child.stdin.end(Buffer.from(data.buffer, data.byteOffset, data.byteLength));
  const [code] = (await closed.catch(async (error: unknown) => {
    await rm(fresh, { force: true });
    throw error;
  })) as [number | null];
  if (code !== 0) {
    await rm(fresh, { force: true });
    throw writingFailed(`The picture could not be written to ${path}`, errors);
  }
  await rename(fresh, path);
}
