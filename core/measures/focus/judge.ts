import type { FocusSummary } from '../../report/summaries';
import type { Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';

/**
 * Did the focus stay where it was set?
 * @param limit fine detail that may be lost, per cent
 */
export function judgeFocus(focus: FocusSummary, frameCount: number, limit: number = LIMITS.focus.holds_pct): Verdict {
  const most = Math.max(limit, LIMITS.focus.soften_pct);
  const whole: Run[] = frameCount > 0 ? [{ start: 0, end: frameCount - 1 }] : [];
  const detail = {
    name: 'of the picture has detail',
    value: focus.textured_share * 100,
    unit: '%' as const,
    limit: LIMITS.focus.textured_share * 100,
    frame: null,
  };
  if (focus.worst_loss_pct === null) {
    return {
      verdict: 'unjudged',
      deciding: [detail],
      reasons: [
        {
          code: 'no-detail',
          text: 'Too little fine detail of the still background can be followed to tell whether the focus holds.',
          frames: whole,
          value: focus.textured_share,
          limit: LIMITS.focus.textured_share,
          fix: 'Look at a loupe’s size by eye, or get something with detail into the frame.',
        },
      ],
    };
  }
  const loss = focus.worst_loss_pct;
  const deciding = [{ name: 'detail lost', value: loss, unit: '%' as const, limit, frame: focus.worst_frame }, detail];
  if (focus.hunts.length === 0 || loss <= limit) {
    return {
      verdict: 'holds',
      deciding,
      reasons: [
        {
          code: 'sharp',
          text:
            loss <= limit
              ? `The focus held: ${loss.toFixed(0)} % of fine detail lost at most.`
              : 'The focus held, as far as can be told while the picture moves, changes or is coded coarsely.',
          frames: [],
          value: loss,
          limit,
          fix: null,
        },
      ],
    };
  }
  const worst =
    focus.hunts.find((h) => focus.worst_frame !== null && h.start <= focus.worst_frame && h.end >= focus.worst_frame) ??
    focus.hunts[0];
  const many = focus.hunts.length > 1 ? `, ${focus.hunts.length} times` : '';
  const verdict = loss <= most ? 'workable' : 'reshoot';
  const lens = focus.breathing ? ' The picture’s size changes with it: the lens is on automatic.' : '';
  return {
    verdict,
    deciding,
    reasons: [
      {
        code: 'hunt',
        text: `The focus goes from frame ${worst.start} to ${worst.end}${many}: ${loss.toFixed(0)} % of fine detail is lost.${lens}`,
        frames: focus.hunts,
        value: loss,
        limit,
        fix:
          verdict === 'workable'
            ? `Set focus by hand and roll again; or use other frames than ${worst.start} to ${worst.end}.`
            : 'Set focus by hand and roll again.',
      },
    ],
  };
}
