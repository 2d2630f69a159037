import type { MediaFacts, TakeMeasures, TakeReport, Verdict, VerdictWord } from '../report/types';
import { judgeFocus, type FocusSummary } from './focus';
import { judgeLight, type LightSummary } from './light';
import { judgeLock, type LockSummary } from './lock';
import type { PresenceSummary } from './presence';
import { listRuns } from './runs';
import { worstOf } from './verdicts';

/** The facts of a file that lists and judges read. */
export type MediaSummary = Omit<MediaFacts, 'repeated_frames' | 'missing_frames'>;

/** What measuring a take by itself found, without its paths. */
export interface TakeFacts {
  media: MediaSummary;
  lock: LockSummary;
  light: LightSummary;
  focus: FocusSummary;
  presence: PresenceSummary;
  grain_levels: number | null;
}

/** A take's state as lists show it: the verdict on the take by itself, its first sentence and remedy, and all of it in one line. */
export interface TakeSummary {
  verdict: VerdictWord;
  text: string;
  fix: string | null;
  line: string;
}

/** Verdicts on each measure of a take by itself. */
export interface TakeVerdicts {
  lock: Verdict;
  light: Verdict;
  focus: Verdict;
}

type Size = { width: number; height: number };

/** Judges what was measured of a take. @param delivery what the edit is finished at */
export function judgeTake({ media, lock, light, focus }: TakeFacts, delivery: Size): TakeVerdicts {
  return {
    lock: judgeLock(lock, media, delivery, media.frame_count),
    light: judgeLight(light, media.frame_count),
    focus: judgeFocus(focus, media.frame_count),
  };
}

/** A take's measures with their verdicts, as they are sent and printed. */
export function reportTake(file: string, found: TakeMeasures, delivery: TakeReport['delivery']): TakeReport {
  const verdicts = judgeTake(found, delivery);
  return {
    file,
    take: summariseTake(verdicts, found.presence),
    delivery,
    media: found.media,
    lock: { ...verdicts.lock, ...found.lock },
    light: { ...verdicts.light, ...found.light },
    focus: { ...verdicts.focus, ...found.focus },
    presence: found.presence,
    grain_levels: found.grain_levels,
  };
}

/**
 * The worst of what was judged. A take whose lock is unjudged is unjudged unless something else says reshoot; light
 * and focus that cannot be judged (a wipe covers everything) do not spoil a take by themselves.
 */
export function summariseTake({ lock, light, focus }: TakeVerdicts, presence: PresenceSummary): TakeSummary {
  const worst = worstOf([lock, light, focus].filter((v) => v.verdict !== 'unjudged')) ?? lock;
  const chosen = lock.verdict === 'unjudged' && worst.verdict !== 'reshoot' ? lock : worst;
  const first = chosen.reasons[0];
  const say = (of: { verdict: VerdictWord }, holds: string, other: string) =>
    of.verdict === 'holds' ? holds : of.verdict === 'unjudged' ? `${other} unjudged` : `${other} ${of.verdict}`;
  const clear = presence.clear_runs.length ? `clear ${listRuns(presence.clear_runs)}` : 'never clear';
  const line = [
    say(lock, 'still', 'movement'),
    say(light, 'light steady', 'light'),
    say(focus, 'focus held', 'focus'),
    presence.unjudged ? 'presence unjudged' : clear,
  ].join(' · ');
  return { verdict: chosen.verdict, text: first?.text ?? '', fix: first?.fix ?? null, line };
}
