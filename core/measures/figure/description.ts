import { judgeCutOut, judgeDrift, judgeFigure, type FigureSummary } from './judge';
import type { FigureFound } from '../../report/figure-types';
import type { Zone } from '../../tricks/zones';
import { cornersWish } from '../../judge/corners';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** Where the thing is, drawn round; whoever is in where nothing is drawn. */
export interface FigureWish {
  zone: Zone | null;
}

/** A held or hung thing, or somebody who jumps: how far it drifts, when it is off the ground, how clearly it stands out. */
export const FIGURE: Measure<FigureWish, FigureFound, FigureSummary> = {
  key: 'figure',
  finds: 'how it hangs or jumps',
  version: 5,
  reads: 1,
  takes: 1,
  ordered: false,
  // Round one thing, and of whoever jumps.
  many: true,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { 'drifts-little': decideFigure, 'cut-out-frames': decideFigure },
  wishFor: ({ kind, zone }) => ({ zone: kind === 'drifts-little' ? (zone ?? null) : null }),
  wish: (joi) => joi.object({ zone: cornersWish(joi, 'What is drawn') }),
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Looking at the figure broke off for a reason inside the app. Ask for it again.',
  judge: (found) => judgeFigure(found, 100),
};

function decideFigure({ requirement: r, takes: [take], outcomes, speedPct }: Asked): Finding | 'pending' {
  const drawn = JSON.stringify(FIGURE.wishFor!(r));
  const made = outcomesOf(outcomes, FIGURE).find((o) => o.takes.includes(take.id) && JSON.stringify(o.wish) === drawn);
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  if (!made.result) return { verdict: 'unjudged', text: made.failure ?? 'it could not be told', fix: r.remedySet };
  const said =
    r.kind === 'drifts-little'
      ? judgeDrift(made.result, r.tolerance ?? 10, speedPct ?? 100)
      : judgeCutOut(made.result, r.tolerance ?? 8);
  const own = said.verdict === 'reshoot' ? r.remedySet : said.verdict === 'workable' ? r.remedyEdit : null;
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? own) };
}
