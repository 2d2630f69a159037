import type { LightSummary } from '../../report/summaries';
import type { DecidingNumber, Reason, Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';

const stop = (v: number) => `${Math.abs(v).toFixed(2)} stop`;
const signed = (v: number) => `${v > 0 ? '+' : '−'}${Math.abs(v).toFixed(2)} stop`;

/** Changes up to which light and white hold, stops; null for what nobody asks for. */
export interface LightLimits {
  stops: number | null;
  white: number | null;
}

const USUAL: LightLimits = { stops: LIMITS.light.holds_stops, white: LIMITS.light.white_stops };

/** Did the light stay the same through the take, and its white? */
export function judgeLight(light: LightSummary, frameCount: number, limits: LightLimits = USUAL): Verdict {
  const limit = limits.stops ?? Infinity,
    whiteLimit = limits.white ?? Infinity;
  // What flickers or jumps is seen sooner than what changes slowly, whatever is allowed.
  const slack = Math.max(1, limit / LIMITS.light.holds_stops);
  const bounds = LIMITS.light;
  const whole: Run[] = frameCount > 0 ? [{ start: 0, end: frameCount - 1 }] : [];
  if (light.drift_stops === null || light.range_stops === null || light.measured_share < bounds.measured_share) {
    return {
      verdict: 'unjudged',
      deciding: [
        {
          name: 'frames read',
          value: light.measured_share * 100,
          unit: '%',
          limit: bounds.measured_share * 100,
          frame: null,
        },
      ],
      reasons: [
        {
          code: 'no-background',
          text: 'Too little of the still background is to be seen to read the light: it is covered, black, burnt out, or moves.',
          frames: whole,
          value: light.measured_share,
          limit: bounds.measured_share,
          fix: 'Leave some still background in the frame, or compare the light by eye.',
        },
      ],
    };
  }
  if (limits.stops === null && !light.white)
    return {
      verdict: 'unjudged',
      deciding: [],
      reasons: [
        {
          code: 'no-colour',
          text: 'Too little of the still background has a colour that can be read: it is covered, black or burnt out.',
          frames: whole,
          value: null,
          limit: limits.white,
          fix: 'Compare the white by eye.',
        },
      ],
    };
  const noise = light.uncertainty_stops ?? 0;
  const reasons: (Reason & { weight: number; word: 'workable' | 'reshoot' })[] = [];
  const add = (reason: Reason, size: number, word: 'workable' | 'reshoot') =>
    reasons.push({ ...reason, weight: size, word });
  for (const s of light.steps) {
    if (Math.abs(s.stops) <= Math.max(bounds.step_stops * slack, noise)) continue;
    const word = Math.abs(s.stops) <= bounds.grade_stops ? 'workable' : 'reshoot';
    add(
      {
        code: 'step',
        text: `The light jumps by ${signed(s.stops)} at frame ${s.frame}: exposure on automatic, a lamp, or the camera was stopped.`,
        frames: [{ start: s.frame, end: s.frame }],
        value: s.stops,
        limit: bounds.step_stops * slack,
        fix:
          word === 'workable'
            ? `Set exposure by hand and roll again; or grade it out from frame ${s.frame} on (${signed(-s.stops)}).`
            : 'Set exposure by hand and roll again.',
      },
      Math.abs(s.stops) * 1.5,
      word,
    );
  }
  const jumped = light.steps.reduce((sum, s) => sum + s.stops, 0);
  const drift = light.drift_stops;
  const slow = drift - jumped;
  if (Math.abs(drift) > limit && Math.abs(slow) > Math.max(0.5 * limit, noise)) {
    const word = Math.abs(drift) <= bounds.grade_stops ? 'workable' : 'reshoot';
    add(
      {
        code: 'drift',
        text: `The light drifts by ${signed(drift)} from start to end.`,
        frames: whole,
        value: drift,
        limit,
        fix:
          word === 'workable'
            ? 'Roll the plate right after this take; grade the take back, or bring the plate in over many frames.'
            : 'Wait for steady light, or light it, and roll again.',
      },
      Math.abs(drift),
      word,
    );
  }
  const span = light.range_stops;
  if (
    span > limit &&
    span >
      1.3 *
        Math.max(
          Math.abs(drift),
          light.steps.reduce((m, s) => Math.max(m, Math.abs(s.stops)), 0),
        )
  ) {
    const word = span <= bounds.grade_stops ? 'workable' : 'reshoot';
    const at = light.darkest_frame ?? 0;
    add(
      {
        code: 'cloud',
        text: `The light comes and goes by ${stop(span)}: darkest at frame ${at}, brightest at frame ${light.brightest_frame ?? 0}.`,
        frames: [{ start: at, end: at }],
        value: span,
        limit,
        fix:
          word === 'workable'
            ? 'Use the frames before the cloud, or roll again when it has passed.'
            : 'Roll again when the cloud has passed.',
      },
      span,
      word,
    );
  }
  const flickers = light.flicker !== null && light.flicker.share_pct > bounds.flicker_pct * slack;
  if (light.flicker && flickers) {
    const { share_pct: share, seen_hz: hz } = light.flicker;
    const word = share <= bounds.grade_flicker_pct ? 'workable' : 'reshoot';
    add(
      {
        code: 'flicker',
        text: `The light flickers by ${share.toFixed(1)} %, seen at ${hz.toFixed(1)} Hz.`,
        frames: whole,
        value: share,
        limit: bounds.flicker_pct * slack,
        fix:
          'Set the shutter to a whole number of the mains’ flashes ' +
          '(1/50 or 1/100 s at 50 Hz, 1/60 or 1/120 s at 60 Hz) and roll again.',
      },
      share / 50,
      word,
    );
  }
  const white = light.white;
  const shift = white
    ? Math.abs(white.red_stops) > Math.abs(white.blue_stops)
      ? { name: 'red', v: white.red_stops }
      : { name: 'blue', v: white.blue_stops }
    : null;
  if (shift && Math.abs(shift.v) > whiteLimit) {
    add(
      {
        code: 'white',
        text: `The white shifts: ${shift.name} by ${signed(shift.v)} against green.`,
        frames: whole,
        value: shift.v,
        limit: whiteLimit,
        fix: 'Set white by hand and roll again; or balance it out in the grade.',
      },
      Math.abs(shift.v),
      'workable',
    );
  }
  reasons.sort((a, b) => Number(b.word === 'reshoot') - Number(a.word === 'reshoot') || b.weight - a.weight);
  const deciding: DecidingNumber[] = [];
  if (limits.stops !== null) {
    const frame = drift < 0 ? light.darkest_frame : light.brightest_frame;
    deciding.push({ name: 'span', value: span, unit: 'stop', limit, frame });
    if (light.flicker && flickers)
      deciding.push({
        name: 'flicker',
        value: light.flicker.share_pct,
        unit: '%',
        limit: bounds.flicker_pct * slack,
        frame: null,
      });
    else deciding.push({ name: 'drift', value: Math.abs(drift), unit: 'stop', limit, frame: null });
  }
  if (limits.white !== null && shift && (limits.stops === null || Math.abs(shift.v) > limits.white))
    deciding.splice(1, 1, {
      name: `${shift.name} shift`,
      value: Math.abs(shift.v),
      unit: 'stop',
      limit: limits.white,
      frame: null,
    });
  if (reasons.length === 0) {
    return {
      verdict: 'holds',
      deciding,
      reasons: [
        limits.stops === null
          ? {
              code: 'steady',
              text: whiteText(shift),
              frames: [],
              value: shift?.v ?? null,
              limit: limits.white,
              fix: null,
            }
          : {
              code: 'steady',
              text: `The light stayed the same: ${stop(span)} at most.`,
              frames: [],
              value: span,
              limit,
              fix: null,
            },
      ],
    };
  }
  return {
    verdict: reasons[0].word,
    deciding,
    reasons: reasons.map((r) => ({
      code: r.code,
      text: r.text,
      frames: r.frames,
      value: r.value,
      limit: r.limit,
      fix: r.fix,
    })),
  };
}

function whiteText(shift: { name: string; v: number } | null): string {
  if (!shift) return 'The white stayed the same.';
  return `The white stayed the same: ${shift.name} by ${signed(shift.v)} against green at most.`;
}
