import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { rename, rm } from 'node:fs/promises';
import { createCanvas, GlobalFonts, ImageData, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import type { PictureSize } from '../../core/take/joined-parts';
import { writingFailed } from '../errors';
import { colourPictures } from '../ffmpeg/frames';
import { DECODE_LIMITS } from '../ffmpeg/limits';
import type { Probe } from '../ffmpeg/probe';
import { feedTool, toolCommand } from '../ffmpeg/run';

/** Where a proof goes: two films, and its frames as JPEGs one after the other. */
export interface ProofPaths {
  mp4: string;
  webm: string;
  jpegs: string;
}

/** Width of a proof at most, pixels. */
export const PROOF_WIDTH = 640;
const FONT = 'proof-mono';
const BAR = 26;

/** Size of a proof of a picture: small, even, of its shape. */
export function proofSize(width: number, height: number): PictureSize {
  const w = Math.min(PROOF_WIDTH, width) & ~1;
  return { width: w, height: Math.max(2, Math.round((w * height) / width / 2) * 2) };
}

/** A proof being written: pictures with a line of words below them. Nothing is left of one that breaks off. */
export class ProofFilm {
  private readonly full: PictureSize;
  private readonly canvas: Canvas;
  private readonly ctx: SKRSContext2D;
  private readonly fresh: string[];
  private readonly encoder: ReturnType<typeof startEncoder>;
  private written = 0;

  constructor(
    private readonly paths: ProofPaths,
    private readonly size: PictureSize,
    fps: number,
  ) {
    this.full = { width: size.width, height: size.height + BAR };
    this.canvas = createCanvas(this.full.width, this.full.height);
    this.ctx = this.canvas.getContext('2d');
    this.fresh = [paths.mp4, paths.webm, paths.jpegs].map((p) => `${p}.part`);
    this.encoder = startEncoder(this.full, fps, this.fresh);
  }

  /** Adds a picture. @param picture red, green, blue and 255 for each pixel */
  async add(picture: Uint8ClampedArray, words: string): Promise<void> {
    draw(this.canvas, this.ctx, picture, this.size, words);
    await this.encoder.write(Buffer.from(rgbOf(this.ctx, this.full)));
    this.written++;
  }

  /** Ends it and puts its files in their places. @throws Error when they could not be written */
  async end(): Promise<PictureSize & { frames: number }> {
    await this.encoder.end();
    for (const [i, path] of [this.paths.mp4, this.paths.webm, this.paths.jpegs].entries())
      await rename(this.fresh[i], path);
    return { ...this.full, frames: this.written };
  }

  async drop(): Promise<void> {
    this.encoder.stop();
    await Promise.all(this.fresh.map((p) => rm(p, { force: true })));
  }
}

/** Frames of a file in rising order, each asked for as often as wished. */
export class FrameRow {
  private readonly source: ReturnType<typeof colourPictures>;
  private at: number;
  private readonly picture: Uint8Array;

  constructor(path: string, probe: Probe, size: PictureSize, wanted: number[], mirror: boolean, signal?: AbortSignal) {
    const from = wanted[0] ?? 0;
    this.at = from - 1;
    this.picture = new Uint8Array(size.width * size.height * 3);
    this.source = colourPictures(path, probe, { ...size, from, to: wanted[wanted.length - 1] ?? from, mirror }, signal);
  }

  async get(frame: number): Promise<Uint8Array> {
    while (this.at < frame) {
      const next = await this.source.next();
      // Asked for beyond the wished run, the last frame stands.
      if (next.done) break;
      this.at++;
      this.picture.set(next.value);
    }
    return this.picture;
  }

  async close(): Promise<void> {
    await this.source.return(undefined).catch(() => undefined);
  }
}

let fontReady = false;

function draw(canvas: Canvas, ctx: SKRSContext2D, picture: Uint8ClampedArray, size: PictureSize, words: string): void {
  if (!fontReady)
    fontReady = Boolean(
      GlobalFonts.registerFromPath(
        require.resolve('@expo-google-fonts/martian-mono/400Regular/MartianMono_400Regular.ttf'),
        FONT,
      ),
    );
  ctx.fillStyle = '#14110d';
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.putImageData(new ImageData(picture, size.width, size.height), 0, 0);
  ctx.font = `13px ${FONT}`;
  ctx.textBaseline = 'middle';
  ctx.fillStyle = '#f3ead9';
  ctx.fillText(words, 8, size.height + BAR / 2 + 1);
}

function rgbOf(ctx: SKRSContext2D, { width, height }: PictureSize): Uint8Array {
  const { data } = ctx.getImageData(0, 0, width, height);
  const rgb = new Uint8Array(width * height * 3);
  for (let i = 0, o = 0; i < data.length; i += 4, o += 3) {
    rgb[o] = data[i];
    rgb[o + 1] = data[i + 1];
    rgb[o + 2] = data[i + 2];
  }
  return rgb;
}

function startEncoder({ width, height }: PictureSize, fps: number, [mp4, webm, jpegs]: string[]) {
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
      'rgb24',
      '-s',
      `${width}x${height}`,
      '-r',
      String(fps),
      '-i',
      'pipe:0',
      '-filter_complex',
      '[0:v]scale=out_color_matrix=bt709,format=yuv420p,split=2[a][b];[0:v]scale=out_range=full,format=yuvj420p[c]',
      '-map',
      '[a]',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '20',
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
      `file:${mp4}`,
      '-map',
      '[b]',
      '-c:v',
      'libvpx-vp9',
      '-deadline',
      'realtime',
      '-cpu-used',
      '8',
      '-row-mt',
      '1',
      '-b:v',
      '0',
      '-crf',
      '32',
      '-f',
      'webm',
      `file:${webm}`,
      '-map',
      '[c]',
      '-c:v',
      'mjpeg',
      '-q:v',
      '4',
      '-f',
      'image2pipe',
      `file:${jpegs}`,
    ],
    DECODE_LIMITS,
  );
  const child = spawn(command, args, { stdio: ['pipe', 'ignore', 'pipe'] });
  let errors = '';
  child.stderr.on('data', (d: Buffer) => {
    if (errors.length < 4000) errors += d.toString('utf8');
  });
  child.stdin.on('error', () => undefined);
  const closed = once(child, 'close') as Promise<[number | null]>;
  closed.catch(() => undefined);
  return {
    write: (bytes: Buffer) => feedTool(child.stdin, bytes, closed),
    end: async () => {
      child.stdin.end();
      const [code] = await closed;
      if (code !== 0) throw writingFailed('The proof could not be written', errors);
    },
    stop: () => {
      child.kill('SIGKILL');
    },
  };
}
