import type { SKRSContext2D } from '@napi-rs/canvas';
import { seededRandom } from '../core/base/numeric/random';
import type { Scene } from './scenes';
import type { CameraSettings } from './settings';

/** Where a performer is in one frame, in pixels of a 1280 wide frame; null when out of the picture. */
export interface Standing {
  x: number;
  ground: number;
  stride: number;
  facing: 1 | -1;
  /** How broad they are seen, as a share of facing the camera; whole when left out. */
  breadth?: number;
  /** Whether they stand where nothing of them shows. */
  gone?: boolean;
  /** How far they stretch an arm out, and how long a shadow they throw, towards where they face, 0 to 1. */
  reach?: number;
  shade?: number;
  /** How far off the ground, pixels, how far they lean to the right, radians, and how high both hands are, 0 to 1. */
  lift?: number;
  lean?: number;
  hands?: number;
  /** How far the arm before them is raised, radians from hanging down. */
  arm?: number;
  /** Clothes with nobody in them, and how much of their height is left; only the arm that reaches out. */
  empty?: boolean;
  flat?: number;
  armOnly?: boolean;
}

/** How far from the other's mark somebody stands who reaches over to it, and how long their arm and their shadow are. */
const NEAR = 175;
const ARM = 165;
const SHADE = 660;
/** Length of an arm that swings. */
const ARM_LONG = 112;

/** From which share of the take on somebody is at the window. */
export const COMES = 0.3;

/** Rises from 0 to 1 and falls again in the middle of a take. */
const middle = (share: number) => Math.max(0, Math.min(1, (share - 0.35) / 0.08, (0.75 - share) / 0.08));

/** How broad somebody is who walks side on. */
const SIDE_ON = 0.6;

/** Who is where at a share (0 to 1) of the take. */
export function performerAt(
  settings: CameraSettings,
  share: number,
  { ground, mark, across, pillar }: Pick<Scene, 'ground' | 'mark' | 'across' | 'pillar'>,
): Standing | null {
  const t = share * settings.seconds;
  switch (settings.crossing) {
    case 'nobody':
      return null;
    case 'stands':
      return { x: mark + 5 * Math.sin(t * 1.3), ground, stride: 0.06 * Math.sin(t * 2.1), facing: -1 };
    case 'comes-and-stays': {
      // In after a quarter of the take, at the mark by its half, and never out again; from the nearer side.
      const u = (share - 0.25) / 0.25;
      const from = mark > 640 ? 1350 : -120;
      if (u < 0) return null;
      return u < 1
        ? { x: from + u * (mark - from), ground, stride: Math.sin(t * 6.2), facing: from < mark ? 1 : -1 }
        : { x: mark + 5 * Math.sin(t * 1.3), ground, stride: 0.06 * Math.sin(t * 2.1), facing: -1 };
    }
    case 'shadow-only':
    case 'in-opening':
    case 'leaves-opening':
      return null;
    case 'stands-across':
    case 'reaches-over':
    case 'shadow-crosses': {
      const facing = mark > across ? 1 : -1;
      const some = middle(share);
      // An arm's length from the other's mark.
      const near = settings.crossing === 'reaches-over' ? mark - facing * NEAR : across;
      return {
        x: near + 5 * Math.sin(t * 1.1 + 1),
        ground,
        stride: 0.06 * Math.sin(t * 1.9),
        facing,
        reach: settings.crossing === 'reaches-over' ? some : 0,
        shade: settings.crossing === 'shadow-crosses' ? some : 0,
      };
    }
    case 'slips-behind':
    case 'slips-before': {
      // In after a tenth of the take, at the pillar by three fifths of it.
      const u = (share - 0.1) / 0.5;
      const at = pillar - 8;
      if (u < 0) return null;
      return u < 1
        ? { x: -120 + u * (at + 120), ground, stride: 0.6 * Math.sin(t * 6.2), facing: 1, breadth: SIDE_ON }
        : { x: at, ground, stride: 0.05, facing: 1, breadth: SIDE_ON, gone: settings.crossing === 'slips-behind' };
    }
    default: {
      // In after a sixth of the take, gone before its last sixth.
      const u = (share - 1 / 6) / (2 / 3);
      if (u < 0 || u > 1) return null;
      const right = settings.crossing === 'left-to-right';
      const x = right ? -120 + u * 1520 : 1400 - u * 1520;
      return { x, ground, stride: Math.sin(t * 6.2), facing: right ? 1 : -1 };
    }
  }
}

/** Paints a performer in a long coat, with shadow. */
export function paintPerformer(ctx: SKRSContext2D, p: Standing, seed: number): void {
  const random = seededRandom(seed * 31 + 5);
  const hue = Math.floor(random() * 360);
  ctx.save();
  ctx.translate(p.x, p.ground);
  const { breadth = 1, lift = 0, lean = 0, hands = 0, flat = 1 } = p;
  if (!p.armOnly) {
    ctx.fillStyle = 'rgba(0,0,0,0.42)';
    ctx.beginPath();
    ctx.ellipse(26 * breadth + 90 * lean, 2, (76 + 60 * Math.abs(lean)) * breadth, 13, 0, 0, 7);
    ctx.fill();
  }
  if (p.shade) {
    ctx.save();
    ctx.filter = 'blur(4px)';
    ctx.fillStyle = `rgba(0,0,0,${(0.5 * p.shade).toFixed(3)})`;
    ctx.beginPath();
    ctx.ellipse((p.facing * SHADE) / 2, 10, SHADE / 2, 20, 0, 0, 7);
    ctx.fill();
    ctx.restore();
  }
  ctx.translate(0, -lift);
  ctx.rotate(lean);
  ctx.scale(p.facing * breadth, flat);
  if (p.armOnly) {
    ctx.strokeStyle = `hsl(${hue},32%,27%)`;
    ctx.lineWidth = 20;
    ctx.lineCap = 'round';
    ctx.beginPath();
    ctx.moveTo(24, -210);
    ctx.lineTo(24 + ARM, -190);
    ctx.stroke();
    ctx.restore();
    return;
  }
  const leg = 40 * p.stride;
  ctx.strokeStyle = '#1a1b20';
  ctx.lineCap = 'round';
  ctx.lineWidth = 22;
  for (const s of [1, -1]) {
    ctx.beginPath();
    ctx.moveTo(0, -122);
    ctx.quadraticCurveTo(s * leg * 0.6 + 6, -60, s * leg, -6);
    ctx.stroke();
  }
  ctx.fillStyle = `hsl(${hue},34%,33%)`;
  ctx.beginPath();
  ctx.moveTo(-34, -262);
  ctx.quadraticCurveTo(0, -286, 34, -262);
  ctx.lineTo(46 + 0.2 * leg, -92);
  ctx.quadraticCurveTo(0, -80, -46 + 0.2 * leg, -92);
  ctx.closePath();
  ctx.fill();
  ctx.strokeStyle = `hsl(${hue},30%,22%)`;
  ctx.lineWidth = 3;
  for (let i = -2; i <= 2; i++) {
    ctx.beginPath();
    ctx.moveTo(i * 12, -258);
    ctx.lineTo(i * 17 + 0.2 * leg, -96);
    ctx.stroke();
  }
  ctx.fillStyle = '#d8c79b';
  for (let i = 0; i < 4; i++) {
    ctx.beginPath();
    ctx.arc(6, -240 + i * 34, 3.4, 0, 7);
    ctx.fill();
  }
  ctx.strokeStyle = `hsl(${hue},32%,27%)`;
  ctx.lineWidth = 20;
  for (const s of [1, -1]) {
    ctx.beginPath();
    ctx.moveTo(s * 26, -246);
    if (s === 1 && p.arm) {
      ctx.lineTo(26 + ARM_LONG * Math.sin(p.arm), -246 + ARM_LONG * Math.cos(p.arm));
    } else if (hands > 0) {
      // Both hands go straight up beside them.
      ctx.lineTo(s * 58, -196 - 80 * hands);
      ctx.lineTo(s * 62, -146 - 230 * hands);
    } else ctx.quadraticCurveTo(s * 38 - s * leg * 0.2, -196, s * 28 - s * leg * 0.7, -146);
    ctx.stroke();
    // What moves shows best by the hand.
    if (s === 1 && p.arm) hand(ctx, 26 + ARM_LONG * Math.sin(p.arm), -246 + ARM_LONG * Math.cos(p.arm));
    else if (hands > 0) hand(ctx, s * 62, -146 - 230 * hands);
  }
  if (p.reach) {
    ctx.beginPath();
    ctx.moveTo(24, -242);
    ctx.lineTo(24 + ARM * p.reach, -246 + 18 * (1 - p.reach));
    ctx.stroke();
  }
  if (!p.empty) {
    ctx.fillStyle = '#c69372';
    ctx.beginPath();
    ctx.ellipse(2, -298, 21, 26, 0, 0, 7);
    ctx.fill();
  }
  ctx.fillStyle = '#22201f';
  ctx.fillRect(-26, -322, 54, 8);
  ctx.fillRect(-19, -342, 40, 22);
  ctx.restore();
}

function hand(ctx: SKRSContext2D, x: number, y: number): void {
  ctx.fillStyle = '#c69372';
  ctx.beginPath();
  ctx.arc(x, y, 13, 0, 7);
  ctx.fill();
}

/** The shadow of somebody beside the camera, who thinks they are out of the picture: in for the middle of the take. */
export function paintLostShadow(ctx: SKRSContext2D, share: number, ground: number): boolean {
  if (share < 0.35 || share > 0.75) return false;
  const reach = Math.min(1, Math.min(share - 0.35, 0.75 - share) / 0.08);
  ctx.save();
  ctx.translate(-160 + 430 * reach, ground + 34);
  ctx.rotate(-0.12);
  ctx.fillStyle = 'rgba(0,0,0,0.45)';
  ctx.filter = 'blur(5px)';
  ctx.beginPath();
  ctx.ellipse(-150, 0, 250, 22, 0, 0, 7);
  ctx.ellipse(128, 0, 40, 19, 0, 0, 7);
  ctx.fill();
  ctx.restore();
  return true;
}

/**
 * Paints somebody at a window, head and shoulders: they come after a third of the take and stay. Whoever leaves the
 * opening leans out over its edge for the middle of the take.
 */
export function paintVisitor(
  ctx: SKRSContext2D,
  settings: CameraSettings,
  share: number,
  window: Scene['window'],
): boolean {
  if (share < COMES) return false;
  const size = window.height / 114;
  const leans = settings.crossing === 'leaves-opening' ? middle(share) : 0;
  const random = seededRandom(settings.seed * 41 + 3);
  const hue = Math.floor(360 * random());
  const rise = Math.min(1, (share - COMES) / 0.06);
  const t = share * settings.seconds;
  ctx.save();
  if (leans === 0) {
    ctx.beginPath();
    ctx.rect(window.x, window.y, window.width, window.height);
    ctx.clip();
  }
  const x = window.x + window.width * (0.5 + 0.55 * leans) + 2 * Math.sin(1.3 * t) * size,
    y = window.y + window.height + (1 - rise) * 110 * size;
  ctx.translate(x, y);
  ctx.scale(size, size);
  ctx.fillStyle = `hsl(${hue},34%,24%)`;
  ctx.beginPath();
  ctx.moveTo(-46, 0);
  ctx.quadraticCurveTo(-44, -44, -14, -50);
  ctx.lineTo(14, -50);
  ctx.quadraticCurveTo(44, -44, 46, 0);
  ctx.closePath();
  ctx.fill();
  ctx.fillStyle = '#a97757';
  ctx.beginPath();
  ctx.ellipse(0, -66, 17, 21, 0, 0, 7);
  ctx.fill();
  ctx.fillStyle = '#22201f';
  ctx.fillRect(-22, -86, 44, 7);
  ctx.fillRect(-15, -100, 31, 16);
  ctx.restore();
  return true;
}
