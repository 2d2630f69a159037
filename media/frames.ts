import { once } from 'node:events';
import { basename } from 'node:path';
import { UnusableMedia } from './errors';
import { DECODE_LIMITS } from './limits';
import type { Probe } from './probe';
import { inputArguments, startTool } from './run';
import type { Plane } from '../core/image/plane';

/** Pictures are measured at this width at most, in pixels. */
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

export interface DecodeOptions {
  /** Also writes every frame as a JPEG, one after the other, into this file, at most this wide. */
  proxy?: { path: string; width: number };
  signal?: AbortSignal;
}

/**
 * Decodes a file once and gives its frames in presentation order as grey pictures, upright, at measuring size.
 *
 * Scaling uses a smooth kernel (cubic B-spline), so that fine detail does not alias into false movement. The plane given
 * is used again for the next frame.
 * @throws UnusableMedia when nothing can be decoded
 */
export async function* greyFrames(path: string, probe: Probe, options: DecodeOptions = {}): AsyncGenerator<Plane> {
  const size = measureSize(probe.width, probe.height);
  const grey = `scale=${size.width}:${size.height}:flags=bicubic:param0=1:param1=0,format=gray`;
  const args = ['-v', 'error', '-nostdin', '-y', ...inputArguments(path)];
  if (options.proxy) {
    const w = Math.min(options.proxy.width, probe.width) & ~1;
    args.push('-filter_complex', `[0:v:0]split=2[a][b];[a]${grey}[grey];[b]scale=${w}:-2:flags=bilinear,setsar=1,format=yuvj420p[small]`,
      '-map', '[small]', '-fps_mode', 'passthrough', '-c:v', 'mjpeg', '-q:v', '4', '-f', 'image2pipe', `file:${options.proxy.path}`,
      '-map', '[grey]');
  } else {
    args.push('-map', '0:v:0', '-vf', grey);
  }
  args.push('-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1');
  const child = startTool('ffmpeg', args, DECODE_LIMITS, options.signal);
  let errors = '';
  child.stderr.on('data', (d: Buffer) => { if (errors.length < 4000) errors += d.toString('utf8'); });
  const closed = once(child, 'close').catch(() => [null]);
  const length = size.width * size.height;
  const data = new Uint8Array(length);
  const plane: Plane = { width: size.width, height: size.height, data };
  let filled = 0;
  let count = 0;
  try {
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      let at = 0;
      while (at < chunk.length) {
        const take = Math.min(length - filled, chunk.length - at);
        data.set(chunk.subarray(at, at + take), filled);
        filled += take;
        at += take;
        if (filled === length) {
          filled = 0;
          count++;
          yield plane;
        }
      }
    }
    await closed;
  } finally {
    if (child.exitCode === null) child.kill('SIGKILL');
  }
  options.signal?.throwIfAborted();
  if (count === 0) {
    throw new UnusableMedia(`"${basename(path)}" has no frame that can be decoded. Copy it from the card again. (${errors.split('\n')[0].slice(0, 120)})`, 'truncated');
  }
}
