import type { LockSummary } from '../../report/summaries';
import type { DecidingNumber, Knock, Reason, Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';

export interface FrameSize {
  width: number;
  height: number;
  /** The frames that were measured; all of them when left out. */
  shot?: Run;
}

/** Delivery pixels for one source pixel when the picture fills the delivery frame. */
export function deliveryScale(source: FrameSize, delivery: FrameSize): number {
  return Math.max(delivery.width / source.width, delivery.height / source.height);
}

/** Share of the source's width that is spare at delivery, per cent; at least what a crop may cost. */
export function headroomPct(source: FrameSize, delivery: FrameSize): number {
  const spare = (1 - Math.max(delivery.width / source.width, delivery.height / source.height)) * 100;
  return Math.max(LIMITS.lock.crop_pct, spare);
}

const px = (v: number) => (v < 10 ? v.toFixed(2) : v.toFixed(1));

/**
 * Was the camera locked? Judged at delivery size.
 * @param lock the measure, in source pixels
 * @param frameCount frames in the take
 * @param limit movement up to which it holds, delivery pixels. @param wanted_s how long a run is wanted of it, seconds
 */
export function judgeLock(
  lock: LockSummary,
  source: FrameSize,
  delivery: FrameSize,
  frameCount: number,
  limit: number = LIMITS.lock.holds_px,
  wanted_s: number = LIMITS.lock.steady_s,
): Verdict {
  const judged = judgeRun(lock, source, delivery, frameCount, limit, wanted_s);
  return { ...judged, reasons: [...judged.reasons, ...endsOf(lock, source.shot ?? { start: 0, end: frameCount - 1 })] };
}

/** What is said of a useless head and tail. */
function endsOf({ usable_run: run }: LockSummary, shot: Run): Reason[] {
  if (!run) return [];
  const remark = (code: string, start: number, end: number): Reason => ({
    code,
    text:
      `${start === end ? `Frame ${start} is` : `Frames ${start} to ${end} are`} no part of it: the camera is touched ` +
      'or sees something else there.',
    frames: [{ start, end }],
    value: null,
    limit: null,
    fix: null,
  });
  return [
    ...(run.start > shot.start ? [remark('head', shot.start, run.start - 1)] : []),
    ...(run.end < shot.end ? [remark('tail', run.end + 1, shot.end)] : []),
  ];
}

function judgeRun(
  lock: LockSummary,
  source: FrameSize,
  delivery: FrameSize,
  frameCount: number,
  limit: number,
  wanted_s: number,
): Verdict {
  const {
    sure_sigmas: sure,
    measured_share: leastShare,
    believable_share: believableShare,
    spread_share: leastSpread,
    rival_ratio: mostRival,
  } = LIMITS.lock;
  const percent = (name: string, share: number, bound: number | null): DecidingNumber => ({
    name,
    value: share * 100,
    unit: '%',
    limit: bound === null ? null : bound * 100,
    frame: null,
  });
  const numbers: DecidingNumber[] = [
    percent('frames followed', lock.measured_share, leastShare),
    percent('of the picture has detail', lock.textured_share, null),
  ];
  const whole: Run[] = lock.usable_run ? [lock.usable_run] : frameCount > 0 ? [{ start: 0, end: frameCount - 1 }] : [];
  const unjudged = (
    code: string,
    text: string,
    fix: string,
    value: number | null = null,
    bound: number | null = null,
  ): Verdict => ({
    verdict: 'unjudged',
    reasons: [{ code, text, frames: whole, value, limit: bound, fix }],
    deciding: numbers,
  });

  if (frameCount < 2) {
    return unjudged('one-frame', 'One frame shows no movement.', 'Roll at least two seconds.', frameCount, 2);
  }
  // Followed from one frame to the next only, or not at all while everything changes.
  if (lock.measured_share < believableShare && lock.restless_share > LIMITS.lock.restless_share) {
    const speed = lock.speed_px_per_s === null ? null : lock.speed_px_per_s * deliveryScale(source, delivery);
    return {
      verdict: 'reshoot',
      deciding: numbers,
      reasons: [
        {
          code: 'waved',
          text:
            'The whole picture moves, so far that no frame lies on another for long' +
            `${speed === null ? '' : `: about ${px(speed)} px a second where it could be followed`}.`,
          frames: whole,
          value: speed,
          limit: null,
          fix: 'Put the camera on a tripod, hands off, and roll again.',
        },
      ],
    };
  }
  if (lock.peak_px === null || lock.uncertainty_px === null || lock.reference_frame === null) {
    return lock.textured_share < LIMITS.lock.textured_share
      ? unjudged(
          'no-texture',
          'The picture has too little detail to tell whether the camera moved: a blank wall, fog, or too dark.',
          'Get something with detail and still edges into the frame, or more light, and roll again.',
          lock.textured_share,
          LIMITS.lock.textured_share,
        )
      : unjudged(
          'no-agreement',
          'No part of the picture stays still long enough to tell the camera from what moves in front of it.',
          'Leave some still background in the frame, or judge this take by eye.',
        );
  }
  const scale = deliveryScale(source, delivery);
  const uncertainty = lock.uncertainty_px * scale;
  const peak = lock.peak_px * scale;
  const error = sure * uncertainty;
  // The greatest of many measured places is greater than the truth by chance alone; what error explains is taken off.
  const moved = (lock.sure_peak_px ?? lock.peak_px) * scale;

  const peakNumber: DecidingNumber = { name: 'peak', value: peak, unit: 'px', limit, frame: lock.peak_frame };

  if (moved <= limit) {
    if (lock.measured_share < leastShare) {
      const pct = Math.round(lock.measured_share * 100);
      return unjudged(
        'hidden',
        `The background could be followed in only ${pct} % of the frames; the rest is covered or changes too much.`,
        'Leave some still background in the frame, or judge this take by eye.',
        lock.measured_share,
        leastShare,
      );
    }
    if (uncertainty > limit) {
      return unjudged(
        'unsure',
        `The place of the picture is known only to ${px(uncertainty)} px; ${px(limit)} px must be told apart.`,
        'Get more still detail or more light into the frame and roll again.',
        uncertainty,
        limit,
      );
    }
    return {
      verdict: 'holds',
      reasons: [
        {
          code: 'still',
          frames: peakRun(lock),
          text:
            peak <= limit
              ? `The camera stayed put: ${px(peak)} px at most.`
              : `The camera stayed put as far as can be told: ${px(peak)} px in one frame, ` +
                `${moved < 0.005 ? 'which measuring error explains' : `of which measuring error explains all but ${px(moved)} px`}.`,
          value: peak,
          limit,
          fix: null,
        },
      ],
      deciding: [peakNumber, { name: 'known to', value: uncertainty, unit: 'px', limit, frame: null }],
    };
  }

  if (lock.measured_share < believableShare) {
    const pct = Math.round(lock.measured_share * 100);
    return unjudged(
      'hidden',
      `The background could be followed in only ${pct} % of the frames, too few to say how the camera moved.`,
      'Leave some still background in the frame, or judge this take by eye.',
      lock.measured_share,
      believableShare,
    );
  }
  if (lock.spread_share < leastSpread) {
    return unjudged(
      'part-moves',
      'What can be followed moves, but it fills only a part of the picture and the rest has too little detail: ' +
        'it may be the thing and not the camera.',
      'Get still detail into the rest of the frame, or judge this take by eye.',
      lock.spread_share,
      leastSpread,
    );
  }
  if (lock.rival_ratio > mostRival) {
    return unjudged(
      'two-movements',
      'One part of the picture moves and another stays where it was; which of them is the background cannot be told.',
      'Look at the take by eye, or roll again with nothing large moving close to the lens.',
      lock.rival_ratio,
      mostRival,
    );
  }
  const crop = lock.make_still_crop_pct ?? 100;
  const room = headroomPct(source, delivery);
  const workable = crop <= room;
  const reasons: Reason[] = [];
  const knocks = [...lock.knocks].sort((a, b) => b.peak_px - a.peak_px);
  for (const knock of knocks) reasons.push(knockReason(knock, scale, limit, workable, crop));
  const drift = (lock.drift_px ?? 0) * scale;
  const jitter = (lock.jitter_px ?? 0) * scale;
  if (lock.moves && peak > LIMITS.lock.moves_px) {
    const speed = lock.speed_px_per_s === null ? '' : `, about ${px(lock.speed_px_per_s * scale)} px a second`;
    const steady = steadiest(lock, scale, wanted_s);
    reasons.push({
      code: lock.handheld ? 'handheld' : 'moves',
      text: `${lock.handheld ? 'The camera was held by hand' : 'The camera moves all the time'}: up to ${px(peak)} px${speed}.`,
      frames: whole,
      value: peak,
      limit,
      fix: workable ? makeStill(crop) : `Put the camera on a tripod, hands off, and roll again.${steady}`,
    });
  } else if (drift > Math.max(limit, error)) {
    reasons.push({
      code: 'drift',
      text: `The picture drifted by ${px(drift)} px from start to end.`,
      frames: whole,
      value: drift,
      limit,
      fix: workable ? makeStill(crop) : 'Tighten the head and the legs, let the tripod settle, and roll again.',
    });
  }
  const named = reasons.some((r) => r.code === 'handheld' || r.code === 'moves');
  if (!named && jitter * 2 > limit && jitter > uncertainty * 2) {
    reasons.push({
      code: 'shake',
      text: `The picture shakes by ${px(jitter)} px all through.`,
      frames: whole,
      value: jitter,
      limit,
      fix: workable ? makeStill(crop) : 'Put the camera on a tripod, hands off, and roll again.',
    });
  }
  if (reasons.length === 0) {
    reasons.push({
      code: 'moved',
      text: `The picture moved by up to ${px(peak)} px.`,
      frames: peakRun(lock),
      value: peak,
      limit,
      fix: workable ? makeStill(crop) : 'Lock the camera and roll again.',
    });
  }
  reasons.sort((a, b) => (b.value ?? 0) - (a.value ?? 0));
  if (!workable) {
    reasons[0] = {
      ...reasons[0],
      fix: `${reasons[0].fix ?? ''} Making it still would cost ${crop.toFixed(1)} % of the width; ${room.toFixed(0)} % is spare.`.trim(),
    };
  }
  const worst = knocks[0];
  const second: DecidingNumber =
    worst && worst.rest_px * scale > limit
      ? {
          name: 'rest',
          value: worst.rest_px * scale,
          unit: 'px',
          limit,
          frame: Math.min(worst.end + 1, frameCount - 1),
        }
      : { name: 'cost of making it still', value: crop, unit: '%', limit: room, frame: null };
  return { verdict: workable ? 'workable' : 'reshoot', reasons, deciding: [peakNumber, second] };
}

/** Cropping and enlarging, which together leave fewer of the picture's own pixels across. */
const makeStill = (cost: number) => `Make the take still: it costs ${cost.toFixed(1)} % of the width.`;

/** The steadiest run of the wanted length of a take that moves, for whoever must live with it; of the longest there is otherwise. */
function steadiest(lock: LockSummary, scale: number, wanted_s: number): string {
  const best = lock.steadiest.find((s) => s.seconds >= wanted_s) ?? lock.steadiest[lock.steadiest.length - 1];
  if (!best) return '';
  const { seconds, run, peak_px } = best;
  return ` The steadiest ${seconds} s are frames ${run.start} to ${run.end}, within ${px(peak_px * scale)} px.`;
}

function peakRun(lock: LockSummary): Run[] {
  return lock.peak_frame === null ? [] : [{ start: lock.peak_frame, end: lock.peak_frame }];
}

function knockReason(knock: Knock, scale: number, limit: number, workable: boolean, crop: number): Reason {
  const rest = knock.rest_px * scale;
  const peak = knock.peak_px * scale;
  const settled = rest > limit ? `it settled ${px(rest)} px off` : 'it came back to its place';
  const still = makeStill(crop);
  let fix: string;
  if (rest > limit) {
    fix = workable
      ? `Use frames before ${knock.start} only, or ${still.charAt(0).toLowerCase()}${still.slice(1)}`
      : `Line the camera up again and roll this part again; frames before ${knock.start} are good.`;
  } else {
    fix = workable
      ? `Cut round frames ${knock.start} to ${knock.end}, or ${still.charAt(0).toLowerCase()}${still.slice(1)}`
      : `Cut round frames ${knock.start} to ${knock.end}, or roll this part again with nobody near the legs.`;
  }
  return {
    code: 'knock',
    text: `Knocked at frame ${knock.start} by ${px(peak)} px; ${settled}.`,
    frames: [{ start: knock.start, end: knock.end }],
    value: peak,
    limit,
    fix,
  };
}
