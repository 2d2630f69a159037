import type { SKRSContext2D } from '@napi-rs/canvas';
import { paintCloth, paintCover, paintLamp, paintLantern, paintVan } from './act-things';
import { paintPerformer, type Standing } from './performer';
import type { Scene } from './scenes';
import type { CameraSettings } from './settings';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, sin } = Math;

/** What happens on a frame of an act. */
export interface ActBeat {
  time_s: number;
  kind: 'starts' | 'stops' | 'turns' | 'strikes' | 'light';
}

/** Something that is done in a take, as it is at any time. Coordinates of a 1280 wide frame. */
export interface Act {
  /** Paints who and what is in before the background; says whether a performer shows. */
  paint: (ctx: SKRSContext2D, t: number) => boolean;
  /** How fast the fastest of it moves, pixels a second. */
  speed: (t: number) => number;
  /** Light that falls over all of it; none when left out. */
  light?: (ctx: SKRSContext2D, t: number) => void;
  beats: ActBeat[];
  /** Share of a frame for which the shutter is open. */
  shutter: number;
}

/** The shutter's usual share of a frame, and that of one set short for a held frame. */
const SHUTTER = 0.35;
const SHORT = 0.06;
/** Gravity as people fall in the demo's pictures, pixels a second squared, and how long they rise. */
const GRAVITY = 1500;
const RISE_S = 0.4;
const JUMP = (GRAVITY * RISE_S ** 2) / 2;
/** A cloth that falls is slowed by the air. */
const CLOTH_GRAVITY = 900;
const CLOTH_HIGH = 410;

/** A tap comes down in so many seconds. */
const TAP_S = 0.16;

/** A hung thing that swings: the length of its thread, how far to each side, radians, and how fast, radians a second. */
const THREAD = 620;
const SWING = 0.12;
const SWING_RATE = 2.6;

const ease = (u: number) => {
  const v = max(0, min(1, u));
  return v * v * (3 - 2 * v);
};

/** The act of a take; null when nothing is acted. */
export function actOf(settings: CameraSettings, scene: Scene): Act | null {
  const { act = 'none', act_fault: fault = 'none', seconds: S, seed } = settings;
  if (act === 'none') return null;
  const { mark, ground } = scene;
  const person = (more: Partial<Standing>): Standing => ({ x: mark, ground, stride: 0.05, facing: -1, ...more });
  const show = (ctx: SKRSContext2D, more: Partial<Standing>) => {
    paintPerformer(ctx, person(more), seed);
    return true;
  };
  const still = { shutter: SHUTTER, speed: () => 0 };
  switch (act) {
    case 'jumps': {
      // The take ends at the top of the jump.
      const off = S - RISE_S;
      const up = (t: number) => (t < off ? 0 : GRAVITY * RISE_S * (t - off) - (GRAVITY * (t - off) ** 2) / 2);
      return {
        paint: (ctx, t) => show(ctx, { lift: up(t), hands: t < off ? 0 : 0.8 }),
        speed: (t) => (t < off ? 0 : GRAVITY * (S - t)),
        beats: [{ time_s: off, kind: 'starts' }],
        shutter: SHUTTER,
      };
    }
    case 'clothes-drop': {
      const [dx, dy] = fault === 'elsewhere' ? [92, 34] : [0, 0];
      const off = 0.4 * S,
        lands = off + Math.sqrt((2 * (JUMP - dy)) / GRAVITY);
      const up = (t: number) => max(0, JUMP - dy - (t < off ? 0 : (GRAVITY * (t - off) ** 2) / 2));
      return {
        paint: (ctx, t) => {
          const flat = t < lands ? 1 : max(0.22, 1 - 5 * (t - lands));
          paintPerformer(ctx, person({ x: mark + dx, lift: up(t), hands: 0.8 * flat, empty: true, flat }), seed);
          return true;
        },
        speed: (t) => (t < off ? 0 : t < lands ? GRAVITY * (t - off) : 0),
        beats: [
          { time_s: off, kind: 'starts' },
          { time_s: lands, kind: 'strikes' },
        ],
        shutter: SHUTTER,
      };
    }
    case 'leaps': {
      const off = 0.4 * S,
        rise = fault === 'cut-off' ? 0.78 : RISE_S,
        air = 2 * rise;
      const from = mark - 240;
      return {
        paint: (ctx, t) => {
          const u = max(0, min(air, t - off));
          const lift = GRAVITY * rise * u - (GRAVITY * u * u) / 2;
          return show(ctx, {
            x: from + (300 * u) / air,
            lift: max(0, lift),
            facing: 1,
            hands: u > 0 && u < air ? 0.9 : 0,
          });
        },
        speed: (t) => (t < off || t > off + air ? 0 : Math.abs(GRAVITY * (rise - (t - off))) + 300 / air),
        beats: [
          { time_s: off, kind: 'starts' },
          { time_s: off + air, kind: 'strikes' },
        ],
        shutter: SHUTTER,
      };
    }
    case 'falls': {
      // In from the left, off their feet before the mark; who rolls on is never at rest.
      const blurred = fault === 'blurred',
        pace = blurred ? 760 : 380;
      const off = 0.25 * S + (mark - 180 + 120) / pace,
        lies = off + 0.7;
      const at = (t: number) => -120 + pace * max(0, (blurred ? t : min(t, lies)) - 0.25 * S);
      return {
        paint: (ctx, t) => {
          const x = at(t);
          if (x <= -119 || x > 1400) return false;
          const u = max(0, min(1, (t - off) / 0.7));
          const lift = 120 * 4 * u * (1 - u) + 40 * u;
          return show(ctx, {
            x,
            lift,
            lean: 1.45 * ease(u),
            facing: 1,
            stride: t < off ? sin(t * 9) : 0.4,
            hands: 0.7 * u,
          });
        },
        speed: (t) => (t < 0.25 * S || (!blurred && t > lies) ? 0 : pace + (t > off && t < lies ? 300 : 0)),
        beats: blurred ? [] : [{ time_s: lies, kind: 'strikes' }],
        shutter: blurred ? 0.9 : SHORT,
      };
    }
    case 'reacts': {
      // What comes, comes from the left: they twist against it, and are carried off with it.
      const hit = 0.5 * S,
        wrong = fault === 'wrong-way';
      const away = (t: number) => 250 * ease((t - hit - (wrong ? 0 : 0.62)) / 0.5);
      const against = (t: number) => (wrong ? 0 : -64 * ease((t - hit) / 0.4));
      return {
        paint: (ctx, t) => {
          const off = t - hit - (wrong ? 0 : 0.62);
          return show(ctx, {
            x: mark + against(t) + away(t),
            lean: off > 0 ? 0.7 * ease(off / 0.5) : -0.15 * ease((t - hit) / 0.4),
          });
        },
        speed: (t) => (t < hit || t > hit + 1.3 ? 0 : 300),
        beats: [{ time_s: hit, kind: 'starts' }],
        shutter: SHUTTER,
      };
    }
    case 'drives-by': {
      const pace = 620;
      return {
        paint: (ctx, t) => {
          const x = -460 + pace * max(0, t - 0.15 * S);
          if (x <= -459 || x > 1320) return false;
          paintVan(ctx, x, ground + 26);
          return true;
        },
        speed: (t) => (t < 0.15 * S ? 0 : pace),
        beats: [],
        shutter: 0.9,
      };
    }
    case 'taps': {
      // Beside the lantern, or before it.
      const x = mark + (fault === 'elsewhere' ? -126 : 122);
      const taps = [0.3, 0.5, 0.7].map((u) => u * S);
      // The arm is raised slowly, comes down at an even pace and is stopped at once.
      const arm = (t: number) => {
        const tap = taps.find((at) => t > at - 0.5 && t < at + 0.3);
        if (tap === undefined) return 0;
        if (t < tap - TAP_S) return 1.5 * ease((t - tap + 0.5) / 0.3);
        if (t < tap) return 1.5 - (0.75 * (t - tap + TAP_S)) / TAP_S;
        return 0.75 * (1 - ease((t - tap - 0.1) / 0.2));
      };
      return {
        paint: (ctx, t) => show(ctx, { x, arm: arm(t) }),
        speed: (t) => (taps.some((at) => t > at - TAP_S && t < at) ? 900 : 0),
        beats: taps.map((time_s) => ({ time_s, kind: 'strikes' as const })),
        shutter: SHUTTER,
      };
    }
    case 'lights-lamp': {
      const on = 0.45 * S;
      return {
        ...still,
        paint: (ctx, t) => show(ctx, { x: mark + 4 * sin(1.3 * t) }),
        light: (ctx, t) => t >= on && paintLamp(ctx, scene.lantern, fault === 'spills' ? 1600 : 240),
        beats: [{ time_s: on, kind: 'light' }],
      };
    }
    case 'throws-cloth': {
      const [up, falls] = [0.2 * S, 0.45 * S];
      // A cloth that lands where the feet are shows that there were some.
      const foot = ground + (fault === 'on-feet' ? 2 : 56);
      const high = (fault === 'out-of-top' ? 700 : CLOTH_HIGH) + foot - ground;
      const lands = falls + Math.sqrt((2 * (high - 28)) / CLOTH_GRAVITY);
      const top = (t: number) =>
        t < falls ? 28 + (high - 28) * ease((t - up) / 0.8) : max(28, high - (CLOTH_GRAVITY * (t - falls) ** 2) / 2);
      return {
        paint: (ctx, t) => {
          const late = fault === 'late';
          const walks = late ? max(0, t - lands - 0.2) : 0;
          const there = t < falls - 0.25 || late;
          const hands = t < up ? 0 : min(1, top(t) / CLOTH_HIGH);
          const arm = fault === 'arm-beside' && t >= falls - 0.25 && t < falls + 0.55;
          if (there && walks < 3)
            show(ctx, { x: mark + 260 * walks, hands: t < falls ? hands : 0, stride: walks ? sin(t * 6) : 0.05 });
          if (arm) paintPerformer(ctx, person({ reach: 1, facing: -1, armOnly: true }), seed);
          if (t >= up) paintCloth(ctx, mark, foot, top(t), (seed * 67 + 180) % 360);
          return there || arm;
        },
        speed: (t) =>
          t < up ? 0 : t < falls ? 500 * Number(t < up + 0.8) : t < lands ? CLOTH_GRAVITY * (t - falls) : 0,
        beats: [
          { time_s: up, kind: 'starts' },
          { time_s: lands, kind: 'strikes' },
        ],
        shutter: SHUTTER,
      };
    }
    case 'pulls-cloth': {
      const place = mark - 330;
      const [comes, pulls] = [0.12 * S, 0.42 * S];
      const at = (t: number) =>
        t < pulls
          ? 1380 - (1380 - place - 150) * ease((t - comes) / (pulls - comes - 0.2))
          : place + 150 + 520 * (t - pulls);
      return {
        paint: (ctx, t) => {
          const x = at(t);
          const gone = x > 1420 || t < comes;
          const cloth = place + 520 * max(0, t - pulls);
          if (cloth < 1500) paintCover(ctx, cloth, ground + 8, (seed * 67 + 180) % 360);
          if (!gone) show(ctx, { x, facing: t < pulls ? -1 : 1, stride: sin(t * 7), reach: t < pulls ? 0 : 0.3 });
          return !gone;
        },
        speed: (t) => (t < comes ? 0 : 520),
        beats: [{ time_s: pulls, kind: 'starts' }],
        shutter: SHUTTER,
      };
    }
    case 'mimes': {
      const [a, b, c, d] = [0.25, 0.45, 0.62, 0.8].map((u) => u * S);
      // At an even pace, so that it begins and ends on a frame.
      const hands = (t: number) => (t < c ? max(0, min(1, (t - a) / (b - a))) : max(0, 1 - (t - c) / (d - c)));
      return {
        paint: (ctx, t) => show(ctx, { hands: hands(t), facing: 1 }),
        speed: (t) => ((t > a && t < b) || (t > c && t < d) ? 220 : 0),
        beats: [
          { time_s: a, kind: 'starts' },
          { time_s: b, kind: 'strikes' },
          { time_s: c, kind: 'starts' },
          { time_s: d, kind: 'strikes' },
        ],
        shutter: SHUTTER,
      };
    }
    case 'runs-out':
    case 'runs-in': {
      const pace = 900,
        out = act === 'runs-out',
        off = (out ? 0.4 : 0.35) * S,
        stops = off + (mark + 120) / pace;
      const at = (t: number) => (out ? mark + pace * max(0, t - off) : min(mark, -120 + pace * max(0, t - off)));
      const runs = (t: number) => t > off && (out || t < stops);
      return {
        paint: (ctx, t) => {
          const x = at(t);
          if (x > 1400 || x < -119) return false;
          return show(ctx, { x, facing: 1, lean: runs(t) ? 0.25 : 0, stride: runs(t) ? sin(t * 14) : 0.05 });
        },
        speed: (t) => (runs(t) ? pace : 0),
        beats: [out ? { time_s: off, kind: 'starts' } : { time_s: stops, kind: 'strikes' }],
        shutter: SHUTTER,
      };
    }
    case 'hangs': {
      const swing = (t: number) => SWING * sin(SWING_RATE * t);
      return {
        ...still,
        paint: (ctx, t) => {
          ctx.save();
          if (fault === 'swings') {
            ctx.translate(mark - 210, 250 - THREAD);
            ctx.rotate(swing(t));
            ctx.translate(210 - mark, THREAD - 250);
          }
          paintLantern(ctx, mark - 210 + 3 * sin(2.1 * t), 250 + 2 * sin(2.9 * t));
          ctx.restore();
          return false;
        },
        beats: [],
      };
    }
  }
}

/** So far apart, pixels, are the moments of which a smeared picture is made; and so many there are at most. */
const STEP = 3;
const MOST_STEPS = 12;

/** The times of which a frame is made while the shutter is open. @param unit pixels of the picture for one of the act's */
export function openTimes({ speed, shutter }: Act, t: number, fps: number, unit: number): number[] {
  const open = shutter / fps;
  const steps = max(1, min(MOST_STEPS, Math.ceil((unit * speed(t) * open) / STEP)));
  return Array.from({ length: steps }, (_, k) => t + (open * k) / steps);
}
