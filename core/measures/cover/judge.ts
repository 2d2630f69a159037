import type { Reason, Verdict, VerdictWord } from '../../report/types';
import type { CoverMeasure } from '../../report/wipe-types';
import { LIMITS } from '../../judge/limits';
import { byWorst } from '../../judge/verdicts';

/** What judging needs of the measure: everything but the path. */
export type CoverSummary = Omit<CoverMeasure, 'path'>;

const percent = (share: number) => `${(100 * share).toFixed(share > 0.995 && share < 1 ? 1 : 0)} %`;
const WAYS = ['to the right', 'down', 'to the left', 'up'];

/**
 * Does the object cover the whole picture, and leave it, so that the cut can lie under it? @param width of the picture
 * as shown, source pixels
 */
export function judgeCover(c: CoverSummary, width: number, frameCount: number): Verdict {
  const bounds = LIMITS.cover;
  const whole = frameCount > 0 ? [{ start: 0, end: frameCount - 1 }] : [];
  const at = (frame: number | null) => (frame === null ? [] : [{ start: frame, end: frame }]);
  const deciding: Verdict['deciding'] = [
    { name: 'covered', value: 100 * c.peak_cover_share, unit: '%', limit: 100, frame: c.peak_frame },
  ];
  if (c.punch_in)
    deciding.push({ name: 'punch-in', value: 100 * c.punch_in.scale, unit: '%', limit: null, frame: c.peak_frame });
  const one = (verdict: VerdictWord, code: string, text: string, fix: string): Verdict => ({
    verdict,
    deciding,
    reasons: [{ code, text, frames: whole, value: c.peak_cover_share, limit: 1, fix }],
  });
  if (frameCount < 3)
    return one(
      'unjudged',
      'too-short',
      'The take is too short to see anything cover it.',
      'Roll the whole crossing, with the picture free at both ends.',
    );
  const doubt = c.by_hand === null ? doubtOf(c) : null;
  if (doubt) return one('unjudged', doubt.code, doubt.text, doubt.fix);
  if (c.peak_cover_share < bounds.tried_share && c.kind === 'panning' && c.by_hand === null) {
    return one(
      'unjudged',
      'no-parallax',
      'Nothing in front moves otherwise than what lies behind it. Something that stands still and is panned ' +
        'past goes the same way, so it cannot be told whether it covers.',
      'If something did cover the picture, set its edge by hand on a few frames; or move the camera sideways past it, and roll again.',
    );
  }
  if (c.peak_cover_share < bounds.tried_share)
    return one(
      'reshoot',
      'no-cover',
      `Nothing covers the picture: ${percent(c.peak_cover_share)} at most.`,
      'Let the object pass closer to the lens and roll again.',
    );
  const reasons: (Reason & { word: VerdictWord })[] = [];
  const add = (
    word: VerdictWord,
    code: string,
    text: string,
    frames: Reason['frames'],
    value: number | null,
    limit: number | null,
    fix: string | null,
  ) => reasons.push({ word, code, text, frames, value, limit, fix });
  if (c.first_full_frame === null) {
    const where = c.missed.map((m) => `${percent(Math.max(0.01, m.share))} ${m.where}`).join(', ');
    const frames = c.missed.length ? [c.missed[0].frames] : at(c.peak_frame);
    const text = `The object covers ${percent(c.peak_cover_share)} of the picture at most${where ? `; open: ${where}` : ''}.`;
    if (c.punch_in?.allowed)
      add(
        'workable',
        'punch-in',
        text,
        frames,
        c.peak_cover_share,
        1,
        `Punch in to ${(100 * c.punch_in.scale).toFixed(0)} % about frame ${c.peak_frame}; the recording is ` +
          `large enough. Better: bring the object closer and roll again.`,
      );
    else
      add(
        'reshoot',
        'misses',
        text,
        frames,
        c.peak_cover_share,
        1,
        c.punch_in
          ? `${missFix(c)} A punch-in to ${(100 * c.punch_in.scale).toFixed(0)} % would hide it, ` +
              'but the recording has not the size for that.'
          : missFix(c),
      );
  }
  if (c.leave_frame === null && (c.kind === 'passing' || c.kind === 'panning')) {
    add(
      'reshoot',
      'stays',
      'The object never leaves the picture.',
      at(frameCount - 1),
      null,
      null,
      c.kind === 'passing'
        ? 'Let it pass right out of the picture and hold the camera half a second longer; roll again.'
        : 'Pan on until it has left the picture, and roll again.',
    );
  }
  if (c.edge.speed_spread !== null && c.edge.speed_spread > bounds.uneven_share && c.kind !== 'closing') {
    add(
      'workable',
      'uneven',
      `The edge’s speed varies by ${percent(c.edge.speed_spread)}.`,
      whole,
      c.edge.speed_spread,
      bounds.uneven_share,
      'Set more key frames than for an even pace; better, roll again at one pace.',
    );
  }
  if (c.edge.softness_px !== null && c.edge.softness_px > bounds.soft_share * width) {
    add(
      'workable',
      'soft',
      `The edge is ${c.edge.softness_px.toFixed(0)} px soft: the mask must be feathered as wide.`,
      [],
      c.edge.softness_px,
      bounds.soft_share * width,
      `Start with a feather of ${c.edge.softness_px.toFixed(0)} px.`,
    );
  }
  if (c.edge.bend_px !== null && c.edge.bend_px - (c.edge.bend_error_px ?? 0) > bounds.bend_share * width) {
    add(
      'workable',
      'bent',
      `The closing edge bends by ${c.edge.bend_px.toFixed(1)} px in the middle.`,
      [],
      c.edge.bend_px,
      bounds.bend_share * width,
      bendFix(c.edge.lens_k1),
    );
  }
  if (c.approach) {
    if (c.approach.sway_px > bounds.sway_share * width)
      add(
        'workable',
        'sway',
        `The object sways by ${c.approach.sway_px.toFixed(0)} px as the camera comes nearer.`,
        [],
        c.approach.sway_px,
        bounds.sway_share * width,
        'Keep it on one mark in the finder and roll again, or steady it in the edit.',
      );
    if (c.approach.roll_deg > bounds.roll_deg)
      add(
        'workable',
        'roll',
        `The camera rolls by ${c.approach.roll_deg.toFixed(1)} deg.`,
        [],
        c.approach.roll_deg,
        bounds.roll_deg,
        'Hold the camera level and roll again, or turn it back in the edit.',
      );
  }
  if (reasons.length === 0) {
    const leaves = c.leave_frame === null ? '' : ` and has left after frame ${c.leave_frame}`,
      inAtOnce = c.free_ends === 'end' ? ' It is in the picture from the first frame on.' : '';
    add(
      'holds',
      'covers',
      `The object covers everything in frames ${c.first_full_frame} to ${c.last_full_frame}${leaves}.${inAtOnce}`,
      c.first_full_frame === null ? [] : [{ start: c.first_full_frame, end: c.last_full_frame! }],
      1,
      1,
      null,
    );
  }
  reasons.sort((a, b) => byWorst(a.word, b.word));
  return {
    verdict: reasons[0].word,
    deciding,
    reasons: reasons.map(({ code, text, frames, value, limit, fix }) => ({ code, text, frames, value, limit, fix })),
  };
}

/** How a bent edge is made straight: by the lens's own correction where the lens bends it. */
function bendFix(k1: number | null): string {
  const again = 'use a longer lens, squarely set, and roll again.';
  if (k1 === null) return 'It is bent by itself: mask it with a curve; or straighten it, and roll again.';
  return (
    `Correct the lens before masking: ${k1 < 0 ? 'barrel' : 'pincushion'} of ` +
    `${(100 * Math.abs(k1)).toFixed(1)} % at the corners (k1 ${k1.toFixed(3)}); or ${again}`
  );
}

/** Why the numbers cannot be trusted; null when they can. */
function doubtOf(c: CoverSummary): { code: string; text: string; fix: string } | null {
  const bounds = LIMITS.cover,
    byHand = 'Set the edge by hand on a few frames, or';
  const tried = c.peak_cover_share >= bounds.tried_share;
  if (c.sure_share < bounds.sure_share) {
    return {
      code: 'no-background',
      text: `What lies behind could not be followed${tried ? ' well enough to trust the edges' : ', so what covers it cannot be told'}.`,
      fix: `${byHand} leave the picture free for half a second before the object comes.`,
    };
  }
  if (!tried) return null;
  if (c.free_ends === 'neither')
    return {
      code: 'not-free',
      text: 'Something stands in front at both ends of the take, so what lies behind it was never seen.',
      fix: `${byHand} roll again with the picture free at the start and at the end.`,
    };
  if (c.kind === 'panning' && c.free_ends === 'end')
    return {
      code: 'not-free',
      text: 'The object is in the picture when the pan begins, so what lies behind it was not seen.',
      fix: `${byHand} start the pan with the picture free.`,
    };
  if (c.first_full_frame === null && (c.alike_share ?? 0) > bounds.alike_share) {
    return {
      code: 'alike',
      text:
        `Where the picture seems open, the object is as bright and of the same colour as what lies behind, ` +
        `so that it cannot be told whether it covers (${percent(c.peak_cover_share)} for certain).`,
      fix: `${byHand} roll again with an object that is darker or brighter than what lies behind.`,
    };
  }
  if (c.changes_per_pixel > bounds.changes)
    return {
      code: 'restless',
      text:
        'What lies behind moves by itself (leaves, water, people) or looks too much like the object, so it ' +
        'cannot be told from what covers it.',
      fix: 'Set the edge by hand on a few frames; better, roll against something that stands still and looks different.',
    };
  if (c.largest_jump_share > bounds.jump_share)
    return {
      code: 'jump',
      text:
        `${percent(c.largest_jump_share)} of the picture changes from one frame to the next: that is a cut, ` +
        `a flash or a knock, and no edge that could be followed.`,
      fix: 'Give one unbroken recording of the crossing, with the picture free at the start.',
    };
  return null;
}

function missFix(c: CoverSummary): string {
  const open = Object.entries(c.reaches)
    .filter(([, reached]) => !reached)
    .map(([side]) => side);
  const upDown = open.includes('top') || open.includes('bottom');
  if (c.kind === 'approaching') return 'Go on until it fills the picture and roll again.';
  if (c.kind === 'closing') return 'Let it close all the way and roll again.';
  return `Bring the object closer to the lens${upDown && c.direction_deg !== null ? ', or use a taller one,' : ''} and roll again.`;
}

/** A way in words, from degrees. */
export function wayInWords(degrees: number): string {
  return WAYS[Math.round((((degrees % 360) + 360) % 360) / 90) % 4];
}
