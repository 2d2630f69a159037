import { createCanvas, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor } = Math;

/** A tile of smooth random light and dark, several sizes of blotch added up (value noise, Perlin's octaves). */
export function mottle(
  width: number,
  height: number,
  seed: number,
  options: { blotch: number; octaves: number; stretch?: number },
): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(width * height);
  let amplitude = 1;
  let total = 0;
  let cell = options.blotch;
  for (let o = 0; o < options.octaves && cell >= 1; o++) {
    const cellX = cell * (options.stretch ?? 1);
    const columns = ceil(width / cellX) + 2;
    const rows = ceil(height / cell) + 2;
    const grid = Float32Array.from({ length: columns * rows }, () => random() * 2 - 1);
    addOctave(out, width, height, grid, columns, cellX, cell, amplitude);
    total += amplitude;
    amplitude *= 0.62;
    cell /= 2;
  }
  for (let i = 0; i < out.length; i++) out[i] /= total;
  return out;
}

/** Adds one size of blotch: a grid of values, eased from one to the next across and down. */
function addOctave(
  out: Float32Array,
  width: number,
  height: number,
  grid: Float32Array,
  columns: number,
  cellX: number,
  cell: number,
  amplitude: number,
): void {
  const at = Int32Array.from({ length: width }, (_, x) => floor(x / cellX)),
    share = Float64Array.from(at, (i, x) => ease(x / cellX - i));
  const line = new Float64Array(columns);
  for (let y = 0; y < height; y++) {
    const j = floor(y / cell),
      b = ease(y / cell - j);
    for (let i = 0, k = j * columns; i < columns; i++, k++)
      line[i] = amplitude * (grid[k] + (grid[k + columns] - grid[k]) * b);
    addLine(out, y * width, line, at, share);
  }
}

function addLine(out: Float32Array, from: number, line: Float64Array, at: Int32Array, share: Float64Array): void {
  for (let x = 0, o = from; x < at.length; x++, o++) {
    const i = at[x],
      v = line[i];
    out[o] += v + (line[i + 1] - v) * share[x];
  }
}

function ease(t: number): number {
  return t * t * (3 - 2 * t);
}

/** Weathers everything painted so far inside a shape: lighter and darker by up to `strength` levels. */
export function weather(
  ctx: SKRSContext2D,
  box: { x: number; y: number; width: number; height: number },
  seed: number,
  strength: number,
  options = { blotch: 24, octaves: 5, stretch: 1 },
): void {
  const x = floor(box.x),
    y = floor(box.y);
  const width = ceil(box.width),
    height = ceil(box.height);
  const noise = mottle(width, height, seed, options);
  const picture = ctx.getImageData(x, y, width, height);
  const d = picture.data;
  for (let i = 0; i < noise.length; i++) {
    if (d[4 * i + 3] === 0) continue;
    const v = noise[i] * strength;
    // Dark paint shows less of it, as dim light does.
    const k = 0.25 + (d[4 * i] + d[4 * i + 1] + d[4 * i + 2]) / 400;
    d[4 * i] += v * k;
    d[4 * i + 1] += v * k;
    d[4 * i + 2] += v * k;
  }
  ctx.putImageData(picture, x, y);
}

/** A wall of boards: seams, grain lines, nails. */
export function boards(
  ctx: SKRSContext2D,
  box: { x: number; y: number; width: number; height: number },
  seed: number,
  options: { board: number; color: string; seam: string; upright: boolean },
): void {
  const random = seededRandom(seed);
  ctx.save();
  ctx.beginPath();
  ctx.rect(box.x, box.y, box.width, box.height);
  ctx.clip();
  ctx.fillStyle = options.color;
  ctx.fillRect(box.x, box.y, box.width, box.height);
  const length = options.upright ? box.width : box.height;
  for (let at = 0, k = 0; at < length; at += options.board, k++) {
    ctx.fillStyle =
      random() < 0.5 ? `rgba(0,0,0,${0.05 + 0.14 * random()})` : `rgba(255,220,180,${0.03 + 0.07 * random()})`;
    if (options.upright) ctx.fillRect(box.x + at, box.y, options.board, box.height);
    else ctx.fillRect(box.x, box.y + at, box.width, options.board);
    ctx.strokeStyle = options.seam;
    ctx.lineWidth = 1.6;
    ctx.beginPath();
    if (options.upright) {
      ctx.moveTo(box.x + at, box.y);
      ctx.lineTo(box.x + at, box.y + box.height);
    } else {
      ctx.moveTo(box.x, box.y + at);
      ctx.lineTo(box.x + box.width, box.y + at);
    }
    ctx.stroke();
    ctx.fillStyle = 'rgba(10,8,6,0.75)';
    for (let n = 0; n < 3; n++) {
      const along = (n + 0.2 + 0.6 * random()) / 3;
      const x = options.upright ? box.x + at + options.board * (0.3 + 0.4 * random()) : box.x + along * box.width;
      const y = options.upright ? box.y + along * box.height : box.y + at + options.board * 0.5;
      ctx.beginPath();
      ctx.arc(x, y, 1.3, 0, 7);
      ctx.fill();
    }
  }
  ctx.restore();
  weather(ctx, box, seed + 5, 34, { blotch: 20, octaves: 5, stretch: options.upright ? 0.35 : 4 });
}

/** Light that falls off from a point. */
export function glow(
  ctx: SKRSContext2D,
  x: number,
  y: number,
  radius: number,
  color: [number, number, number],
  strength: number,
): void {
  const g = ctx.createRadialGradient(x, y, 0, x, y, radius);
  for (const [stop, share] of [
    [0, 1],
    [0.25, 0.45],
    [0.55, 0.14],
    [1, 0],
  ])
    g.addColorStop(stop, `rgba(${color.join(',')},${strength * share})`);
  ctx.save();
  ctx.globalCompositeOperation = 'screen';
  ctx.fillStyle = g;
  ctx.fillRect(x - radius, y - radius, 2 * radius, 2 * radius);
  ctx.restore();
}

export function layer(width: number, height: number): { canvas: Canvas; ctx: SKRSContext2D } {
  const canvas = createCanvas(width, height);
  return { canvas, ctx: canvas.getContext('2d') };
}
