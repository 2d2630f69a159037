import { createCanvas, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/image/random';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor } = Math;

/** A tile of smooth random light and dark, several sizes of blotch added up (value noise, Perlin's octaves). */
export function mottle(width: number, height: number, seed: number, options: { blotch: number; octaves: number; stretch?: number }): Float32Array {
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
    for (let y = 0; y < height; y++) {
      const v = y / cell;
      const j = floor(v);
      const b = ease(v - j);
      for (let x = 0; x < width; x++) {
        const u = x / cellX;
        const i = floor(u);
        const a = ease(u - i);
        const k = j * columns + i;
        const top = grid[k] + (grid[k + 1] - grid[k]) * a;
        const low = grid[k + columns] + (grid[k + columns + 1] - grid[k + columns]) * a;
        out[y * width + x] += amplitude * (top + (low - top) * b);
      }
    }
    total += amplitude;
    amplitude *= 0.62;
    cell /= 2;
  }
  for (let i = 0; i < out.length; i++) out[i] /= total;
  return out;
}

function ease(t: number): number {
  return t * t * (3 - 2 * t);
}

/** Weathers everything painted so far inside a shape: lighter and darker by up to `strength` levels. */
export function weather(
  ctx: SKRSContext2D, box: { x: number; y: number; width: number; height: number }, seed: number, strength: number,
  options = { blotch: 24, octaves: 5, stretch: 1 },
): void {
  const x = floor(box.x), y = floor(box.y);
  const width = ceil(box.width), height = ceil(box.height);
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
  ctx: SKRSContext2D, box: { x: number; y: number; width: number; height: number }, seed: number,
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
    ctx.fillStyle = random() < 0.5 ? `rgba(0,0,0,${0.05 + 0.14 * random()})` : `rgba(255,220,180,${0.03 + 0.07 * random()})`;
    if (options.upright) ctx.fillRect(box.x + at, box.y, options.board, box.height);
    else ctx.fillRect(box.x, box.y + at, box.width, options.board);
    ctx.strokeStyle = options.seam;
    ctx.lineWidth = 1.6;
    ctx.beginPath();
    if (options.upright) { ctx.moveTo(box.x + at, box.y); ctx.lineTo(box.x + at, box.y + box.height); } else { ctx.moveTo(box.x, box.y + at); ctx.lineTo(box.x + box.width, box.y + at); }
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
export function glow(ctx: SKRSContext2D, x: number, y: number, radius: number, color: [number, number, number], strength: number): void {
  const g = ctx.createRadialGradient(x, y, 0, x, y, radius);
  for (const [stop, share] of [[0, 1], [0.25, 0.45], [0.55, 0.14], [1, 0]]) g.addColorStop(stop, `rgba(${color.join(',')},${strength * share})`);
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
