import type { Run, TakeReport, VerdictWord } from '../report/types';

/** A take's state as lists show it: the verdict on the take by itself, its first sentence and remedy, and all of it in one line. */
export interface TakeSummary {
  verdict: VerdictWord;
  text: string;
  fix: string | null;
  line: string;
}

const ORDER: VerdictWord[] = ['reshoot', 'workable', 'holds'];

/**
 * The worst of what was judged. A take whose lock is unjudged is unjudged unless something else says reshoot; light
 * and focus that cannot be judged (a wipe covers everything) do not spoil a take by themselves.
 */
export function summariseTake(report: Pick<TakeReport, 'lock' | 'light' | 'focus' | 'presence'>): TakeSummary {
  const { lock, light, focus, presence } = report;
  const judged = [lock, light, focus].filter((v) => v.verdict !== 'unjudged');
  const worst = judged.reduce(
    (a, b) => (ORDER.indexOf(b.verdict) < ORDER.indexOf(a.verdict) ? b : a),
    judged[0] ?? lock,
  );
  const chosen = lock.verdict === 'unjudged' && worst.verdict !== 'reshoot' ? lock : worst;
  const first = chosen.reasons[0];
  const say = (of: { verdict: VerdictWord }, holds: string, other: string) =>
    of.verdict === 'holds' ? holds : of.verdict === 'unjudged' ? `${other} unjudged` : `${other} ${of.verdict}`;
  const line = [
    say(lock, 'still', 'movement'),
    say(light, 'light steady', 'light'),
    say(focus, 'focus held', 'focus'),
    presence.unjudged
      ? 'presence unjudged'
      : presence.clear_runs.length
        ? `clear ${listRuns(presence.clear_runs)}`
        : 'never clear',
  ].join(' · ');
  return { verdict: chosen.verdict, text: first?.text ?? '', fix: first?.fix ?? null, line };
}

/** "0 to 27, 121 to 149", the longest three in order of time. */
export function listRuns(runs: readonly Run[]): string {
  const longest = [...runs]
    .sort((a, b) => b.end - b.start - (a.end - a.start))
    .slice(0, 3)
    .sort((a, b) => a.start - b.start);
  return (
    longest.map((r) => (r.start === r.end ? `${r.start}` : `${r.start} to ${r.end}`)).join(', ') +
    (runs.length > 3 ? ' and more' : '')
  );
}
