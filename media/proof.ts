import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { rename, rm } from 'node:fs/promises';
import { createCanvas, GlobalFonts, ImageData, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import type { CoverShape } from '../core/cover/measure';
import { RevealMatte } from '../core/cover/reveal';
import type { ProofPlan } from '../core/cut/proof-plan';
import { writingFailed } from './errors';
import { colourPictures } from './frames';
import { DECODE_LIMITS } from './limits';
import { probeFile, type Probe } from './probe';
import { feedTool, toolCommand } from './run';

export interface ProofFile {
  path: string;
  name: string;
}

/** Where a proof goes: two films, and its frames as JPEGs one after the other. */
export interface ProofPaths {
  mp4: string;
  webm: string;
  jpegs: string;
}

export interface ProofOptions {
  mirror: boolean;
  signal?: AbortSignal;
  onProgress?: (done: number, total: number) => void;
}

/** Width of a proof at most, pixels. */
export const PROOF_WIDTH = 640;
const FONT = 'proof-mono';
const BAR = 26;

/** Size of a proof of a picture: small, even, of its shape. */
export function proofSize(width: number, height: number): { width: number; height: number } {
  const w = Math.min(PROOF_WIDTH, width) & ~1;
  return { width: w, height: Math.max(2, Math.round((w * height) / width / 2) * 2) };
}

/**
 * Renders the in side appearing behind the object's edge, with the frame numbers of both sides and the word PROOF under the picture.
 * @throws UnusableMedia when a file cannot be used; Error when the films cannot be written
 */
export async function renderProof(
  out: ProofFile,
  into: ProofFile,
  shape: CoverShape,
  plan: ProofPlan,
  paths: ProofPaths,
  options: ProofOptions,
): Promise<{ width: number; height: number; frames: number }> {
  const outProbe = await probeFile(out.path, out.name),
    inProbe = await probeFile(into.path, into.name);
  const size = proofSize(outProbe.width, outProbe.height);
  const matte = new RevealMatte(
    shape,
    {
      mode: plan.mode,
      from: plan.from,
      done: plan.done,
      feather_px: plan.feather_px,
      width: outProbe.width,
      height: outProbe.height,
    },
    size.width,
    size.height,
  );
  const full = { width: size.width, height: size.height + BAR };
  const fresh = [paths.mp4, paths.webm, paths.jpegs].map((p) => `${p}.part`);
  const encoder = startEncoder(full, plan.fps, fresh);
  const outFrames = new FrameRow(
    out.path,
    outProbe,
    size,
    plan.frames.map((f) => f.out),
    false,
    options.signal,
  );
  const inFrames = new FrameRow(
    into.path,
    inProbe,
    size,
    plan.frames.flatMap((f) => (f.in === null ? [] : [f.in])),
    options.mirror,
    options.signal,
  );
  const canvas = createCanvas(full.width, full.height),
    ctx = canvas.getContext('2d');
  const strength = new Uint8Array(size.width * size.height),
    mixed = new Uint8ClampedArray(4 * strength.length).fill(255);
  try {
    for (const [n, frame] of plan.frames.entries()) {
      options.signal?.throwIfAborted();
      const a = await outFrames.get(frame.out);
      const b = frame.in === null ? null : await inFrames.get(frame.in);
      if (b) matte.frame(frame.out, strength);
      mix(a, b, strength, mixed);
      draw(canvas, ctx, mixed, size, `PROOF   out ${frame.out}   in ${frame.in ?? '-'}`);
      await encoder.write(Buffer.from(rgbOf(ctx, full)));
      options.onProgress?.(n + 1, plan.frames.length);
    }
    await encoder.end();
    for (const [i, path] of [paths.mp4, paths.webm, paths.jpegs].entries()) await rename(fresh[i], path);
  } catch (error) {
    encoder.stop();
    await Promise.all(fresh.map((p) => rm(p, { force: true })));
    throw error;
  } finally {
    await outFrames.close();
    await inFrames.close();
  }
  return { ...full, frames: plan.frames.length };
}

/** Frames of a file in rising order, each asked for as often as wished. */
class FrameRow {
  private readonly source: ReturnType<typeof colourPictures>;
  private at: number;
  private readonly picture: Uint8Array;

  constructor(
    path: string,
    probe: Probe,
    size: { width: number; height: number },
    wanted: number[],
    mirror: boolean,
    signal?: AbortSignal,
  ) {
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

function mix(a: Uint8Array, b: Uint8Array | null, strength: Uint8Array, out: Uint8ClampedArray): void {
  for (let i = 0, p = 0, o = 0; i < strength.length; i++, p += 3, o += 4) {
    const s = b ? strength[i] / 255 : 0;
    for (let c = 0; c < 3; c++) out[o + c] = b ? a[p + c] + s * (b[p + c] - a[p + c]) : a[p + c];
  }
}

let fontReady = false;

function draw(
  canvas: Canvas,
  ctx: SKRSContext2D,
  picture: Uint8ClampedArray,
  size: { width: number; height: number },
  words: string,
): void {
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

function rgbOf(ctx: SKRSContext2D, { width, height }: { width: number; height: number }): Uint8Array {
  const { data } = ctx.getImageData(0, 0, width, height);
  const rgb = new Uint8Array(width * height * 3);
  for (let i = 0, o = 0; i < data.length; i += 4, o += 3) {
    rgb[o] = data[i];
    rgb[o + 1] = data[i + 1];
    rgb[o + 2] = data[i + 2];
  }
  return rgb;
}

function startEncoder({ width, height }: { width: number; height: number }, fps: number, [mp4, webm, jpegs]: string[]) {
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
