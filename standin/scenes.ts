import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';
import type { CameraSettings } from './settings';
import { boards, glow, layer, weather } from './textures';

/** A painted place. Coordinates are pixels of a 1280 x 720 frame; the painting reaches `MARGIN` beyond it on every side. */
export interface Scene {
  /** What lies behind the performers, and what stands in front of them. */
  back: Canvas;
  front: Canvas;
  /** Pixels of the painting for one pixel of the 1280 wide frame. */
  unit: number;
  /** Height of the ground where performers walk. */
  ground: number;
  /** Where a waiting performer stands, and where one stands across from them. */
  mark: number;
  across: number;
  /** The kiosk's first window. */
  window: { x: number; y: number; width: number; height: number };
  /** The middle of the pillar. */
  pillar: number;
  /** The lantern, or where one would stand. */
  lantern: { x: number; y: number };
  /** Water that glitters, in frame coordinates. */
  water: { x: number; y: number; width: number; height: number };
}

export const MARGIN = 160;
const WIDTH = 1280 + 2 * MARGIN;
const HEIGHT = 720 + 2 * MARGIN;

/** Where the kiosk stands in each place, and its size. */
const KIOSKS: Record<CameraSettings['scene'], [x: number, y: number, size: number]> = {
  kiosk: [700, 214, 1],
  pillar: [60, 300, 0.62],
  bench: [920, 262, 0.7],
};

/** The kiosk's first window. */
function windowOf(x: number, y: number, size: number) {
  const w = 400 * size,
    h = 380 * size;
  return { x: x + 0.1 * w, y: y + 0.2 * h, width: 0.32 * w, height: 0.3 * h };
}

/** Paints one of the places of the demo shoot for a frame this wide. @param lit whether the lantern hangs there */
export function paintScene(name: CameraSettings['scene'], width: number, lit = true): Scene {
  const unit = width / 1280;
  const w = Math.round(WIDTH * unit);
  const h = Math.round(HEIGHT * unit);
  const back = layer(w, h);
  const front = layer(w, h);
  for (const { ctx } of [back, front]) ctx.setTransform(unit, 0, 0, unit, MARGIN * unit, MARGIN * unit);
  sky(back.ctx, unit);
  sea(back.ctx, unit);
  quay(back.ctx, unit);
  if (name === 'kiosk') {
    kiosk(back.ctx, unit, ...KIOSKS.kiosk);
    pillar(front.ctx, unit, 172, 330, 74);
    if (lit) lantern(back.ctx, 884, 424);
  } else if (name === 'pillar') {
    kiosk(back.ctx, unit, ...KIOSKS.pillar);
    pillar(front.ctx, unit, 590, 200, 128);
    trolley(back.ctx, unit, 930, 430);
  } else {
    kiosk(back.ctx, unit, ...KIOSKS.bench);
    bench(back.ctx, unit, 300, 440);
    pillar(front.ctx, unit, 92, 360, 66);
  }
  vignette(front.ctx);
  return {
    back: back.canvas,
    front: front.canvas,
    unit,
    ground: name === 'bench' ? 640 : 628,
    pillar: { kiosk: 209, pillar: 654, bench: 125 }[name],
    mark: { kiosk: 1010, pillar: 420, bench: 560 }[name],
    across: { kiosk: 430, pillar: 1010, bench: 1080 }[name],
    window: windowOf(...KIOSKS[name]),
    lantern: { kiosk: { x: 884, y: 424 }, pillar: { x: 300, y: 424 }, bench: { x: 440, y: 430 } }[name],
    water: { x: 0, y: 338, width: 1280, height: 120 },
  };
}

/** The same box in pixels of the painting, for functions that work on pixels. */
function pixels(unit: number, x: number, y: number, width: number, height: number) {
  return { x: (x + MARGIN) * unit, y: (y + MARGIN) * unit, width: width * unit, height: height * unit };
}

function sky(ctx: SKRSContext2D, unit: number): void {
  const g = ctx.createLinearGradient(0, -MARGIN, 0, 340);
  for (const [stop, color] of [
    [0, '#1b2a44'],
    [0.45, '#4a4f68'],
    [0.75, '#b07a5e'],
    [0.92, '#e0a06a'],
    [1, '#c98b62'],
  ] as const)
    g.addColorStop(stop, color);
  ctx.fillStyle = g;
  ctx.fillRect(-MARGIN, -MARGIN, WIDTH, 340 + MARGIN);
  weather(ctx, pixels(unit, -MARGIN, -MARGIN, WIDTH, 330 + MARGIN), 101, 46, {
    blotch: 90 * unit,
    octaves: 6,
    stretch: 3,
  });
  // An island with its lights, and masts.
  const random = seededRandom(55);
  ctx.fillStyle = '#2a2c38';
  ctx.beginPath();
  ctx.moveTo(-MARGIN, 340);
  for (let x = -MARGIN; x <= 1280 + MARGIN; x += 14) {
    ctx.lineTo(
      x,
      318 - 26 * Math.exp(-(((x - 420) / 260) ** 2)) - 14 * Math.exp(-(((x - 980) / 180) ** 2)) - 5 * random(),
    );
  }
  ctx.lineTo(1280 + MARGIN, 340);
  ctx.fill();
  for (let i = 0; i < 60; i++) {
    const x = -MARGIN + WIDTH * random();
    ctx.fillStyle = `rgba(255,${190 + 50 * random()},120,${0.4 + 0.5 * random()})`;
    ctx.fillRect(x, 316 + 18 * random(), 1.5 + 1.5 * random(), 1.5);
  }
  ctx.strokeStyle = '#1d1d22';
  for (let i = 0; i < 9; i++) {
    const x = 40 + 150 * i + 60 * random();
    const top = 180 + 90 * random();
    ctx.lineWidth = 2 + random();
    ctx.beginPath();
    ctx.moveTo(x, 345);
    ctx.lineTo(x + 3, top);
    ctx.moveTo(x - 24, top + 40);
    ctx.lineTo(x + 26, top + 34);
    ctx.stroke();
    ctx.lineWidth = 0.8;
    ctx.beginPath();
    ctx.moveTo(x + 3, top);
    ctx.lineTo(x - 40, 345);
    ctx.moveTo(x + 3, top);
    ctx.lineTo(x + 46, 345);
    ctx.stroke();
  }
}

function sea(ctx: SKRSContext2D, unit: number): void {
  const g = ctx.createLinearGradient(0, 338, 0, 470);
  g.addColorStop(0, '#a47a63');
  g.addColorStop(0.25, '#565663');
  g.addColorStop(1, '#252b36');
  ctx.fillStyle = g;
  ctx.fillRect(-MARGIN, 338, WIDTH, 140);
  weather(ctx, pixels(unit, -MARGIN, 340, WIDTH, 136), 202, 40, { blotch: 9 * unit, octaves: 3, stretch: 7 });
}

function quay(ctx: SKRSContext2D, unit: number): void {
  const g = ctx.createLinearGradient(0, 458, 0, 720 + MARGIN);
  g.addColorStop(0, '#4f4a45');
  g.addColorStop(1, '#2c2926');
  ctx.fillStyle = g;
  ctx.fillRect(-MARGIN, 458, WIDTH, 262 + MARGIN);
  const random = seededRandom(77);
  // Flagstones, larger towards the camera.
  for (let y = 462, row = 0; y < 720 + MARGIN; row++) {
    const height = 12 + row * 7;
    const width = 58 + row * 26;
    for (let x = -MARGIN - width * random(); x < 1280 + MARGIN; x += width * (0.85 + 0.3 * random())) {
      ctx.fillStyle = random() < 0.5 ? `rgba(0,0,0,${0.22 * random()})` : `rgba(255,225,190,${0.12 * random()})`;
      ctx.fillRect(x, y, width, height);
      ctx.strokeStyle = 'rgba(12,11,10,0.7)';
      ctx.lineWidth = 1 + row * 0.25;
      ctx.strokeRect(x, y, width, height);
    }
    y += height;
  }
  weather(ctx, pixels(unit, -MARGIN, 458, WIDTH, 262 + MARGIN), 303, 44, {
    blotch: 30 * unit,
    octaves: 6,
    stretch: 1.6,
  });
  ctx.fillStyle = '#1f1d1b';
  ctx.fillRect(-MARGIN, 452, WIDTH, 8);
}

function kiosk(ctx: SKRSContext2D, unit: number, x: number, y: number, size: number): void {
  const w = 400 * size,
    h = 380 * size;
  ctx.fillStyle = 'rgba(0,0,0,0.4)';
  ctx.beginPath();
  ctx.ellipse(x + w / 2, y + h + 6, w * 0.6, 22 * size, 0, 0, 7);
  ctx.fill();
  withPixels(ctx, unit, () =>
    boards(ctx, pixels(unit, x, y, w, h), 404, {
      board: 25 * size * unit,
      color: '#6d4c36',
      seam: 'rgba(20,12,8,0.85)',
      upright: true,
    }),
  );
  for (const [u, lit] of [
    [0.1, true],
    [0.58, true],
  ] as const) {
    const wx = x + w * u,
      wy = y + h * 0.2,
      ww = w * 0.32,
      wh = h * 0.3;
    ctx.fillStyle = '#2c1f16';
    ctx.fillRect(wx - 6, wy - 6, ww + 12, wh + 12);
    const g = ctx.createLinearGradient(wx, wy, wx, wy + wh);
    g.addColorStop(0, lit ? '#f4cf86' : '#39332e');
    g.addColorStop(1, lit ? '#d99a4c' : '#221f1c');
    ctx.fillStyle = g;
    ctx.fillRect(wx, wy, ww, wh);
    ctx.fillStyle = 'rgba(80,44,20,0.8)';
    ctx.fillRect(wx + ww / 2 - 2, wy, 4, wh);
    for (let i = 0; i < 5; i++)
      ctx.fillRect(wx + 8 + i * ww * 0.17, wy + wh * (0.62 + 0.05 * (i % 2)), ww * 0.1, wh * 0.38);
    weather(ctx, pixels(unit, wx, wy, ww, wh), 411 + u * 10, 22, { blotch: 14 * unit, octaves: 4, stretch: 1 });
  }
  ctx.fillStyle = '#3a2a1f';
  ctx.fillRect(x - 10 * size, y + h * 0.55, w + 20 * size, 16 * size);
  ctx.fillStyle = '#241a14';
  ctx.fillRect(x - 26 * size, y - 34 * size, w + 52 * size, 40 * size);
  weather(ctx, pixels(unit, x - 26 * size, y - 34 * size, w + 52 * size, 40 * size), 421, 40, {
    blotch: 8 * unit,
    octaves: 4,
    stretch: 3,
  });
  ctx.fillStyle = '#e9d9b4';
  ctx.fillRect(x + w * 0.24, y - 26 * size, w * 0.5, 24 * size);
  ctx.fillStyle = '#2a2018';
  ctx.font = `bold ${Math.round(19 * size)}px sans-serif`;
  ctx.fillText('NIGHT FERRY', x + w * 0.29, y - 8 * size);
  // Timetables pinned to the boards.
  const random = seededRandom(431);
  for (let i = 0; i < 6; i++) {
    ctx.fillStyle = ['#cdbb94', '#b8c0b6', '#c99b7b'][i % 3];
    const px = x + w * (0.06 + 0.155 * i),
      py = y + h * (0.66 + 0.06 * random());
    ctx.fillRect(px, py, w * 0.1, h * 0.15);
    ctx.fillStyle = 'rgba(30,24,18,0.85)';
    for (let l = 0; l < 6; l++) ctx.fillRect(px + 3, py + 4 + l * h * 0.022, w * (0.03 + 0.05 * random()), 1.6);
  }
  glow(ctx, x + w * 0.26, y + h * 0.35, 260 * size, [255, 190, 100], 0.32);
  glow(ctx, x + w * 0.74, y + h * 0.35, 260 * size, [255, 190, 100], 0.32);
}

function pillar(ctx: SKRSContext2D, unit: number, x: number, y: number, width: number): void {
  const bottom = 690;
  const g = ctx.createLinearGradient(x, 0, x + width, 0);
  for (const [stop, color] of [
    [0, '#17171a'],
    [0.3, '#4a4540'],
    [0.6, '#2c2a29'],
    [1, '#0f0f11'],
  ] as const)
    g.addColorStop(stop, color);
  ctx.fillStyle = g;
  ctx.fillRect(x, y, width, bottom - y);
  ctx.beginPath();
  ctx.ellipse(x + width / 2, y, width * 0.66, width * 0.2, 0, 0, 7);
  ctx.fill();
  // Rope wound round it.
  const random = seededRandom(x + 1);
  for (let i = 0; i < 9; i++) {
    const ry = y + (bottom - y) * 0.3 + i * 11;
    ctx.strokeStyle = `rgb(${120 + 50 * random()},${100 + 36 * random()},${70 + 20 * random()})`;
    ctx.lineWidth = 9;
    ctx.setLineDash([5, 2]);
    ctx.beginPath();
    ctx.moveTo(x - 3, ry);
    ctx.quadraticCurveTo(x + width / 2, ry + 12, x + width + 3, ry + 2);
    ctx.stroke();
  }
  ctx.setLineDash([]);
  weather(ctx, pixels(unit, x - 20, y - 20, width + 40, bottom - y + 20), x + 7, 46, {
    blotch: 12 * unit,
    octaves: 5,
    stretch: 0.7,
  });
}

function lantern(ctx: SKRSContext2D, x: number, y: number): void {
  ctx.fillStyle = '#8a6a2c';
  ctx.fillRect(x - 14, y - 4, 28, 6);
  ctx.fillRect(x - 12, y - 46, 24, 6);
  ctx.fillStyle = '#f7dc95';
  ctx.fillRect(x - 9, y - 40, 18, 36);
  ctx.strokeStyle = '#a8823a';
  ctx.lineWidth = 2.5;
  ctx.strokeRect(x - 10, y - 41, 20, 38);
  ctx.beginPath();
  ctx.arc(x, y - 50, 11, Math.PI, 0);
  ctx.stroke();
  glow(ctx, x, y - 22, 130, [255, 205, 120], 0.7);
}

function bench(ctx: SKRSContext2D, unit: number, x: number, y: number): void {
  ctx.fillStyle = 'rgba(0,0,0,0.45)';
  ctx.fillRect(x - 10, y + 150, 420, 16);
  withPixels(ctx, unit, () => {
    boards(ctx, pixels(unit, x, y, 400, 56), 505, {
      board: 18 * unit,
      color: '#5a4a38',
      seam: 'rgba(15,10,8,0.9)',
      upright: false,
    });
    boards(ctx, pixels(unit, x, y + 84, 400, 30), 506, {
      board: 15 * unit,
      color: '#6a5842',
      seam: 'rgba(15,10,8,0.9)',
      upright: false,
    });
  });
  ctx.fillStyle = '#26221d';
  for (const u of [16, 196, 376]) ctx.fillRect(x + u, y + 114, 12, 48);
  // A tarpaulin thrown over one end.
  ctx.fillStyle = '#3f5a5e';
  ctx.beginPath();
  ctx.moveTo(x + 250, y - 22);
  ctx.bezierCurveTo(x + 330, y - 50, x + 420, y - 20, x + 440, y + 20);
  ctx.lineTo(x + 452, y + 158);
  ctx.bezierCurveTo(x + 400, y + 140, x + 330, y + 170, x + 262, y + 146);
  ctx.closePath();
  ctx.fill();
  ctx.strokeStyle = 'rgba(10,20,24,0.55)';
  ctx.lineWidth = 3;
  for (let i = 0; i < 7; i++) {
    ctx.beginPath();
    ctx.moveTo(x + 268 + i * 26, y - 24 + 4 * i);
    ctx.bezierCurveTo(x + 262 + i * 28, y + 40, x + 284 + i * 24, y + 90, x + 270 + i * 27, y + 150);
    ctx.stroke();
  }
  weather(ctx, pixels(unit, x, y - 50, 460, 230), 515, 26, { blotch: 10 * unit, octaves: 4, stretch: 1 });
}

function trolley(ctx: SKRSContext2D, unit: number, x: number, y: number): void {
  withPixels(ctx, unit, () => {
    boards(ctx, pixels(unit, x, y, 120, 90), 606, {
      board: 22 * unit,
      color: '#77603f',
      seam: 'rgba(20,14,8,0.9)',
      upright: false,
    });
    boards(ctx, pixels(unit, x + 126, y + 16, 110, 74), 607, {
      board: 18 * unit,
      color: '#6b5136',
      seam: 'rgba(20,14,8,0.9)',
      upright: false,
    });
    boards(ctx, pixels(unit, x + 50, y - 78, 120, 76), 608, {
      board: 19 * unit,
      color: '#836a47',
      seam: 'rgba(20,14,8,0.9)',
      upright: false,
    });
  });
  ctx.fillStyle = '#1d1b19';
  ctx.fillRect(x - 16, y + 90, 270, 14);
  for (const u of [20, 200]) {
    ctx.beginPath();
    ctx.arc(x + u, y + 122, 24, 0, 7);
    ctx.fill();
  }
}

function vignette(ctx: SKRSContext2D): void {
  const g = ctx.createRadialGradient(640, 360, 420, 640, 360, 900);
  g.addColorStop(0, 'rgba(0,0,0,0)');
  g.addColorStop(1, 'rgba(0,0,0,0.35)');
  ctx.fillStyle = g;
  ctx.fillRect(-MARGIN, -MARGIN, WIDTH, HEIGHT);
}

/** Runs a painter that counts in pixels of the painting. */
function withPixels(ctx: SKRSContext2D, unit: number, paint: () => void): void {
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  paint();
  ctx.restore();
  ctx.setTransform(unit, 0, 0, unit, MARGIN * unit, MARGIN * unit);
}
