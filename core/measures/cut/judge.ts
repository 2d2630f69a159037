import type { Reason, Verdict, VerdictWord } from '../../report/types';
import type { CutMeasure } from '../../report/wipe-types';
import { LIMITS } from '../../judge/limits';
import { byWorst } from '../../judge/verdicts';
import { wayInWords } from '../cover/judge';
import { rateName } from '../../judge/rates';

const widths = (v: number) => `${v.toFixed(2)} widths a second`;

/** Shutters as they were noted, seconds; null where nobody did. */
export interface NotedShutters {
  out: number | null;
  in: number | null;
}

const shutterName = (s: number) => (s < 0.4 ? `1/${Math.round(1 / s)}` : s.toFixed(1));

/** Do the two sides of a cut move the same way at a matching speed, rate and shutter? */
export function judgeCut(c: CutMeasure, shutters: NotedShutters = { out: null, in: null }): Verdict {
  const bounds = LIMITS.cut;
  const reasons: (Reason & { word: VerdictWord })[] = [];
  const add = (
    word: VerdictWord,
    code: string,
    text: string,
    value: number | null,
    limit: number | null,
    fix: string | null,
  ) => reasons.push({ word, code, text, frames: [], value, limit, fix });
  const unknown = [
    c.out.speed_widths_per_s === null ? 'out side' : null,
    c.in.speed_widths_per_s === null ? 'in side' : null,
  ].filter(Boolean);
  if (unknown.length) {
    add(
      'unjudged',
      'no-background',
      `The background of the ${unknown.join(' and the ')} could not be followed.`,
      null,
      null,
      'Leave some background in the picture beside the cut, or compare both by eye.',
    );
  } else {
    const [a, b] = [c.out.speed_widths_per_s!, c.in.speed_widths_per_s!];
    if (bothStand(c)) add('holds', 'still', 'The camera stands on both sides.', null, null, null);
    else if (c.angle_gap_deg === null) {
      const [moving, standing] = c.out.angle_deg === null ? ['in', 'out'] : ['out', 'in'];
      add(
        'reshoot',
        'one-stands',
        `The ${moving} side moves at ${widths(Math.max(a, b))}, the ${standing} side stands.`,
        Math.max(a, b),
        0,
        `Roll the ${standing} side again with the same movement.`,
      );
    } else if (c.relation === 'against') {
      add(
        c.mirror_helps ? 'workable' : 'reshoot',
        'against',
        `The two sides move against each other: ${wayInWords(c.out.angle_deg!)} and ${wayInWords(c.in.angle_deg!)}.`,
        c.angle_gap_deg,
        bounds.angle_deg,
        `Roll the in side again, moving ${wayInWords(c.out.angle_deg!)}${otherWayOut(c)}.`,
      );
    } else if (c.relation === 'across' || c.angle_gap_deg > bounds.angle_deg) {
      add(
        c.relation === 'across' ? 'reshoot' : 'workable',
        'across',
        `The two sides move ${c.angle_gap_deg.toFixed(0)} deg apart.`,
        c.angle_gap_deg,
        bounds.angle_deg,
        c.mirror_helps
          ? 'Mirror the in side, if no writing and no known face is in it; or roll it again the same way.'
          : 'Roll the in side again along the same line.',
      );
    }
    if (c.speed_ratio !== null) {
      const off = Math.abs(Math.log2(c.speed_ratio));
      if (off > bounds.speed_octaves) {
        add(
          off > bounds.retime_octaves ? 'reshoot' : 'workable',
          'speed',
          `The in side moves at ${(100 * c.speed_ratio).toFixed(0)} % of the out side’s speed.`,
          c.speed_ratio,
          1,
          off > bounds.retime_octaves
            ? `Roll the in side again at ${widths(a)}.`
            : `Play the in side at ${c.retime_pct!.toFixed(0)} % (${c.rate.in_pattern ?? 'rate not known'}); or ` +
                `roll it again at ${widths(a)}.`,
        );
      }
    }
    for (const [side, name] of [
      [c.out, 'out'],
      [c.in, 'in'],
    ] as const) {
      if (side.angle_deg !== null && side.steady_share < bounds.steady_share)
        add(
          'workable',
          'unsteady',
          `The ${name} side’s movement is uneven: ${(100 * side.steady_share).toFixed(0)} % of its frames keep to one speed.`,
          side.steady_share,
          bounds.steady_share,
          `Roll the ${name} side again at one pace.`,
        );
    }
  }
  const { out_fps: out, in_fps: into, delivery_fps: edit } = c.rate;
  if (out !== null && into !== null && Math.abs(out / into - 1) > 0.0015) {
    add(
      'workable',
      'rates',
      `The out side was recorded at ${rateName(out)} fps, the in side at ` +
        `${rateName(into)}${edit === null ? '' : `; the edit runs at ${rateName(edit)}`}.`,
      into,
      out,
      `Set one rate on both cameras and roll again; or convert the in side (${c.rate.in_pattern ?? 'pattern not known'}).`,
    );
  }
  if (shutters.out && shutters.in && !bothStand(c)) {
    const ratio = shutters.in / shutters.out;
    if (Math.abs(Math.log2(ratio)) > bounds.shutter_octaves)
      add(
        'workable',
        'shutter',
        `The out side’s shutter is noted as ${shutterName(shutters.out)} s, the in side’s as ` +
          `${shutterName(shutters.in)} s: their movement blurs differently.`,
        ratio,
        1,
        'Set one shutter on both and roll again; or blur the sharper side along its movement.',
      );
  }
  if (reasons.length === 0)
    add(
      'holds',
      'match',
      `Both sides move ${c.out.angle_deg === null ? 'alike' : wayInWords(c.out.angle_deg)} at ` +
        `${widths(c.out.speed_widths_per_s ?? 0)} and ${widths(c.in.speed_widths_per_s ?? 0)}.`,
      c.angle_gap_deg,
      bounds.angle_deg,
      null,
    );
  reasons.sort((x, y) => byWorst(x.word, y.word));
  return {
    verdict: reasons[0].word,
    reasons: reasons.map(({ code, text, frames, value, limit, fix }) => ({ code, text, frames, value, limit, fix })),
    deciding:
      c.speed_ratio === null
        ? []
        : [{ name: 'speed of the in side', value: 100 * c.speed_ratio, unit: '%', limit: 100, frame: null }],
  };
}

/** Whether neither side's picture moves. */
export const bothStand = (c: CutMeasure): boolean => c.out.angle_deg === null && c.in.angle_deg === null;

/** What else helps when the two sides move against each other, to be put behind a sentence. */
function otherWayOut(c: CutMeasure): string {
  if (c.mirror_helps) return '; or mirror it, if no writing and no known face is in it';
  return c.reverse_helps ? '; or play it backwards, if nothing in it moves by itself' : '';
}
