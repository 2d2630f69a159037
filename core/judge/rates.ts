import { LIMITS } from './limits';
import { byWorst } from './verdicts';
import { STROBE_DEG, retime } from '../calculators/retime';
import type { MediaFacts, VerdictWord } from '../report/types';

/** A recorded part, as far as its rate goes. */
export interface RateClip {
  name: string;
  number: number;
  media: Pick<MediaFacts, 'container_fps' | 'measured_fps' | 'real_fps' | 'variable_rate' | 'frame_count'>;
  /** Speed wished in the edit, per cent; null for real speed. */
  speedPct: number | null;
}

export interface RatePlan {
  deliveryFps: number;
  /** As noted for the setup; null where nothing is noted. */
  notedFps: number | null;
  notedShutterS: number | null;
}

/** How one part's frames will fall in the edit. */
export interface RateRow {
  name: string;
  verdict: VerdictWord;
  /** Rate of the file and how many distinct pictures it holds. */
  rate: string;
  shutter: string | null;
  /** What the edit does to its frames at the planned speed. */
  pattern: string;
  /** What is wrong, and what to do about it. */
  findings: { verdict: VerdictWord; text: string; fix: string }[];
}

/** The usual rates by name: what a measured rate is meant to be. */
const NOMINAL: [number, string][] = [
  [24000 / 1001, '23.976'],
  [24, '24'],
  [25, '25'],
  [30000 / 1001, '29.97'],
  [30, '30'],
  [48, '48'],
  [50, '50'],
  [60000 / 1001, '59.94'],
  [60, '60'],
  [100, '100'],
  [120000 / 1001, '119.88'],
  [120, '120'],
  [240, '240'],
];

/** A rate by its usual name where it is one, else with three digits. */
export function rateName(fps: number): string {
  return NOMINAL.find(([exact]) => Math.abs(fps / exact - 1) < LIMITS.rate.same)?.[1] ?? fps.toFixed(3);
}

/** Clips of a trick against each other and against the plan: exact and real rates, wandering, shutter, and how frames repeat. */
export function judgeRates(clips: readonly RateClip[], plan: RatePlan): RateRow[] {
  const known = clips.filter((c) => c.media.measured_fps !== null);
  const common = mostCommon(known.filter((c) => !c.media.variable_rate).map((c) => c.media.measured_fps!));
  const steady = common ?? plan.notedFps ?? plan.deliveryFps;
  return clips.map((clip) => {
    const { media } = clip;
    const rate = media.measured_fps;
    const findings: RateRow['findings'] = [];
    const add = (verdict: VerdictWord, text: string, fix: string) => findings.push({ verdict, text, fix });
    if (rate === null) {
      return {
        name: clip.name,
        verdict: 'unjudged',
        rate: `${media.container_fps} fps declared, ${media.frame_count} frame${media.frame_count === 1 ? '' : 's'}`,
        shutter: null,
        pattern: 'not known',
        findings: [
          { verdict: 'unjudged', text: 'The file has too few frames to tell its rate.', fix: 'Roll it again, longer.' },
        ],
      };
    }
    const real = media.real_fps ?? rate;
    if (media.variable_rate) {
      add(
        'workable',
        `${clip.name} was recorded at a wandering rate, ${rate.toFixed(2)} fps on average.`,
        `Convert it to a steady ${rateName(steady)} fps before the edit; better, set a fixed rate in the camera and roll it again.`,
      );
    } else if (common !== null && Math.abs(rate / common - 1) > LIMITS.rate.same) {
      const nominal = Math.abs(rate / common - 1) < LIMITS.rate.near;
      add(
        nominal ? 'workable' : 'reshoot',
        `${clip.name} is ${rateName(rate)} fps, the other parts ${rateName(common)}.`,
        nominal
          ? `Let the edit read it as ${rateName(common)} fps: it plays at ${((100 * common) / rate).toFixed(2)} % of its speed.`
          : `Set the camera to ${rateName(common)} fps and roll ${clip.name} again. Read as ${rateName(common)} ` +
              `fps it would play at ${((100 * common) / rate).toFixed(0)} % of its speed.`,
      );
    }
    if (real < rate * LIMITS.rate.distinct_share) {
      add(
        'reshoot',
        `${clip.name} holds only ${real.toFixed(2)} distinct pictures a second in a file of ${rateName(rate)}: frames are repeated.`,
        `Set the camera to record what it shows (${rateName(rate)} fps, no conversion, shorter shutter) and ` +
          `roll it again; or take the repeats out and treat it as ${real.toFixed(2)} fps.`,
      );
    }
    if (
      plan.notedFps !== null &&
      Math.abs(rate / plan.notedFps - 1) > (media.variable_rate ? LIMITS.rate.wandering : LIMITS.rate.near)
    ) {
      add(
        'workable',
        `${plan.notedFps} fps is noted for this setup, the file has ${rateName(rate)}.`,
        'Set the camera as noted and roll again, or correct the note.',
      );
    }
    const speed = (clip.speedPct ?? 100) / 100;
    const shutter = plan.notedShutterS ?? 1 / (2 * rate);
    const r = retime(real, plan.deliveryFps, speed, shutter);
    if (r.repeats.length && clip.speedPct !== null && speed < 1) {
      add(
        'reshoot',
        `At ${clip.speedPct} % of its speed ${r.repeats.length} of ${r.used.length} frames a second are repeats.`,
        `Record at ${Math.ceil(plan.deliveryFps / speed)} fps or more, or go no slower than ${Math.ceil(r.cleanest_pct)} %.`,
      );
    }
    if (plan.notedShutterS !== null && plan.notedShutterS > 1.001 / rate) {
      add(
        'workable',
        `A shutter of 1/${Math.round(1 / plan.notedShutterS)} s is noted, longer than one frame of ${rateName(rate)} fps lasts.`,
        'Note the shutter that was used; two parts with other shutters blur differently.',
      );
    } else if (plan.notedShutterS !== null && r.strobes) {
      add(
        'workable',
        `In the edit the shutter looks like ${r.shutter_deg.toFixed(0)}°, under ${STROBE_DEG}°: movement will strobe.`,
        `Use 1/${Math.round((2 * plan.deliveryFps) / speed)} s, or add blur in the edit.`,
      );
    }
    findings.sort((a, b) => byWorst(a.verdict, b.verdict));
    return {
      name: clip.name,
      verdict: findings[0]?.verdict ?? 'holds',
      rate:
        `${rateName(rate)} ` +
        `fps${media.variable_rate ? ', wandering' : ''}${Math.abs(real / rate - 1) > 0.01 ? `, ${real.toFixed(2)} distinct` : ''}`,
      shutter:
        plan.notedShutterS === null
          ? null
          : `1/${Math.round(1 / plan.notedShutterS)} s, ${Math.round(360 * plan.notedShutterS * rate)}°`,
      pattern: patternOf(r.step, r.repeats, r.blends, clip.speedPct, plan.deliveryFps),
      findings,
    };
  });
}

/** What happens to the frames, in words: "every frame once", "6 of 25 repeat, at 4, 8 …". */
function patternOf(
  step: number,
  repeats: readonly number[],
  blends: readonly number[],
  speedPct: number | null,
  delivery: number,
): string {
  const at = speedPct === null ? `at ${rateName(delivery)} fps` : `at ${speedPct} % in ${rateName(delivery)} fps`;
  const places = (frames: readonly number[]) => `${frames.slice(0, 4).join(', ')}${frames.length > 4 ? ' …' : ''}`;
  if (repeats.length) return `${at}: ${repeats.length} frames a second repeat, at ${places(repeats)}`;
  if (Math.abs(step - 1) < 1e-3) return `${at}: every frame once`;
  if (Math.abs(step - Math.round(step)) < 1e-3) return `${at}: every ${Math.round(step)}. frame`;
  return blends.length ? `${at}: uneven steps, blends at ${places(blends)}` : `${at}: uneven steps`;
}

function mostCommon(rates: readonly number[]): number | null {
  let best: number | null = null,
    most = 0;
  for (const rate of rates) {
    const n = rates.filter((o) => Math.abs(o / rate - 1) < LIMITS.rate.same).length;
    if (n > most) [best, most] = [rate, n];
  }
  return best;
}
