import { judgeSharpAt, judgeStills } from './judge';
import type { StillsFound } from '../../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** How many frames are wanted. */
export interface StillsWish {
  count: number;
}

/** The frames of a take worth holding: whole, sharp, and by how much they are smeared. */
export const STILLS: Measure<StillsWish, StillsFound, StillsFound> = {
  key: 'stills',
  finds: 'which frames can be held',
  // From 2 on the cut-outs are kept, and smears are those of one shutter.
  version: 6,
  reads: 1,
  takes: 1,
  ordered: false,
  many: false,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { 'sharp-at': decideSharp },
  wish: (joi) => joi.object({ count: joi.number().integer().min(1).max(24).default(6) }),
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Looking for frames to hold broke off for a reason inside the app. Ask for it again.',
  judge: (found) => judgeStills(found),
};

function decideSharp({ requirement, takes: [take], outcomes, delivery }: Asked): Finding | 'pending' {
  const made = outcomesOf(outcomes, STILLS).find((o) => o.takes.includes(take.id));
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  const fix = requirement.remedySet;
  if (!made.result) return { verdict: 'unjudged', text: made.failure ?? 'how sharp it is could not be told', fix };
  const said = judgeSharpAt(made.result, requirement.tolerance ?? 4, delivery.width / take.facts.media.width);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? fix) };
}
