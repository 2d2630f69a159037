import { PAIR_REQUIREMENTS } from './requirements';
import { judgePlate } from '../plate/judge';
import type { PlateGap } from '../../report/types';
import type { Measure } from '../../judge/measure';

/** One take held against another of its setup, as if the second were the plate of the first. */
export const COMPARE: Measure<object, PlateGap, PlateGap> = {
  key: 'compare',
  finds: 'what lies between two takes',
  version: 5,
  reads: 1,
  takes: 2,
  ordered: false,
  oneSetup: true,
  many: false,
  needs: ['take'],
  uses: [],
  decides: PAIR_REQUIREMENTS,
  wish: (joi) => joi.object({}),
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'comparing broke off for a reason inside the app.',
  judge: (gap, { takes: [take] }) => judgePlate(gap, take.facts.media),
};
