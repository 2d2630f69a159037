import type { SKRSContext2D } from '@napi-rs/canvas';
import { seededNormal, seededRandom } from '../core/base/numeric/random';
import { toCode, toLight } from '../core/base/image/transfer';
import type { CameraSettings } from './settings';

/** What the camera's automatics and the weather did in each frame: the truth of a stand-in take. */
export interface FaultTruth {
  /** Light against the first frame, stops. */
  light_stops: number[];
  steps: { frame: number; stops: number }[];
  flicker: { share_pct: number; seen_hz: number } | null;
  red_stops: number[];
  blue_stops: number[];
  /** Radius of the blur, pixels of the frame. */
  blur_px: number[];
  /** Readings of a light meter beside the camera: exposure value at ISO 100. */
  meter: { frame: number; ev: number }[];
}

/** Frequency of mains light as this rate shows it: 100 flashes a second, and a little more so that it beats. */
const FLASHES_HZ = 106.3;
const FLICKER_SHARE = 0.045;

/** Lays out what happens to light, white and focus in each frame. */
export function planFaults(settings: CameraSettings): FaultTruth {
  const { seconds, fps, width, seed } = settings;
  const count = Math.round(seconds * fps);
  const random = seededRandom(seed * 6007 + 9);
  const vary = 0.85 + 0.3 * random();
  const stepAt = Math.round(count * 0.42),
    share = (f: number) => f / Math.max(1, count - 1);
  const beat = Math.abs(FLASHES_HZ - Math.round(FLASHES_HZ / fps) * fps);
  const steady = { brighter: 0.34, darker: -0.34 }[settings.light as string] ?? 0;
  // The meter stands on the set: it sees sun and clouds, not what the camera does by itself; it evens flicker out.
  const onTheSet = settings.light === 'drift' || settings.light === 'cloud';
  const light = (f: number): number => {
    switch (settings.light) {
      case 'drift':
        return 0.36 * vary * share(f);
      case 'step':
        return f >= stepAt ? -0.3 * vary : 0;
      case 'cloud':
        return -0.55 * vary * Math.exp(-(((share(f) - 0.55) / 0.16) ** 2));
      case 'flicker':
        return Math.log2(1 + FLICKER_SHARE * Math.sin((2 * Math.PI * beat * f) / fps));
      default:
        return steady;
    }
  };
  const frames = Array.from({ length: count }, (_, f) => f);
  const huntAt = count * 0.55,
    huntLong = Math.max(6, 0.5 * fps);
  const blur = (f: number) =>
    (settings.focus === 'soft'
      ? 1.6
      : settings.focus === 'hunt' && Math.abs(f - huntAt) < huntLong
        ? 4.2 * Math.cos((Math.PI / 2) * ((f - huntAt) / huntLong))
        : 0) *
    (width / 1280);
  const shift = settings.white === 'shift' ? vary : 0;
  const stops = frames.map(light);
  const normal = seededNormal(seed * 31 + 77);
  const every = Math.max(1, Math.round(fps / 2));
  return {
    light_stops: stops,
    steps: settings.light === 'step' ? [{ frame: stepAt, stops: -0.3 * vary }] : [],
    flicker: settings.light === 'flicker' ? { share_pct: 100 * FLICKER_SHARE, seen_hz: beat } : null,
    red_stops: frames.map((f) => 0.16 * shift * share(f)),
    blue_stops: frames.map((f) => -0.24 * shift * share(f)),
    blur_px: frames.map(blur),
    meter: frames
      .filter((f) => f % every === 0)
      .map((f) => ({ frame: f, ev: Math.round(100 * (7.4 + (onTheSet ? stops[f] : 0) + 0.015 * normal())) / 100 })),
  };
}

/** For each code value of red, green and blue what it becomes in this frame's light; null when nothing changes. */
export function lightTables(truth: FaultTruth, frame: number): [Uint8Array, Uint8Array, Uint8Array] | null {
  const stops = truth.light_stops[frame],
    red = truth.red_stops[frame],
    blue = truth.blue_stops[frame];
  if (stops === 0 && red === 0 && blue === 0) return null;
  const table = (s: number) =>
    Uint8Array.from({ length: 256 }, (_, v) =>
      Math.round(255 * toCode('bt709', Math.min(1, toLight('bt709', v / 255) * 2 ** s))),
    );
  return [table(stops + red), table(stops), table(stops + blue)];
}

/** A crate at the place where it belongs, or a hand's breadth off; coordinates of a 1280 wide frame. */
export function paintCrate(ctx: SKRSContext2D, settings: CameraSettings, ground: number): void {
  const x = 760 + (settings.prop === 'crate-off' ? 26 : 0),
    y = ground - 96;
  ctx.save();
  ctx.fillStyle = 'rgba(0,0,0,0.4)';
  ctx.beginPath();
  ctx.ellipse(x + 70, ground - 2, 84, 10, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = '#8a6238';
  ctx.fillRect(x, y, 124, 94);
  const random = seededRandom(404);
  for (let i = 0; i < 5; i++) {
    ctx.fillStyle = `rgba(${i % 2 ? '60,38,18' : '190,150,98'},0.35)`;
    ctx.fillRect(x + 4, y + 4 + i * 18, 116, 14 * random() + 3);
  }
  ctx.strokeStyle = '#3c2612';
  ctx.lineWidth = 5;
  ctx.strokeRect(x + 2, y + 2, 120, 90);
  ctx.beginPath();
  ctx.moveTo(x + 4, y + 4);
  ctx.lineTo(x + 120, y + 90);
  ctx.stroke();
  ctx.restore();
}

/** Leaves that the wind keeps moving, in the upper right of a 1280 wide frame. */
export function paintTree(ctx: SKRSContext2D, t: number): void {
  const random = seededRandom(5151);
  ctx.save();
  ctx.strokeStyle = '#241a12';
  ctx.lineWidth = 16;
  ctx.beginPath();
  ctx.moveTo(1230, 640);
  ctx.quadraticCurveTo(1215, 380, 1180, 150);
  ctx.stroke();
  for (let i = 0; i < 420; i++) {
    const angle = 6.283 * random(),
      far = Math.sqrt(random());
    const phase = 6.283 * random(),
      speed = 2.4 + 2.2 * random(),
      sway = 3 + 6 * far;
    const x = 1180 + 170 * far * Math.cos(angle) + sway * Math.sin(t * speed + phase) + 3 * Math.sin(t * 1.1);
    const y = 150 + 120 * far * Math.sin(angle) + 0.5 * sway * Math.cos(t * speed * 1.3 + phase);
    ctx.fillStyle = `hsl(${88 + 34 * random()},${24 + 18 * random()}%,${12 + 22 * random()}%)`;
    ctx.beginPath();
    ctx.ellipse(x, y, 9 + 5 * random(), 4 + 3 * random(), phase + 0.5 * Math.sin(t * speed), 0, 7);
    ctx.fill();
  }
  ctx.restore();
}
