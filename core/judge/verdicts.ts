import type { VerdictWord } from '../report/types';

/** Every verdict, the worst first. What could not be judged is worse than what the edit can mend. */
export const VERDICT_ORDER: readonly VerdictWord[] = ['reshoot', 'unjudged', 'workable', 'holds'];

/** Verdicts as they are read. */
export const VERDICT_WORDS: Record<VerdictWord, string> = {
  holds: 'Holds',
  workable: 'Workable',
  reshoot: 'Reshoot',
  unjudged: 'Unjudged',
};

/** Sorts verdicts, the worst first. */
export function byWorst(a: VerdictWord, b: VerdictWord): number {
  return VERDICT_ORDER.indexOf(a) - VERDICT_ORDER.indexOf(b);
}

/** The first of the worst; null when there is none. */
export function worstOf<T extends { verdict: VerdictWord }>(all: readonly T[]): T | null {
  return all.reduce<T | null>((a, b) => (!a || byWorst(b.verdict, a.verdict) < 0 ? b : a), null);
}
