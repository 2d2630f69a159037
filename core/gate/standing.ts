import type { WorkState } from '../judge/measure';
import type { VerdictWord } from '../report/types';
import { VERDICT_ORDER } from '../judge/verdicts';

/** What tells which of several takes a part stands on. */
export interface RolledTake {
  number: number;
  circled: boolean;
  state: WorkState;
  /** The verdict on it for what it is for; null until it is measured. */
  judged: { verdict: VerdictWord } | null;
}

/** The take a part stands on: the circled one, else the best verdict, the later of equals. */
export function standingTake<T extends RolledTake>(takes: readonly T[]): T | null {
  const circled = takes.find((t) => t.circled);
  if (circled) return circled;
  const rank = (t: RolledTake) => (t.judged ? VERDICT_ORDER.indexOf(t.judged.verdict) : t.state === 'failed' ? -2 : -1);
  return takes.reduce<T | null>((best, t) => {
    if (!best) return t;
    return rank(t) > rank(best) || (rank(t) === rank(best) && t.number > best.number) ? t : best;
  }, null);
}
