import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createCanvas, loadImage, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import { gzipSync } from 'node:zlib';
import type { Similarity } from '../core/base/geometry/similarity';
import { toCode, toLight } from '../core/base/image/transfer';
import { seededNormal } from '../core/base/numeric/random';
import { feedTool } from '../media/ffmpeg/run';

/** A clip whose truth is known: a photograph, what moves before it, and the camera. */
export interface ClipRecipe {
  width: number;
  height: number;
  fps: number;
  frames: number;
  photo: string;
  seed: number;
  /** Standard deviation of the grain, levels; quality of the coding (x264's crf). */
  grain: number;
  crf: number;
  /** Width of the lens's blur, source pixels; by frame where the focus is pulled. */
  soft?: number | ((frame: number) => number);
  /** Room around the picture that the camera can move in, share of its size. */
  room?: number;
  camera?: (frame: number) => Similarity;
  /** Stops of light at a frame. */
  light?: (frame: number) => number;
  /** Paints what is before the photograph at a time in frames, in the photograph's own place. */
  paint: (ctx: SKRSContext2D, at: number) => void;
  /** Paints what belongs to the background, over the photograph: set pieces, leaves, lamps. */
  behind?: (ctx: SKRSContext2D, at: number) => void;
  /** Share of the light that a shadow takes; none when left out. */
  shadow?: number;
}

/** What is in each frame at half of the picture's size: 255 a body, 128 its shadow, 0 neither. */
export interface Truth {
  width: number;
  height: number;
  frames: Uint8Array[];
}

/** The shutter is open for half of a frame: so many looks in it. */
const LOOKS = 4;
const OPEN = 0.5;
/** A shadow is where at least this share of the light is gone. */
const SHADOW_FROM = 0.12;

const ROOM = 0.06;
const SOFT = 0.6;

const softnessAt = ({ soft = SOFT }: ClipRecipe, frame: number) => (typeof soft === 'number' ? soft : soft(frame));

/** Renders a clip as H.264, and gives who is in. @throws Error when ffmpeg cannot write it */
export async function renderClip(recipe: ClipRecipe, path: string): Promise<Truth> {
  const { width, height, fps, frames, seed, grain, crf } = recipe;
  const photo = await loadImage(recipe.photo);
  const [canvas, layer, one, dark] = [0, 0, 0, 0].map(() => createCanvas(width, height));
  const small = createCanvas(width >> 1, height >> 1);
  const ctx = canvas.getContext('2d');
  const size = ['-f', 'rawvideo', '-pix_fmt', 'rgb0', '-s', `${width}x${height}`, '-r', `${fps}`, '-i', 'pipe:0'];
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', `${crf}`, '-pix_fmt', 'yuv420p'];
  const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'];
  const child = spawn(
    'ffmpeg',
    ['-v', 'error', '-nostdin', '-y', ...size, '-vf', 'scale=out_color_matrix=bt709', ...code, ...tags, `file:${path}`],
    { stdio: ['pipe', 'ignore', 'inherit'] },
  );
  const closed = once(child, 'close');
  const noise = grainTable(seed, grain);
  const truth: Uint8Array[] = [];
  for (let f = 0; f < frames; f++) {
    const camera = recipe.camera?.(f) ?? { dx: 0, dy: 0, rotation: 0, scale: 1 };
    paintBack(one.getContext('2d'), photo, recipe, camera, f);
    // The blurred picture goes over the plain one: at its border there is nothing to blur with.
    ctx.drawImage(one, 0, 0);
    ctx.filter = `blur(${softnessAt(recipe, f)}px)`;
    ctx.drawImage(one, 0, 0);
    ctx.filter = 'none';
    openShutter(recipe, f, camera, layer, one);
    if (recipe.shadow) throwShadow(ctx, layer, dark, recipe);
    ctx.drawImage(layer, 0, 0);
    truth.push(whoIsIn(layer, recipe.shadow ? dark : null, small));
    const rgb = developed(ctx, recipe.light?.(f) ?? 0, noise, seed * 7919 + f * 104729);
    await feedTool(child.stdin, Buffer.from(rgb.buffer), closed);
  }
  child.stdin.end();
  const [exit] = (await closed) as [number | null];
  if (exit !== 0) throw new Error(`ffmpeg ended with ${exit} while it wrote ${path}.`);
  return { width: small.width, height: small.height, frames: truth };
}

/** Who is in, as it is kept. */
export const packTruth = ({ frames }: Truth): Buffer => gzipSync(Buffer.concat(frames));

function place(ctx: SKRSContext2D, { width, height }: ClipRecipe, { dx, dy, rotation, scale }: Similarity): void {
  const [c, s] = [scale * Math.cos(rotation), scale * Math.sin(rotation)];
  const [cx, cy] = [width / 2, height / 2];
  ctx.setTransform(c, s, -s, c, cx + dx - c * cx + s * cy, cy + dy - s * cx - c * cy);
}

type Photo = Awaited<ReturnType<typeof loadImage>>;

/** The photograph fills the picture with some room around it for the camera to move in. */
function paintBack(ctx: SKRSContext2D, photo: Photo, recipe: ClipRecipe, camera: Similarity, f: number): void {
  const { width, height, room = ROOM } = recipe;
  ctx.globalAlpha = 1;
  place(ctx, recipe, camera);
  const [w, h] = [width * (1 + 2 * room), height * (1 + 2 * room)];
  const k = Math.max(w / photo.width, h / photo.height);
  ctx.imageSmoothingQuality = 'high';
  ctx.drawImage(
    photo,
    width / 2 - (k * photo.width) / 2,
    height / 2 - (k * photo.height) / 2,
    k * photo.width,
    k * photo.height,
  );
  recipe.behind?.(ctx, f);
  ctx.setTransform(1, 0, 0, 1, 0, 0);
}

/** What the open shutter gathers of what is painted, with its own share of each pixel. */
function openShutter(recipe: ClipRecipe, f: number, camera: Similarity, layer: Canvas, one: Canvas): void {
  const { width, height } = recipe;
  const [sum, single] = [layer.getContext('2d'), one.getContext('2d')];
  const clear = (ctx: SKRSContext2D) => {
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, width, height);
  };
  clear(sum);
  sum.globalCompositeOperation = 'lighter';
  sum.globalAlpha = 1 / LOOKS;
  for (let k = 0; k < LOOKS; k++) {
    clear(single);
    place(single, recipe, camera);
    recipe.paint(single, f + (OPEN * (k - (LOOKS - 1) / 2)) / LOOKS);
    sum.drawImage(one, 0, 0);
  }
  sum.globalAlpha = 1;
  sum.globalCompositeOperation = 'source-over';
  clear(single);
  single.drawImage(layer, 0, 0);
  clear(sum);
  sum.filter = `blur(${softnessAt(recipe, f)}px)`;
  sum.drawImage(one, 0, 0);
  sum.filter = 'none';
}

/** A shadow lies on the ground before whoever throws it: what is painted, laid down and softened. */
function throwShadow(ctx: SKRSContext2D, layer: Canvas, dark: Canvas, { width, height, shadow = 0 }: ClipRecipe): void {
  const d = dark.getContext('2d');
  d.setTransform(1, 0, 0, 1, 0, 0);
  d.clearRect(0, 0, width, height);
  d.filter = 'brightness(0) blur(3px)';
  // Laid down to the right about the ground line, which is nine tenths down the picture.
  const ground = 0.9 * height;
  d.setTransform(1, 0, -0.9, 0.22, 0.9 * ground, 0.78 * ground);
  d.drawImage(layer, 0, 0);
  d.filter = 'none';
  ctx.globalAlpha = shadow;
  ctx.drawImage(dark, 0, 0);
  ctx.globalAlpha = 1;
}

function whoIsIn(layer: Canvas, dark: Canvas | null, small: Canvas): Uint8Array {
  const ctx = small.getContext('2d');
  const { width, height } = small;
  const alphaOf = (from: Canvas) => {
    ctx.clearRect(0, 0, width, height);
    ctx.drawImage(from, 0, 0, width, height);
    return ctx.getImageData(0, 0, width, height).data;
  };
  const out = new Uint8Array(width * height);
  if (dark) {
    const shade = alphaOf(dark);
    for (let i = 0; i < out.length; i++) if (shade[4 * i + 3] > 255 * SHADOW_FROM * 3) out[i] = 128;
  }
  const body = alphaOf(layer);
  for (let i = 0; i < out.length; i++) if (body[4 * i + 3] >= 128) out[i] = 255;
  return out;
}

function grainTable(seed: number, sigma: number): Int8Array {
  const normal = seededNormal(seed * 17 + 11);
  return Int8Array.from({ length: 1 << 18 }, () => Math.max(-127, Math.min(127, Math.round(sigma * normal()))));
}

/** The picture in another light, with grain. */
function developed(ctx: SKRSContext2D, stops: number, noise: Int8Array, at: number): Uint8ClampedArray {
  const { width, height } = ctx.canvas;
  const { data } = ctx.getImageData(0, 0, width, height);
  // A stop is a factor of 2 in light, on the curve that the file is tagged with.
  const table = Uint8Array.from({ length: 256 }, (_, v) =>
    Math.round(255 * Math.min(1, toCode('bt709', Math.min(1, toLight('bt709', v / 255) * 2 ** stops)))),
  );
  const mask = noise.length - 1;
  for (let i = 0, n = at & mask; i < data.length; i += 4, n = (n + 1) & mask) {
    const g = noise[n];
    data[i] = table[data[i]] + g;
    data[i + 1] = table[data[i + 1]] + g;
    data[i + 2] = table[data[i + 2]] + g;
  }
  return data as unknown as Uint8ClampedArray;
}
