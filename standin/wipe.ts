import { createCanvas, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';
import type { Scene } from './scenes';
import { MARGIN } from './scenes';
import type { CameraSettings } from './settings';
import { boards, weather } from './textures';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { PI, abs, ceil, floor, max, min, round, sin } = Math;

/** What covers the picture in a stand-in wipe, and when: the truth, in pixels of the frame. Covered is where it hides at least half. */
export interface WipeTruth {
  kind: 'passing' | 'panning' | 'approaching' | 'closing';
  /** Way the edge travels; null for an approach. */
  direction_deg: number | null;
  cover_share: number[];
  /** Edges along the way of travel at mid-height (mid-width for vertical ones); null while the edge is not to be seen. */
  lead_px: (number | null)[];
  trail_px: (number | null)[];
  /** The camera's own movement: where the first frame's content lies. */
  dx_px: number[];
  scale: number[];
  enter_frame: number | null;
  first_full_frame: number | null;
  last_full_frame: number | null;
  leave_frame: number | null;
}

/** Where the object stands in a frame: its own pixel (x, y) appears at (left + scale * x, top + scale * y). */
interface Place {
  left: number;
  top: number;
  scale: number;
}

/** A planned wipe: what is drawn where in each frame. */
export interface Wipe {
  sprite: Canvas | null;
  places: Place[];
  /** Where the scenery lies: shift across, and size about the frame's centre. */
  camera: { dx: number; scale: number }[];
  truth: WipeTruth;
}

const HALF = 128;
const SEEN_SHARE = 0.0004;

/** Plans the wipe of a take; null when none is asked for. */
export function planWipe(settings: CameraSettings, width: number, height: number): Wipe | null {
  const { wipe, fps, seconds, seed } = settings;
  if (!wipe || wipe === 'none') return null;
  const count = round(seconds * fps);
  const random = seededRandom(seed * 911 + 17);
  const vary = 0.9 + 0.2 * random();
  const unit = width / 1280;
  const backwards = settings.wipe_way === 'right-to-left';
  const fault = settings.wipe_fault ?? 'none';
  const soft = (fault === 'soft' ? 26 : { cart: 3, coat: 12, pan: 9, 'walk-in': 1.2, lid: 1.5 }[wipe]) * unit;
  /** Share of the way that is done at a frame: even, or in fits and starts. */
  const way = (f: number) => {
    const t = f / (count - 1);
    return fault === 'uneven' ? t + 0.09 * sin(2 * PI * 2 * t) : t;
  };
  const camera = Array.from({ length: count }, () => ({ dx: 0, scale: 1 }));
  const places: Place[] = [];
  if (wipe === 'cart' || wipe === 'coat') {
    const long = (wipe === 'cart' ? 1.32 : 1.22) * width * vary;
    const from = -long - 0.22 * width,
      to = width + (fault === 'stays-in' ? -0.35 * width : 0.3 * width);
    const step = abs(to - from) / count;
    const sprite = paintObject(wipe, long, height, unit, soft, 0.5 * step, seed, fault === 'misses-corner', backwards);
    const pad = (sprite.width - long) / 2;
    for (let f = 0; f < count; f++) {
      const x = from + (to - from) * (fault === 'stays-in' ? min(1, 1.25 * way(f)) : way(f));
      places.push({ left: (backwards ? width - x - long : x) - pad, top: -PAD * unit, scale: 1 });
    }
    return finish('passing', backwards ? 180 : 0, sprite, places, camera, width, height);
  }
  if (wipe === 'pan') {
    const near = 2.4 * vary,
      long = 1.3 * width;
    const far = (long + 1.5 * width) / near;
    const sprite = paintObject(
      'post',
      long,
      height,
      unit,
      soft,
      (0.5 * far * near) / count,
      seed,
      fault === 'misses-corner',
      backwards,
    );
    const pad = (sprite.width - long) / 2;
    for (let f = 0; f < count; f++) {
      const dx = far * way(f) * (fault === 'stays-in' ? 0.72 : 1);
      camera[f].dx = backwards ? -dx : dx;
      const x = -long - 0.25 * width + near * dx;
      places.push({ left: (backwards ? width - x - long : x) - pad, top: -PAD * unit, scale: 1 });
    }
    return finish('panning', backwards ? 180 : 0, sprite, places, camera, width, height);
  }
  if (wipe === 'walk-in') {
    const w = 0.5 * width,
      h = 0.62 * height;
    const sprite = paintObject('door', w, h, unit, soft, 0, seed, false, false);
    const last = (fault === 'stays-in' ? 1.5 : 2.9) * vary;
    for (let f = 0; f < count; f++) {
      // A steady pace: the size grows with the inverse of the distance.
      const scale = 1 / (1 - (1 - 1 / last) * min(1, 1.12 * way(f)));
      camera[f].scale = 1 + 0.35 * (scale - 1);
      const sway = fault === 'uneven' ? 0.05 * width * sin(9 * way(f)) : 0;
      places.push({
        left: width / 2 + sway - (scale * sprite.width) / 2,
        top: 0.52 * height - (scale * sprite.height) / 2,
        scale,
      });
    }
    return finish('approaching', null, sprite, places, camera, width, height);
  }
  const sprite = paintObject(
    'lid',
    1.1 * width,
    1.2 * height,
    unit,
    soft,
    (0.5 * height) / (0.55 * count),
    seed,
    fault === 'misses-corner',
    false,
  );
  for (let f = 0; f < count; f++) {
    const down = max(0, min(1, (way(f) - 0.25) / 0.5)) * (fault === 'stays-in' ? 0.86 : 1.06);
    places.push({ left: (width - sprite.width) / 2, top: down * height - (sprite.height - PAD * unit), scale: 1 });
  }
  return finish('closing', 90, sprite, places, camera, width, height);
}

/** Room round an object for its soft edges, pixels of a 1280 wide frame. */
const PAD = 90;

/** Paints what will cover the picture, with soft edges and the blur of its movement. */
function paintObject(
  what: 'cart' | 'coat' | 'post' | 'door' | 'lid',
  w: number,
  h: number,
  unit: number,
  soft: number,
  smear: number,
  seed: number,
  missing: boolean,
  turned: boolean,
): Canvas {
  const pad = PAD * unit;
  const tall = what === 'door' || what === 'lid' ? h : h + 0.2 * h;
  const plain = createCanvas(ceil(w + 2 * pad), ceil(tall + 2 * pad));
  const ctx = plain.getContext('2d');
  const box = {
    x: pad,
    y: what === 'door' || what === 'lid' ? pad : 0,
    width: w,
    height: what === 'door' || what === 'lid' ? h : plain.height,
  };
  ctx.beginPath();
  outline(ctx, what, box, unit, seed);
  ctx.clip();
  const pixel = { x: 0, y: 0, width: plain.width, height: plain.height };
  if (what === 'cart')
    boards(ctx, pixel, seed, { board: 74 * unit, color: '#5b3f26', seam: 'rgba(20,12,6,0.8)', upright: false });
  else if (what === 'door')
    boards(ctx, pixel, seed, { board: 34 * unit, color: '#3c5a54', seam: 'rgba(10,16,14,0.8)', upright: true });
  else {
    ctx.fillStyle = { coat: '#23252c', post: '#2c2925', lid: '#41372c' }[what];
    ctx.fillRect(0, 0, plain.width, plain.height);
    weather(ctx, pixel, seed + 3, what === 'coat' ? 26 : 60, {
      blotch: (what === 'lid' ? 40 : 70) * unit,
      octaves: 5,
      stretch: what === 'post' ? 0.4 : 1,
    });
  }
  if (missing) {
    // The corner that the object does not reach.
    ctx.globalCompositeOperation = 'destination-out';
    ctx.beginPath();
    const top = what === 'lid' ? plain.height - pad - 0.3 * h : pad - 1;
    const right = what === 'lid' ? plain.width : pad + 0.62 * w,
      reach = what === 'lid' ? 0.25 * w : 0.5 * w;
    ctx.moveTo(right - reach, what === 'lid' ? plain.height : top - pad);
    ctx.lineTo(right, what === 'lid' ? plain.height : top - pad);
    ctx.lineTo(right, top + (what === 'lid' ? 0 : 0.16 * h));
    ctx.lineTo(right - 0.6 * reach, top + (what === 'lid' ? 0 : 0.12 * h));
    ctx.fill();
    ctx.globalCompositeOperation = 'source-over';
  }
  const blurred = createCanvas(plain.width, plain.height);
  const out = blurred.getContext('2d');
  out.filter = `blur(${(soft / 2).toFixed(2)}px)`;
  if (turned) out.setTransform(-1, 0, 0, 1, plain.width, 0);
  out.drawImage(plain, 0, 0);
  if (smear < 1) return blurred;
  const moved = createCanvas(plain.width, plain.height);
  const mix = moved.getContext('2d');
  const steps = max(2, min(24, ceil(smear / 2)));
  mix.globalCompositeOperation = 'lighter';
  mix.globalAlpha = 1 / steps;
  for (let k = 0; k < steps; k++) {
    const by = smear * ((k + 0.5) / steps - 0.5);
    mix.drawImage(blurred, what === 'lid' ? 0 : by, what === 'lid' ? by : 0);
  }
  return moved;
}

function outline(
  ctx: SKRSContext2D,
  what: string,
  { x, y, width, height }: { x: number; y: number; width: number; height: number },
  unit: number,
  seed: number,
): void {
  const random = seededRandom(seed * 7 + 1);
  if (what === 'door' || what === 'lid') {
    ctx.rect(x, y, width, height);
    return;
  }
  const waves = what === 'coat' ? 46 * unit : what === 'post' ? 9 * unit : 5 * unit,
    lean = (what === 'cart' ? 0.05 : 0.03) * height * (random() - 0.5);
  const phases = [random() * 6, random() * 6];
  const edge = (v: number, k: number) => waves * sin(v * 5 + phases[k]) + lean * (v - 0.5) * 2;
  ctx.moveTo(x + edge(0, 0), y);
  for (let v = 0; v <= 1.0001; v += 0.02) ctx.lineTo(x + edge(v, 0), y + v * height);
  for (let v = 1; v >= -0.0001; v -= 0.02) ctx.lineTo(x + width + edge(v, 1), y + v * height);
  ctx.closePath();
}

const COARSE = 4;

function finish(
  kind: WipeTruth['kind'],
  direction: number | null,
  sprite: Canvas,
  places: Place[],
  camera: Wipe['camera'],
  width: number,
  height: number,
): Wipe {
  const { width: wide, height: tall } = sprite;
  const { data } = sprite.getContext('2d').getImageData(0, 0, wide, tall);
  // The canvas's own numbers are slow to read one by one.
  const solid = new Uint8Array(wide * tall),
    rgba = new Uint32Array(data.buffer, data.byteOffset, wide * tall);
  for (let i = 0; i < solid.length; i++) solid[i] = rgba[i] >>> 24 >= HALF ? 1 : 0;
  const hides = (p: Place, x: number, y: number) => {
    const u = floor((x - p.left) / p.scale),
      v = floor((y - p.top) / p.scale);
    return u >= 0 && v >= 0 && u < wide && v < tall && solid[v * wide + u] === 1;
  };
  const vertical = direction === 90;
  const share = places.map((p) => {
    let n = 0,
      all = 0;
    for (let y = COARSE / 2; y < height; y += COARSE)
      for (let x = COARSE / 2; x < width; x += COARSE, all++) if (hides(p, x, y)) n++;
    return n / all;
  });
  const edges = places.map((p) => {
    const long = vertical ? height : width;
    let first = -1,
      last = -1;
    for (let a = 0; a < long; a++) {
      if (!hides(p, vertical ? width / 2 : a, vertical ? a : height / 2)) continue;
      if (first < 0) first = a;
      last = a;
    }
    return { low: first > 0 ? first : null, high: last >= 0 && last < long - 1 ? last + 1 : null };
  });
  const forwards = direction !== 180;
  const seen = share.flatMap((s, f) => (s > SEEN_SHARE ? [f] : [])),
    full = share.flatMap((s, f) => (s >= 1 - SEEN_SHARE / 4 ? [f] : []));
  const gone = seen.length > 0 && seen[seen.length - 1] < places.length - 1;
  return {
    sprite,
    places,
    camera,
    truth: {
      kind,
      direction_deg: direction,
      cover_share: share,
      lead_px: edges.map((e) => (direction === null ? null : forwards ? e.high : e.low)),
      trail_px: edges.map((e) => (direction === null ? null : forwards ? e.low : e.high)),
      dx_px: camera.map((c) => c.dx),
      scale: camera.map((c) => c.scale),
      enter_frame: seen[0] ?? null,
      first_full_frame: full[0] ?? null,
      last_full_frame: full.length ? full[full.length - 1] : null,
      leave_frame: gone ? seen[seen.length - 1] : null,
    },
  };
}

/** Draws the scenery of a camera that pans or walks: the painting goes on beyond its edges as its mirror image. */
export function paintMovingScene(
  ctx: SKRSContext2D,
  scene: Scene,
  which: 'back' | 'front',
  { dx, scale }: Wipe['camera'][number],
  width: number,
  height: number,
): void {
  const painting = scene[which],
    w = painting.width,
    margin = MARGIN * scene.unit;
  for (let k = -3; k <= 3; k++) {
    const left = k * w - margin + dx;
    if (left > width || left + w < 0) continue;
    const turned = k % 2 !== 0;
    ctx.setTransform(
      turned ? -scale : scale,
      0,
      0,
      scale,
      width / 2 + scale * ((turned ? left + w : left) - width / 2),
      height / 2 + scale * (-margin - height / 2),
    );
    ctx.drawImage(painting, 0, 0);
  }
}

/** Draws what covers the picture. */
export function paintOccluder(ctx: SKRSContext2D, wipe: Wipe, frame: number): void {
  if (!wipe.sprite) return;
  const p = wipe.places[frame];
  ctx.setTransform(p.scale, 0, 0, p.scale, p.left, p.top);
  ctx.drawImage(wipe.sprite, 0, 0);
}
