import type { PresenceSummary } from '../../report/summaries';
import type { Reason, Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';

/**
 * Is this take usable as a clean plate: is there a run in which nobody, and nobody's shadow, is in the picture?
 * @param least frames that such a run must last
 */
export function judgeCleanPlate(presence: PresenceSummary, frameCount: number, least: number): Verdict {
  const whole: Run[] = frameCount > 0 ? [{ start: 0, end: frameCount - 1 }] : [];
  const verdict = (word: Verdict['verdict'], reason: Reason): Verdict => ({
    verdict: word,
    reasons: [reason],
    deciding: [],
  });
  if (presence.unjudged)
    return verdict('unjudged', {
      code: 'unknown',
      text: presence.unjudged,
      frames: whole,
      value: null,
      limit: null,
      fix: 'Look at the plate by eye.',
    });
  if (presence.restless_share > LIMITS.plate.restless_share) {
    return verdict('unjudged', {
      code: 'restless',
      text: `${Math.round(100 * presence.restless_share)} % of the picture moves by itself; who is in it cannot be told.`,
      frames: whole,
      value: presence.restless_share,
      limit: LIMITS.plate.restless_share,
      fix: 'Look at the plate by eye.',
    });
  }
  const longest = presence.clear_runs.reduce<Run | null>(
    (a, b) => (!a || b.end - b.start > a.end - a.start ? b : a),
    null,
  );
  const frames = longest ? longest.end - longest.start + 1 : 0;
  if (presence.present_runs.length === 0 && frames > 0) {
    return verdict('holds', {
      code: 'clean',
      text: 'Nobody and nobody’s shadow is in it.',
      frames: presence.clear_runs,
      value: frames,
      limit: least,
      fix: null,
    });
  }
  const shadow =
    presence.shadow_runs.length > 0 &&
    presence.present_runs.every((p) => presence.shadow_runs.some((s) => s.start <= p.end && s.end >= p.start));
  const who = shadow ? 'A shadow is' : 'Somebody is';
  if (longest && frames >= least) {
    return verdict('workable', {
      code: 'clear-run',
      text: `${who} in it in frames ${listRuns(presence.present_runs)}; frames ${longest.start} to ${longest.end} are clear.`,
      frames: presence.present_runs,
      value: frames,
      limit: least,
      fix: `Use frames ${longest.start} to ${longest.end} as the plate.`,
    });
  }
  return verdict('reshoot', {
    code: shadow ? 'shadow' : 'somebody',
    text: `${who} in it in frames ${listRuns(presence.present_runs)}, and no run of ${least} frames is clear.`,
    frames: presence.present_runs,
    value: frames,
    limit: least,
    fix: 'Clear the picture, shadows too, and roll the plate now.',
  });
}
