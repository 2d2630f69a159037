import { judgeCloth, judgeClothHides } from './judge';
import type { ClothFound } from '../../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** A place on the cloth in one frame, shares of the picture; null where it is told by itself. */
export interface ClothWish {
  look: { x: number; y: number; frame: number } | null;
}

type Summary = Omit<ClothFound, 'path'>;

/** A cloth behind which somebody vanishes: what it hides, when, how it falls, and what shows beside it. */
export const CLOTH: Measure<ClothWish, ClothFound, Summary> = {
  key: 'cloth',
  finds: 'what the cloth hides',
  // From 2 on a cloth's own rim and shadow are none of the performer.
  version: 6,
  reads: 1,
  takes: 1,
  ordered: false,
  many: false,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { 'cloth-hides': decideCloth },
  wish: (joi) => {
    const share = () => joi.number().min(0).max(1).required();
    const look = joi.object({
      x: share(),
      y: share(),
      frame: joi.number().integer().min(0).max(10_000_000).required(),
    });
    return joi.object({ look: look.allow(null).default(null) });
  },
  misfit: ({ look }, [{ media }]) =>
    look && look.frame >= media.frame_count
      ? `The take has frames 0 to ${media.frame_count - 1}; point at the cloth in one of them.`
      : null,
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Telling the cloth from the performer broke off for a reason inside the app. Ask for it again.',
  judge: (found) => judgeCloth({ ...found, path: NO_PATH }),
};

const NO_PATH = { lower_edge_px: [], upper_edge_px: [], cloth_share: [], performer_share: [] };

function decideCloth({ requirement, takes: [take], outcomes }: Asked): Finding | 'pending' {
  const made = outcomesOf(outcomes, CLOTH).find((o) => o.takes.includes(take.id));
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  const fix = requirement.remedySet;
  if (!made.result) return { verdict: 'unjudged', text: made.failure ?? 'what it hides could not be told', fix };
  const said = judgeClothHides({ ...made.result, path: NO_PATH }, requirement.tolerance ?? 1);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? fix) };
}
