import { createCanvas, type Canvas, type Image, type SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';

/** What somebody wears, or a cloth is of. */
export type Look = 'plain' | 'light' | 'dark' | 'stripes' | 'checks' | 'print';

/** A figure's pose; lengths in shares of its height, angles in radians from hanging down, outwards. */
export interface Pose {
  /** Feet, source pixels. */
  x: number;
  ground: number;
  height: number;
  /** Swing of the legs, and of each arm. */
  stride?: number;
  arms?: [left: number, right: number];
  /** Bend of the elbows, towards the middle. */
  elbows?: number;
  lean?: number;
  /** How far the right foot is lifted, share of the height. */
  foot?: number;
}

/** A tile of cloth, 96 pixels square; a print is a piece of a photograph in other colours. */
export function clothOf(look: Look, seed: number, photo: Image): Canvas {
  const tile = createCanvas(96, 96);
  const ctx = tile.getContext('2d');
  const random = seededRandom(seed * 101 + 3);
  const hue = Math.floor(360 * random());
  const fill = (colour: string, ...box: [number, number, number, number]) => {
    ctx.fillStyle = colour;
    ctx.fillRect(...box);
  };
  const base = { plain: `hsl(${hue} 45% 42%)`, light: `hsl(${hue} 12% 82%)`, dark: `hsl(${hue} 20% 14%)` };
  fill(look in base ? base[look as keyof typeof base] : `hsl(${hue} 50% 40%)`, 0, 0, 96, 96);
  const other = `hsl(${(hue + 140) % 360} 40% 70%)`;
  if (look === 'stripes') for (let y = 0; y < 96; y += 24) fill(other, 0, y, 96, 11);
  if (look === 'checks')
    for (let y = 0; y < 96; y += 24) for (let x = (y / 24) % 2 ? 24 : 0; x < 96; x += 48) fill(other, x, y, 24, 24);
  if (look === 'print') {
    const side = Math.min(photo.width, photo.height) / 3;
    ctx.drawImage(photo, side * random(), side * random(), side, side, 0, 0, 96, 96);
    ctx.globalCompositeOperation = 'hue';
    fill(`hsl(${hue} 60% 50%)`, 0, 0, 96, 96);
    ctx.globalCompositeOperation = 'source-over';
  }
  // No cloth is of one colour to the last pixel.
  for (let k = 0; k < 900; k++)
    fill(`rgba(${random() < 0.5 ? '0,0,0' : '255,255,255'},0.05)`, 96 * random(), 96 * random(), 2, 2);
  return tile;
}

function limb(ctx: SKRSContext2D, from: [number, number], bends: [angle: number, length: number][], width: number) {
  ctx.lineWidth = width;
  ctx.lineCap = 'round';
  ctx.lineJoin = 'round';
  ctx.beginPath();
  let [x, y] = from;
  ctx.moveTo(x, y);
  for (const [angle, length] of bends) {
    x += length * Math.sin(angle);
    y += length * Math.cos(angle);
    ctx.lineTo(x, y);
  }
  ctx.stroke();
}

/** Paints somebody. @param cloth of their coat  @param trousers of their legs */
export function paintFigure(ctx: SKRSContext2D, pose: Pose, cloth: Canvas, trousers: Canvas): void {
  const { x, ground, height: h, stride = 0, arms = [0.15, 0.15], elbows = 0, lean = 0, foot = 0 } = pose;
  ctx.save();
  ctx.translate(x, ground);
  ctx.rotate(lean);
  const [hip, shoulder] = [-0.48 * h, -0.8 * h];
  ctx.strokeStyle = ctx.createPattern(trousers, 'repeat')!;
  limb(ctx, [-0.05 * h, hip], [[-stride - 0.03, 0.46 * h]], 0.09 * h); // prettier-ignore
  limb(ctx, [0.05 * h, hip], [[stride + 0.03 + 1.2 * foot, (0.46 - foot / 2) * h]], 0.09 * h); // prettier-ignore
  ctx.fillStyle = ctx.createPattern(cloth, 'repeat')!;
  ctx.strokeStyle = ctx.fillStyle;
  ctx.beginPath();
  ctx.roundRect(-0.12 * h, shoulder - 0.03 * h, 0.24 * h, 0.4 * h, 0.06 * h);
  ctx.fill();
  limb(ctx, [-0.11 * h, shoulder + 0.03 * h], [[-arms[0], 0.17 * h], [-arms[0] + elbows, 0.16 * h]], 0.065 * h); // prettier-ignore
  limb(ctx, [0.11 * h, shoulder + 0.03 * h], [[arms[1], 0.17 * h], [arms[1] - elbows, 0.16 * h]], 0.065 * h); // prettier-ignore
  ctx.fillStyle = '#b98a6a';
  ctx.beginPath();
  ctx.ellipse(0, -0.92 * h, 0.062 * h, 0.08 * h, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = '#2a1d14';
  ctx.beginPath();
  ctx.ellipse(0, -0.955 * h, 0.066 * h, 0.05 * h, 0, 0, 7);
  ctx.fill();
  ctx.restore();
}
