import { greatestDisplacement, IDENTITY } from '../../base/geometry/similarity';
import type { PlateGap, Reason, Verdict, VerdictWord } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { byWorst } from '../../judge/verdicts';

/** Frames over which to bring a plate in, so that its other light is not seen to jump. */
export function fadeInFrames(gapStops: number, worstStops: number): number {
  const gap = Math.max(Math.abs(gapStops), Math.abs(worstStops));
  return gap < LIMITS.plate.unseen_stops
    ? 0
    : Math.min(LIMITS.plate.fade_frames, Math.ceil(gap / LIMITS.plate.fade_step_stops));
}

const signed = (v: number, unit: string, digits = 2) => `${v > 0 ? '+' : '−'}${Math.abs(v).toFixed(digits)} ${unit}`;

/** Does a plate fit a take? `size` is the take's picture in source pixels. */
export function judgePlate(c: PlateGap, size: { width: number; height: number }): Verdict {
  const bounds = LIMITS.plate;
  const reasons: (Reason & { word: VerdictWord })[] = [];
  const add = (
    word: VerdictWord,
    code: string,
    text: string,
    value: number | null,
    limit: number | null,
    fix: string | null,
  ) => reasons.push({ word, code, text, frames: [], value, limit, fix });
  const { offset, light, focus } = c;
  if (c.intruders.length) {
    add(
      'reshoot',
      'intruder',
      `Somebody, or somebody’s shadow, is in the plate: ${whereInPicture(c.intruders[0], size)}.`,
      c.intruders.length,
      0,
      'Clear the picture and roll another plate now.',
    );
  }
  const large = c.moved.filter((m) => (m.width * m.height) / (size.width * size.height) > bounds.moved_share);
  const big = large.filter((m) => m.only === null),
    inTake = large.filter((m) => m.only === 'take');
  if (inTake.length) {
    add(
      'workable',
      'only-in-take',
      `${inTake.length === 1 ? 'Something stands' : `${inTake.length} things stand`} in the take from first to ` +
        `last and not in the plate: ${whereInPicture(inTake[0], size)}.`,
      inTake.length,
      0,
      'If it is the performer, that is as it should be. If it is a prop, put it back and roll another plate now.',
    );
  }
  if (big.length) {
    add(
      'reshoot',
      'moved',
      `${big.length === 1 ? 'Something' : `${big.length} things`} stood elsewhere: ${whereInPicture(big[0], size)}.`,
      big.length,
      0,
      'Put it back where it stood in the take and roll another plate now.',
    );
  }
  let off: number | null = null;
  if (!offset) {
    add(
      'unjudged',
      'no-match',
      'The plate and the take could not be laid on each other: they show too little in common.',
      null,
      null,
      'Look at both by eye; roll the plate from the same place.',
    );
  } else {
    const turn = (offset.rotation_deg * Math.PI) / 180;
    off = greatestDisplacement(
      { dx: offset.dx_px, dy: offset.dy_px, rotation: turn, scale: offset.scale },
      IDENTITY,
      size.width,
      size.height,
    );
    const sure = Math.max(0, off - 3 * offset.uncertainty_px);
    if (sure > bounds.offset_px) {
      const crop = (100 * 2 * off) / size.width;
      const parts = offsetInWords(offset);
      add(
        crop > LIMITS.lock.crop_pct ? 'reshoot' : 'workable',
        'offset',
        `The take’s picture lies off the plate’s: ${parts}.`,
        off,
        bounds.offset_px,
        `Put the camera back so that the picture moves ${wayBack(parts)}, and roll another plate; or lay the ` +
          `plate on the take by that much.`,
      );
    }
  }
  if (light) {
    const gap = Math.abs(light.gap_stops);
    if (gap > bounds.light_stops) {
      add(
        gap > LIMITS.light.grade_stops ? 'reshoot' : 'workable',
        'light',
        `The take is ${gap.toFixed(2)} stop ${light.gap_stops > 0 ? 'brighter' : 'darker'} than the plate.`,
        light.gap_stops,
        bounds.light_stops,
        `Roll another plate in the take’s light now; or grade the plate by ${signed(light.gap_stops, 'stop')} ` +
          `and bring it in over ${light.fade_in_frames} frames.`,
      );
    }
    const region = light.worst_region;
    if (
      region &&
      Math.abs(region.stops - light.gap_stops) > bounds.light_stops &&
      Math.abs(region.stops) > bounds.light_stops
    ) {
      add(
        'workable',
        'uneven-light',
        `The light differs from place to place: ${signed(region.stops, 'stop')} ${whereInPicture(region, size)}.`,
        region.stops,
        bounds.light_stops,
        `Wait until the light is even again and roll another plate; or bring the plate in over ${light.fade_in_frames} frames.`,
      );
    }
    const [red, blue] = [light.red_stops ?? 0, light.blue_stops ?? 0];
    if (Math.max(Math.abs(red), Math.abs(blue)) > LIMITS.light.white_stops) {
      add(
        'workable',
        'white',
        `The white differs: red ${signed(red, 'stop')}, blue ${signed(blue, 'stop')} in the take.`,
        Math.abs(red) > Math.abs(blue) ? red : blue,
        LIMITS.light.white_stops,
        'Set white by hand and roll another plate; or balance the plate in the grade.',
      );
    }
  } else if (offset) {
    add(
      'unjudged',
      'no-light',
      'The light of plate and take could not be compared: too little agrees.',
      null,
      null,
      'Compare them by eye.',
    );
  }
  if (focus && focus.loss_pct > LIMITS.focus.holds_pct) {
    add(
      focus.softer === 'plate' && focus.loss_pct > LIMITS.focus.soften_pct ? 'reshoot' : 'workable',
      'focus',
      `The ${focus.softer} is softer: ${focus.loss_pct.toFixed(0)} % of fine detail is lost.`,
      focus.loss_pct,
      LIMITS.focus.holds_pct,
      focus.softer === 'plate'
        ? 'Set the focus as in the take and roll another plate.'
        : 'Soften the plate as much in the edit.',
    );
  }
  const size2 = c.settings.find((s) => s.field === 'picture');
  if (size2)
    add(
      'workable',
      'size',
      `The plate is ${size2.plate} px and the take ${size2.take} px.`,
      null,
      null,
      'Roll a plate at the take’s size; or scale the plate to it.',
    );
  reasons.sort((a, b) => byWorst(a.word, b.word));
  const deciding = [
    ...(off === null ? [] : [{ name: 'off', value: off, unit: 'px' as const, limit: bounds.offset_px, frame: null }]),
    ...(light
      ? [
          {
            name: 'light apart',
            value: Math.abs(light.gap_stops),
            unit: 'stop' as const,
            limit: bounds.light_stops,
            frame: null,
          },
        ]
      : []),
  ];
  if (reasons.length === 0)
    return {
      verdict: 'holds',
      deciding,
      reasons: [
        {
          code: 'fits',
          text: 'The plate fits the take: same place, same light, nobody in it.',
          frames: [],
          value: off,
          limit: bounds.offset_px,
          fix: null,
        },
      ],
    };
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

/** An offset as it is read out: "2.3 px right, turned 0.15° clockwise". */
export function offsetInWords(o: NonNullable<PlateGap['offset']>): string {
  return [
    Math.abs(o.dx_px) > 0.1 ? `${Math.abs(o.dx_px).toFixed(1)} px ${o.dx_px > 0 ? 'right' : 'left'}` : '',
    Math.abs(o.dy_px) > 0.1 ? `${Math.abs(o.dy_px).toFixed(1)} px ${o.dy_px > 0 ? 'down' : 'up'}` : '',
    Math.abs(o.rotation_deg) > 0.01
      ? `turned ${Math.abs(o.rotation_deg).toFixed(2)}° ${o.rotation_deg > 0 ? 'clockwise' : 'anticlockwise'}`
      : '',
    Math.abs(o.scale - 1) > 0.0004 ? `${(o.scale * 100).toFixed(2)} % of its size` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** The way that undoes an offset in words. */
export function wayBack(words: string): string {
  return words
    .replace(/anticlockwise|clockwise|right|left|down|up/g, (w) => OPPOSITE[w])
    .replace(/([\d.]+) % of its size/, (_, pct) => `to ${(10000 / Number(pct)).toFixed(2)} % of its size`);
}

const OPPOSITE: Record<string, string> = {
  right: 'left',
  left: 'right',
  up: 'down',
  down: 'up',
  clockwise: 'anticlockwise',
  anticlockwise: 'clockwise',
};

/** Where in the picture a box lies, in words: "at the lower left". */
export function whereInPicture(
  b: { x: number; y: number; width: number; height: number },
  size: { width: number; height: number },
): string {
  const u = (b.x + b.width / 2) / size.width,
    v = (b.y + b.height / 2) / size.height;
  const across = u < 1 / 3 ? 'left' : u > 2 / 3 ? 'right' : '',
    down = v < 1 / 3 ? 'upper' : v > 2 / 3 ? 'lower' : '';
  if (!across && !down) return 'in the middle';
  if (!down) return `at the ${across}`;
  return across ? `at the ${down} ${across}` : `in the ${down} middle`;
}
