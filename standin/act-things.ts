import type { SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';

/** A small van, seen from the side; x is its left end, all in pixels of a 1280 wide frame. */
export function paintVan(ctx: SKRSContext2D, x: number, ground: number): void {
  ctx.save();
  ctx.translate(x, ground);
  ctx.fillStyle = 'rgba(0,0,0,0.42)';
  ctx.beginPath();
  ctx.ellipse(210, 2, 226, 15, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = '#5d6f3a';
  ctx.beginPath();
  ctx.moveTo(0, -34);
  ctx.lineTo(0, -186);
  ctx.quadraticCurveTo(4, -200, 20, -200);
  ctx.lineTo(276, -200);
  ctx.lineTo(356, -120);
  ctx.lineTo(408, -104);
  ctx.quadraticCurveTo(420, -98, 420, -80);
  ctx.lineTo(420, -34);
  ctx.closePath();
  ctx.fill();
  ctx.fillStyle = '#1c232b';
  ctx.beginPath();
  ctx.moveTo(248, -184);
  ctx.lineTo(274, -184);
  ctx.lineTo(336, -120);
  ctx.lineTo(248, -120);
  ctx.closePath();
  ctx.fill();
  ctx.strokeStyle = '#42512a';
  ctx.lineWidth = 4;
  for (const line of [70, 140, 210]) ctx.strokeRect(line - 56, -180, 56, 118);
  ctx.fillStyle = '#e9ddba';
  ctx.fillRect(402, -92, 16, 18);
  for (const wheel of [84, 336]) {
    ctx.fillStyle = '#141414';
    ctx.beginPath();
    ctx.arc(wheel, -34, 36, 0, 7);
    ctx.fill();
    ctx.fillStyle = '#8f8f88';
    ctx.beginPath();
    ctx.arc(wheel, -34, 16, 0, 7);
    ctx.fill();
  }
  ctx.restore();
}

/** A cloth held or falling upright, its foot on the ground and its upper edge so high above it. */
export function paintCloth(ctx: SKRSContext2D, x: number, foot: number, height: number, hue: number): void {
  const wide = 122 + 26 * Math.max(0, 1 - height / 240);
  ctx.save();
  ctx.translate(x, foot);
  ctx.fillStyle = 'rgba(0,0,0,0.34)';
  ctx.beginPath();
  ctx.ellipse(16, 3, wide + 14, 10, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = `hsl(${hue},44%,34%)`;
  ctx.beginPath();
  ctx.moveTo(-wide, 0);
  ctx.lineTo(-wide + 4, -height);
  ctx.lineTo(wide - 4, -height);
  ctx.lineTo(wide, 0);
  ctx.closePath();
  ctx.fill();
  const random = seededRandom(Math.floor(hue) + 17);
  for (let k = 0; k < 9; k++) {
    const at = -wide + 8 + (2 * wide - 16) * ((k + random()) / 9);
    ctx.strokeStyle = `hsla(${hue},44%,${k % 2 ? 30 : 47}%,0.75)`;
    ctx.lineWidth = 3 + 5 * random();
    ctx.beginPath();
    ctx.moveTo(at, -3);
    ctx.quadraticCurveTo(at + 10 * (random() - 0.5), -height / 2, at, -height + 3);
    ctx.stroke();
  }
  ctx.restore();
}

/** A cloth that lies over something as high as a knee. */
export function paintCover(ctx: SKRSContext2D, x: number, foot: number, hue: number): void {
  ctx.save();
  ctx.translate(x, foot);
  ctx.fillStyle = 'rgba(0,0,0,0.36)';
  ctx.beginPath();
  ctx.ellipse(8, 2, 112, 11, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = `hsl(${hue},44%,34%)`;
  ctx.beginPath();
  ctx.moveTo(-104, 0);
  ctx.quadraticCurveTo(-92, -150, -66, -168);
  ctx.lineTo(66, -172);
  ctx.quadraticCurveTo(94, -150, 104, 0);
  ctx.closePath();
  ctx.fill();
  ctx.strokeStyle = `hsla(${hue},44%,29%,0.8)`;
  ctx.lineWidth = 5;
  for (const at of [-60, -22, 20, 58]) {
    ctx.beginPath();
    ctx.moveTo(at, -164);
    ctx.lineTo(at * 1.35, -4);
    ctx.stroke();
  }
  ctx.restore();
}

/** A brass lantern in the air. */
export function paintLantern(ctx: SKRSContext2D, x: number, y: number): void {
  ctx.save();
  ctx.translate(x, y);
  ctx.strokeStyle = '#7d6330';
  ctx.lineWidth = 5;
  ctx.beginPath();
  ctx.arc(0, -46, 22, Math.PI, 0);
  ctx.stroke();
  ctx.fillStyle = '#a17f3c';
  ctx.fillRect(-34, -44, 68, 14);
  ctx.fillRect(-38, 54, 76, 18);
  ctx.fillStyle = '#f2c879';
  ctx.fillRect(-28, -30, 56, 84);
  ctx.fillStyle = '#6d5526';
  for (const at of [-31, -9, 6, 26]) ctx.fillRect(at, -30, 5, 84);
  ctx.restore();
}

/** The light of a lamp, added to what is there. */
export function paintLamp(ctx: SKRSContext2D, at: { x: number; y: number }, reach: number): void {
  ctx.save();
  ctx.globalCompositeOperation = 'lighter';
  const glow = ctx.createRadialGradient(at.x, at.y, 0, at.x, at.y, reach);
  glow.addColorStop(0, 'rgba(255,190,110,0.55)');
  glow.addColorStop(0.45, 'rgba(255,176,90,0.24)');
  glow.addColorStop(1, 'rgba(255,170,80,0)');
  ctx.fillStyle = glow;
  ctx.fillRect(at.x - reach, at.y - reach, 2 * reach, 2 * reach);
  ctx.restore();
}
