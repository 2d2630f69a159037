import { DRAW_IT } from '../compare/requirements';
import { judgeKeptFree, judgePulled, judgeStaysIn, judgeZone } from './judge';
import type { ZoneFound } from '../../report/zone-types';
import type { Requirement } from '../../tricks/types';
import type { Zone } from '../../tricks/zones';
import { cornersWish } from '../../judge/corners';
import { outcomesOf, type Asked, type Finding, type JudgedTake, type Measure } from '../../judge/measure';
import { worstOf } from '../../judge/verdicts';

/** The zone's corners, shares of the picture's width and height. */
export interface ZoneWish {
  zone: Zone | null;
}

type ZoneSummary = Omit<ZoneFound, 'path'>;

/** A zone of the picture: who enters it, what light falls into it, who shows outside it, and whether its edge can be read. */
export const ZONE: Measure<ZoneWish, ZoneFound, ZoneSummary> = {
  key: 'zone',
  finds: 'what enters the zone',
  // From 2 on whoever leaves the place where they stood from the first frame is told by the plate; from 3 on what is pulled
  // out of the zone is told.
  version: 6,
  reads: 1,
  takes: 1,
  ordered: false,
  // One take may have a zone for each of its tricks.
  many: true,
  needs: ['take'],
  uses: [],
  byPlate: true,
  byOutlines: true,
  decides: { 'zone-free': decideZone, 'zone-till-pulled': decideZone, 'inside-zone': decideZone },
  wishFor: ({ zone }) => (zone ? { zone } : null),
  wish: (joi) => joi.object({ zone: cornersWish(joi, 'A zone') }),
  apart: ['path'],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Watching the zone broke off for a reason inside the app. Draw it again.',
  judge: (found, { takes: [{ facts }] }) => judgeZone({ ...found, path: { share: [], gap_px: [] } }, facts.media.width),
};

function decideZone(asked: Asked): Finding | 'pending' {
  const { requirement: r, takes } = asked;
  if (!r.zone) return { verdict: 'unjudged', text: 'no zone is drawn yet', fix: DRAW_IT };
  const found = takes.map((t) => ofTake(asked, t));
  const known = found.filter((f) => f !== 'pending');
  const worst = worstOf(known);
  return known.length < found.length && worst?.verdict !== 'reshoot' ? 'pending' : (worst ?? 'pending');
}

/** What a requirement says of a take whose zone was watched. @param name the take's, for the sentence */
export function saidOfZone(
  { kind, remedySet }: Pick<Requirement, 'kind' | 'remedySet'>,
  found: ZoneSummary,
  name: string,
  width: number,
): Finding {
  const whole = { ...found, path: { share: [], gap_px: [] } };
  const said =
    kind === 'zone-free'
      ? judgeKeptFree(whole, name, width)
      : kind === 'inside-zone'
        ? judgeStaysIn(whole, name)
        : judgePulled(whole, name);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? remedySet) };
}

function ofTake({ requirement: r, outcomes }: Asked, take: JudgedTake): Finding | 'pending' {
  const drawn = JSON.stringify(r.zone);
  const made = outcomesOf(outcomes, ZONE).find(
    (o) => o.takes.includes(take.id) && JSON.stringify((o.wish as ZoneWish | undefined)?.zone) === drawn,
  );
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  if (!made.result)
    return { verdict: 'unjudged', text: made.failure ?? 'the zone could not be watched', fix: r.remedySet };
  const name = take.unnamed ? 'The zone' : `${take.name}, take ${take.number}`;
  return saidOfZone(r, made.result, name, take.facts.media.width);
}
