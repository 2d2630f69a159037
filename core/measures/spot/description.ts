import { atDistance, judgeSameSpot, judgeSpot } from './judge';
import type { SpotWish } from './measure';
import type { SpotFound } from '../../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** Where something is in one take at its frame, against what is in another at its own. */
export const SPOT: Measure<SpotWish, SpotFound, SpotFound> = {
  key: 'spot',
  finds: 'whether it starts where the other ended',
  // From 2 on whoever leaves the place where they stood from the first frame is told by the plate.
  version: 6,
  reads: 1,
  takes: 2,
  ordered: true,
  oneSetup: true,
  many: false,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  byLens: true,
  decides: { 'same-spot': decideSpot },
  wish: (joi) => {
    const frame = () => joi.number().integer().min(0).max(10_000_000).allow(null).default(null);
    return joi.object({ at_a: frame(), at_b: frame() });
  },
  misfit: (wish, takes) => {
    const at = [wish.at_a, wish.at_b];
    const wrong = takes.findIndex(({ media }, k) => at[k] !== null && at[k] >= media.frame_count);
    return wrong < 0
      ? null
      : `The ${wrong ? 'second' : 'first'} take has frames 0 to ${takes[wrong].media.frame_count - 1}; give one of them.`;
  },
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Holding the two places against each other broke off for a reason inside the app. Ask for it again.',
  judge: (found, { takes: [first], delivery }) => {
    const { width } = first.facts.media;
    const { focalMm = null, focusM = null, sensorMm = null } = first.camera ?? {};
    return judgeSpot(found, delivery.width / width, undefined, atDistance(focalMm, focusM, sensorMm, width));
  },
};

function decideSpot({ requirement, takes: [a, b], outcomes, delivery }: Asked): Finding | 'pending' {
  const fix = requirement.remedySet;
  if (a.id === b.id) return { verdict: 'unjudged', text: 'both parts stand on one take', fix };
  const made = outcomesOf(outcomes, SPOT).find((o) => o.takes[0] === a.id && o.takes[1] === b.id);
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  if (!made.result) return { verdict: 'unjudged', text: made.failure ?? 'the two places could not be told', fix };
  const said = judgeSameSpot(made.result, delivery.width / a.facts.media.width, requirement.tolerance ?? 20);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? fix) };
}
