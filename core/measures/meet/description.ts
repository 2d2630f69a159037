import { wayInWords } from '../cover/judge';
import { judgeMeet } from './judge';
import type { MeetFound } from '../../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** Where the vehicle is to arrive, shares of the picture, and its speed in the edit; null for what is measured. */
export interface MeetWish {
  at: { x: number; y: number } | null;
  rate_pct: number | null;
}

/** A performer who reacts, and a vehicle that never met them: laid together. The performer's take first. */
export const MEET: Measure<MeetWish, MeetFound, MeetFound> = {
  key: 'meet',
  finds: 'when the two would meet',
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
  decides: { 'opposite-direction': decideOpposed },
  wish: (joi) => {
    const share = () => joi.number().min(0).max(1).required();
    const rate = joi.number().min(10).max(2000).messages({ '*': 'Give the speed in per cent of real, 10 to 2000.' });
    return joi.object({
      at: joi.object({ x: share(), y: share() }).allow(null).default(null),
      rate_pct: rate.allow(null).default(null),
    });
  },
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Laying the two together broke off for a reason inside the app. Ask for it again.',
  judge: judgeMeet,
};

function decideOpposed({ requirement: r, takes: [a, b], outcomes }: Asked): Finding | 'pending' {
  const fix = r.remedySet;
  if (a.id === b.id) return { verdict: 'unjudged', text: 'both parts stand on one take', fix };
  const made = outcomesOf(outcomes, MEET).find((o) => o.takes[0] === a.id && o.takes[1] === b.id);
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  const ways = [made.result?.a_direction_deg ?? null, made.result?.b_direction_deg ?? null];
  const without = [a.name, b.name].filter((_, k) => ways[k] === null);
  if (!made.result || made.result.unjudged || without.length > 0) {
    const unknown = `which way it goes could not be told in ${without.join(', ')}`;
    return { verdict: 'unjudged', text: made.failure ?? made.result?.unjudged?.replace(/\.$/, '') ?? unknown, fix };
  }
  const [one, other] = ways as [number, number],
    limit = r.tolerance ?? 60;
  const off = 180 - Math.abs(((one - other + 540) % 360) - 180);
  const text =
    `${a.name} goes ${wayInWords(one)}, ${b.name} ${wayInWords(other)}: ${off.toFixed(0)}° ` +
    `from opposite; ${limit}° are allowed`;
  if (off <= limit) return { verdict: 'holds', text, fix: null };
  const mirrored = off > 90 && r.remedyEdit;
  return { verdict: mirrored ? 'workable' : 'reshoot', text, fix: mirrored || fix };
}
