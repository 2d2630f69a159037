import { judgeApart, judgePair } from './judge';
import type { PairFound } from '../../report/pair-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** Two passes of one setup: who is where in both, and what parts them. */
export const PAIR: Measure<object, PairFound, Omit<PairFound, 'path'>> = {
  key: 'pair',
  finds: 'where two passes meet',
  // From version 3 on it keeps what lines drawn by hand are held against, from 5 on how a line
  // moves from place to place, from 9 on light thrown over the line and a floor that mirrors somebody.
  version: 9,
  reads: 2,
  takes: 2,
  ordered: false,
  oneSetup: true,
  many: false,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { apart: decideApart },
  wish: (joi) => joi.object({}),
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Holding the two passes against each other broke off for a reason inside the app. Ask for it again.',
  judge: (found, { takes: [first], delivery }) =>
    judgePair({ ...found, path: { gap_px: [] } }, { size: first.facts.media, delivery }),
};

function decideApart({ requirement, takes: [a, b], outcomes }: Asked): Finding | 'pending' {
  if (a.id === b.id) return { verdict: 'unjudged', text: 'both passes stand on one take', fix: requirement.remedySet };
  const pair = outcomesOf(outcomes, PAIR).find((o) => o.takes.includes(a.id) && o.takes.includes(b.id));
  if (!pair || pair.state === 'waiting' || pair.state === 'working') return 'pending';
  if (!pair.result) {
    const why = pair.failure ?? 'the reason is not known';
    return {
      verdict: 'unjudged',
      text: `${a.name} and ${b.name} could not be compared: ${why}`,
      fix: requirement.remedySet,
    };
  }
  const named = (id: string) => {
    const { name, number } = id === a.id ? a : b;
    return `${name}, take ${number}`;
  };
  const [first, second] = pair.takes;
  const found = { ...pair.result, path: { gap_px: [] } };
  return judgeApart(found, [named(first), named(second)], requirement.tolerance ?? 0, a.facts.media);
}
