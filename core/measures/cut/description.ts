import { compareSides } from './measure';
import { judgeCut } from './judge';
import { CUT_REQUIREMENTS } from './requirements';
import type { CutMeasure } from '../../report/wipe-types';
import type { Measure } from '../../judge/measure';

/** How the pictures move on both sides of a cut: out side first. */
export const CUT: Measure<object, CutMeasure, CutMeasure> = {
  key: 'cut',
  finds: 'how both sides of a cut move',
  version: 1,
  reads: 1,
  takes: 2,
  ordered: true,
  many: false,
  needs: ['take'],
  uses: ['cover'],
  decides: CUT_REQUIREMENTS,
  wish: (joi) => joi.object({}),
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Holding the two sides against each other broke off for a reason inside the app. Ask for it again.',
  atDelivery: ({ out, in: into, rate }, { delivery }) =>
    compareSides(out, into, { out: rate.out_fps, in: rate.in_fps, delivery: delivery.fps }),
  judge: (found, { takes: [out, into] }) => judgeCut(found, { out: out.shutterS, in: into.shutterS }),
};
