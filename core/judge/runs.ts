import type { Run } from '../report/types';

/** The longest of some runs, the first of equals; null for none. */
export function longestRun(runs: readonly Run[]): Run | null {
  return runs.reduce<Run | null>((a, b) => (a && a.end - a.start >= b.end - b.start ? a : b), null);
}

/** "0 to 27, 121 to 149", the longest three, or so many, in order of time. */
export function listRuns(runs: readonly Run[], most = 3): string {
  const longest = [...runs]
    .sort((a, b) => b.end - b.start - (a.end - a.start))
    .slice(0, most)
    .sort((a, b) => a.start - b.start);
  return (
    longest.map((r) => (r.start === r.end ? `${r.start}` : `${r.start} to ${r.end}`)).join(', ') +
    (runs.length > most ? ' and more' : '')
  );
}
