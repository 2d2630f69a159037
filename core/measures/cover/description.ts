import { edgesToSet, type HandCover } from './by-hand';
import { isLargeEnough } from './punch';
import { judgeCover, type CoverSummary } from './judge';
import { COVER_REQUIREMENTS } from './requirements';
import type { CoverResult } from '../../report/wipe-types';
import type { Measure } from '../../judge/measure';

/** What may be wished: edges that a person set, or none. */
export interface CoverWish {
  hand: HandCover | null;
}

/** What covers the picture in a take, from when to when, and its edges. */
export const COVER: Measure<CoverWish, CoverResult, CoverSummary> = {
  key: 'cover',
  finds: 'what covers the picture',
  version: 2,
  reads: 1,
  takes: 1,
  ordered: true,
  many: false,
  needs: ['take'],
  uses: [],
  decides: COVER_REQUIREMENTS,
  wish: (joi) => {
    const frame = joi.number().integer().min(0).max(10_000_000).required();
    const place = joi.number().min(-3).max(4).required();
    const key = joi.object({
      frame: frame.messages({ '*': 'A frame is a whole number from 0 on.' }),
      edge: joi
        .string()
        .valid('lead', 'trail', 'left', 'right', 'top', 'bottom')
        .required()
        .messages({ '*': 'This edge is not known.' }),
      from: place.messages({ '*': 'An edge lies within three picture lengths of the picture.' }),
      to: place.messages({ '*': 'An edge lies within three picture lengths of the picture.' }),
    });
    const hand = joi.object({
      kind: joi
        .string()
        .valid('passing', 'panning', 'approaching', 'closing')
        .required()
        .messages({ '*': 'Say what covers the picture: passing, panning, approaching or closing.' }),
      way: joi
        .number()
        .valid(0, 90, 180, 270)
        .required()
        .messages({ '*': 'Say which way the object goes: 0, 90, 180 or 270 degrees.' }),
      keys: joi
        .array()
        .min(1)
        .max(400)
        .required()
        .items(key)
        .messages({ 'array.min': 'Set the edge in one frame at least.' }),
    });
    return joi.object({ hand: hand.allow(null).default(null) });
  },
  misfit: ({ hand }, [{ media }]) => {
    if (!hand) return null;
    const last = media.frame_count - 1;
    if (hand.keys.some((k) => k.frame > last)) return `The take has frames 0 to ${last}; set the edge in one of them.`;
    const edges = edgesToSet(hand.kind);
    if (hand.keys.some((k) => !edges.includes(k.edge))) return `For this kind of cover set: ${edges.join(', ')}.`;
    return null;
  },
  apart: ['path', 'edges'],
  files: { folder: 'wipes', by: 'take' },
  sorry: 'Looking for what covers the picture broke off for a reason inside the app. Ask for it again.',
  atDelivery: (found, { takes: [{ facts }], delivery }) => ({
    ...found,
    punch_in: found.punch_in && {
      ...found.punch_in,
      allowed: isLargeEnough(facts.media, found.punch_in.scale, delivery),
    },
  }),
  judge: (found, { takes: [{ facts }] }) => judgeCover(found, facts.media.width, facts.media.frame_count),
};
