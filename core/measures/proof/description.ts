import type { ProofPlan, ProofWish } from '../cut/proof-plan';
import type { Measure } from '../../judge/measure';

/** A proof that was made: its plan, and for each of its frames the out side's and the in side's. */
export type ProofResult = Omit<ProofPlan, 'frames'> & {
  width: number;
  height: number;
  frames: number;
  out: number[];
  in: (number | null)[];
};

/** The in side (second take) appearing behind what covers the out side (first), as a small film. */
export const PROOF: Measure<ProofWish, ProofResult, ProofResult> = {
  key: 'proof',
  finds: 'how a cut looks',
  version: 1,
  reads: 1,
  takes: 2,
  ordered: true,
  many: true,
  needs: ['take', 'cover'],
  uses: [],
  decides: {},
  wish: (joi) => {
    const frame = joi
      .number()
      .integer()
      .min(0)
      .max(10_000_000)
      .messages({ '*': 'A frame is a whole number from 0 on.' });
    return joi.object({
      at: frame.allow(null).default(null),
      in_start: frame.default(0),
      speed_pct: joi
        .number()
        .min(10)
        .max(1000)
        .default(100)
        .messages({ '*': 'Give the speed of the in side in per cent, 10 to 1000.' }),
      mirror: joi.boolean().default(false),
      feather_px: joi
        .number()
        .min(0)
        .max(2000)
        .allow(null)
        .default(null)
        .messages({ '*': 'Give the feather in pixels, 0 to 2000.' }),
      mode: joi.string().valid('behind', 'instead', 'cut').allow(null).default(null),
    });
  },
  misfit: ({ at, in_start: start }, [out, into]) => {
    const last = (t: typeof out) => t.media.frame_count - 1;
    if (at !== null && at !== undefined && at > last(out))
      return `The out side has frames 0 to ${last(out)}; cut at one of them.`;
    return start > last(into) ? `The in side has frames 0 to ${last(into)}; begin with one of them.` : null;
  },
  apart: ['out', 'in'],
  files: { folder: 'wipes', by: 'itself' },
  sorry: 'The proof broke off for a reason inside the app. The takes are kept; make it again.',
};
