import { judgeHidden, judgeHide } from './judge';
import type { HideFound } from '../../report/hide-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** At which frame the plate is to take over; null for where they are hidden the longest. */
export interface HideWish {
  at: number | null;
}

/** Somebody who goes behind something fixed and is gone: when, behind what, and the line that joins take and plate. */
export const HIDE: Measure<HideWish, HideFound, Omit<HideFound, 'path'>> = {
  key: 'hide',
  finds: 'when somebody is hidden whole',
  // From 2 on whoever leaves the place where they stood from the first frame is told by the plate.
  version: 6,
  reads: 1,
  takes: 1,
  ordered: false,
  many: false,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { 'hidden-at': decideHidden },
  wish: (joi) => joi.object({ at: joi.number().integer().min(0).max(10_000_000).allow(null).default(null) }),
  misfit: ({ at }, [{ media }]) =>
    at !== null && at >= media.frame_count
      ? `The take has frames 0 to ${media.frame_count - 1}; give one of them.`
      : null,
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Looking for when they are hidden broke off for a reason inside the app. Ask for it again.',
  judge: (found, { takes: [{ facts }], delivery }) =>
    judgeHide({ ...found, path: { shown_share: [] } }, { size: facts.media, delivery, plate: false }),
};

function decideHidden({ requirement, takes: [take], outcomes }: Asked): Finding | 'pending' {
  const made = outcomesOf(outcomes, HIDE).find((o) => o.takes.includes(take.id));
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  const fix = requirement.remedySet;
  if (!made.result) return { verdict: 'unjudged', text: made.failure ?? 'when they are hidden could not be told', fix };
  const found = { ...made.result, path: { shown_share: [] } };
  const said = judgeHidden(found, requirement.tolerance ?? 1, take.facts.media.width);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? fix) };
}
