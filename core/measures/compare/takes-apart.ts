import { greatestDisplacement, IDENTITY, invertSimilarity, type Similarity } from '../../base/geometry/similarity';
import type { Box, MediaFacts, PlateGap } from '../../report/types';
import type { Finding, WorkState } from '../../judge/measure';
import { LIMITS } from '../../judge/limits';
import { deliveryScale } from '../lock/judge';
import { offsetInWords, wayBack, whereInPicture } from '../plate/judge';

/** What was measured between two takes. */
export type TakesGap = Pick<PlateGap, 'offset' | 'light' | 'focus' | 'moved' | 'intruders'>;

/** Two takes of a setup and what lies between them: the first held against the second. */
export interface TakePair {
  takeId: string;
  againstId: string;
  state: WorkState;
  failure: string | null;
  gap: TakesGap | null;
}

/** One side of a pair, with what names it. */
export interface PairSide {
  id: string;
  name: string;
  number: number;
  media: Pick<MediaFacts, 'width' | 'height'> | null;
}

type Size = { width: number; height: number };

/** The pair of two takes, whichever was held against the other, seen from the first. */
export function pairOf(pairs: readonly TakePair[], first: string, second: string): TakePair | null {
  const straight = pairs.find((p) => p.takeId === first && p.againstId === second);
  if (straight) return straight;
  const other = pairs.find((p) => p.takeId === second && p.againstId === first);
  if (!other) return null;
  return { ...other, takeId: first, againstId: second, gap: other.gap && turnRound(other.gap) };
}

/** The same gap seen from the other take. */
export function turnRound(gap: TakesGap): TakesGap {
  const { offset, light, focus } = gap;
  const back = offset && invertSimilarity(asSimilarity(offset));
  return {
    ...gap,
    moved: [
      ...gap.moved.filter((m) => m.only === null),
      ...gap.intruders.map((box) => ({ ...box, strength: 1, only: 'take' as const })),
    ],
    intruders: gap.moved.filter((m) => m.only === 'take').map(({ x, y, width, height }) => ({ x, y, width, height })),
    offset: offset &&
      back && {
        dx_px: back.dx,
        dy_px: back.dy,
        rotation_deg: (back.rotation * 180) / Math.PI,
        scale: back.scale,
        uncertainty_px: offset.uncertainty_px,
      },
    light: light && {
      ...light,
      gap_stops: -light.gap_stops,
      red_stops: light.red_stops === null ? null : -light.red_stops,
      blue_stops: light.blue_stops === null ? null : -light.blue_stops,
      worst_region: light.worst_region && { ...light.worst_region, stops: -light.worst_region.stops },
    },
    focus: focus && { ...focus, softer: focus.softer === 'plate' ? 'take' : 'plate' },
  };
}

function asSimilarity(o: NonNullable<TakesGap['offset']>): Similarity {
  return { dx: o.dx_px, dy: o.dy_px, rotation: (o.rotation_deg * Math.PI) / 180, scale: o.scale };
}

const say = (s: PairSide) => `${s.name}, take ${s.number}`;

/**
 * Do two takes lie on each other?
 * @param limit delivery pixels that the worst corner may be off
 */
export function judgeSamePosition(a: PairSide, b: PairSide, gap: TakesGap, limit: number, delivery: Size): Finding {
  const both = `${say(a)} and ${say(b)}`;
  if (!gap.offset || !a.media)
    return {
      verdict: 'unjudged',
      text: `${both} could not be laid on each other: they show too little in common`,
      fix: 'Look at both by eye.',
    };
  const { offset } = gap;
  const scale = deliveryScale(a.media, delivery);
  const off = scale * greatestDisplacement(asSimilarity(offset), IDENTITY, a.media.width, a.media.height);
  const sure = Math.max(0, off - 3 * scale * offset.uncertainty_px);
  if (sure <= limit)
    return { verdict: 'holds', text: `${both} lie on each other within ${off.toFixed(2)} px`, fix: null };
  const words = offsetInWords(offset);
  const crop = (200 * off) / delivery.width;
  return {
    verdict: crop > LIMITS.lock.crop_pct ? 'reshoot' : 'workable',
    text: `${say(a)} lies ${off.toFixed(1)} px off ${say(b)}: ${words}`,
    fix:
      `Put the camera back so that the picture moves ${wayBack(words)} and roll ${a.name} again; or lay one ` +
      `on the other by that much, with a crop of ${crop.toFixed(1)} %.`,
  };
}

/**
 * Are two takes in the same light?
 * @param limit stops
 */
export function judgeSameLight(a: PairSide, b: PairSide, gap: TakesGap, limit: number): Finding {
  const both = `${say(a)} and ${say(b)}`;
  const { light } = gap;
  if (!light)
    return {
      verdict: 'unjudged',
      text: `the light of ${both} could not be compared: too little agrees`,
      fix: 'Compare them by eye.',
    };
  const stops = Math.abs(light.gap_stops);
  const colour = Math.max(Math.abs(light.red_stops ?? 0), Math.abs(light.blue_stops ?? 0));
  const region =
    light.worst_region &&
    Math.abs(light.worst_region.stops - light.gap_stops) > limit &&
    Math.abs(light.worst_region.stops) > limit
      ? light.worst_region
      : null;
  const over = light.fade_in_frames
    ? ` bring the change in over ${light.fade_in_frames} frames`
    : ' match them in the grade';
  if (stops > limit) {
    return {
      verdict: stops > LIMITS.light.grade_stops ? 'reshoot' : 'workable',
      text: `${say(a)} is ${stops.toFixed(2)} stop ${light.gap_stops > 0 ? 'brighter' : 'darker'} than ${say(b)}`,
      fix: `Lock the exposure by hand and roll again in the same light; or${over} and grade by ${stops.toFixed(2)} stop.`,
    };
  }
  if (region)
    return {
      verdict: 'workable',
      text: `${say(a)} and ${say(b)} differ by ${Math.abs(region.stops).toFixed(2)} stop in part of the picture`,
      fix: `Wait for even light and roll again; or${over}.`,
    };
  if (colour > Math.max(limit, LIMITS.light.white_stops)) {
    return {
      verdict: 'workable',
      text: `the white of ${both} differs by ${colour.toFixed(2)} stop`,
      fix: 'Set white by hand and roll again; or balance one in the grade.',
    };
  }
  return { verdict: 'holds', text: `${both} agree within ${stops.toFixed(2)} stop`, fix: null };
}

/** Were two parts recorded as if the camera had not been stopped? Separate files may pass when neither place nor light changed. */
export function judgeOneRoll(a: PairSide, b: PairSide, gap: TakesGap, delivery: Size): Finding {
  const place = judgeSamePosition(a, b, gap, LIMITS.one_roll.px, delivery),
    light = judgeSameLight(a, b, gap, LIMITS.one_roll.stops);
  const worse =
    [place, light].find((f) => f.verdict === 'reshoot') ??
    [place, light].find((f) => f.verdict === 'unjudged') ??
    [place, light].find((f) => f.verdict === 'workable');
  if (!worse)
    return {
      verdict: 'holds',
      text: `two recordings, but neither place nor light changed between ${say(a)} and ${say(b)}`,
      fix: null,
    };
  return {
    ...worse,
    text: `two recordings: ${worse.text}`,
    fix: worse.verdict === 'unjudged' ? worse.fix : `Roll both without stopping the camera. ${worse.fix ?? ''}`.trim(),
  };
}

/**
 * What a plate shows beside a take that it should not: somebody who never left it, or a thing that stood elsewhere.
 * Null when nothing is wrong.
 */
export function judgeContents(take: PairSide, plate: PairSide, gap: TakesGap): Finding | null {
  if (!take.media) return null;
  const size = take.media;
  const large = (b: Box) => b.width * b.height > LIMITS.plate.moved_share * size.width * size.height;
  const intruder = gap.intruders.find(large),
    moved = gap.moved.find((m) => m.only === null && large(m));
  if (intruder)
    return {
      verdict: 'reshoot',
      text: `${say(plate)} has something in it that ${say(take)} has not: ${whereInPicture(intruder, size)}`,
      fix: 'Clear the picture, shadows too, and roll another plate now.',
    };
  if (moved)
    return {
      verdict: 'reshoot',
      text: `something stood elsewhere in ${say(take)} than in ${say(plate)}: ${whereInPicture(moved, size)}`,
      fix: `Put it back where it stood in ${take.name} and roll another plate now.`,
    };
  return null;
}
