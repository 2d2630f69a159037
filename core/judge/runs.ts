import type { Run } from '../report/types';

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
