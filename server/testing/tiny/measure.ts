import type { Measure } from '../../../core/judge/measure';

/** What the tiny measure finds: how long a take is, and how bright its picture was in each frame. */
export interface Tiny {
  frames: number;
  path: { levels: number[] };
}

export type TinySummary = Omit<Tiny, 'path'>;

/** Judges the tiny measure: beats are marked in a take that is long enough. */
export function judgeTiny({ frames }: TinySummary, limit: number) {
  const text = `${frames} frames, ${limit} are asked for`;
  return frames >= limit
    ? { verdict: 'holds' as const, text, fix: null }
    : { verdict: 'reshoot' as const, text, fix: 'Roll longer.' };
}

/** A measure as somebody would add it: it decides a kind of requirement. */
export const TINY: Measure<{ least: number }, Tiny, TinySummary> = {
  key: 'tiny',
  finds: 'how long it is',
  version: 1,
  reads: 1,
  takes: 1,
  ordered: true,
  many: false,
  needs: ['take'],
  uses: [],
  decides: {
    'beats-marked': ({ takes: [take], outcomes }) => {
      const found = outcomes.find((o) => o.measure === 'tiny' && o.takes[0] === take.id);
      if (!found?.result) return 'pending';
      return judgeTiny(found.result as TinySummary, 10);
    },
  },
  wish: (joi) => joi.object({ least: joi.number().integer().min(1).default(10) }),
  misfit: ({ least }, [{ media }]) => (least > media.frame_count ? `The take has ${media.frame_count} frames.` : null),
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Counting broke off for a reason inside the app. Ask for it again.',
  judge: (found) => {
    const { verdict, text, fix } = judgeTiny(found, 10);
    return {
      verdict,
      reasons: [{ code: 'tiny', text, frames: [], value: found.frames, limit: 10, fix }],
      deciding: [],
    };
  },
};
