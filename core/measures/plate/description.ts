import { judgePlate } from './judge';
import type { PlateGap, PlateSource, Run } from '../../report/types';
import type { Measure } from '../../judge/measure';

/** Which plate to make: averaged from a clear run, or stitched when none is given. */
export interface PlateWish {
  run: Run | null;
  /** Whether it keeps one frame's grain. */
  keep_grain: boolean;
}

/** A plate that was made, and how it fits the take it is for. */
export interface PlateResult {
  source: PlateSource;
  comparison: PlateGap;
  width: number;
  height: number;
  bit_depth: 8 | 16;
}

/** A plate made of the first take, held against the second. */
export const PLATE: Measure<PlateWish, PlateResult, PlateResult> = {
  key: 'plate',
  finds: 'an empty picture',
  version: 1,
  reads: 1,
  takes: 2,
  ordered: true,
  alone: true,
  oneSetup: true,
  many: true,
  needs: ['take'],
  uses: [],
  decides: {},
  wish: (joi) => {
    const frame = joi.number().integer().min(0).max(10_000_000).required();
    const run = joi.object({ start: frame, end: frame }).allow(null).default(null);
    return joi.object({ run, keep_grain: joi.boolean().default(false) });
  },
  misfit: ({ run }, [{ media }]) =>
    run && (run.end < run.start || run.end >= media.frame_count)
      ? `The take has frames 0 to ${media.frame_count - 1}; give a run inside them.`
      : null,
  apart: [],
  files: { folder: 'plates', by: 'itself' },
  sorry: 'Making the plate broke off for a reason inside the app. The takes are kept; make it again.',
  judge: ({ comparison }, { takes: [, against] }) => judgePlate(comparison, against.facts.media),
};
