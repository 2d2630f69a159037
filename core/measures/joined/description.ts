import { planJoined, type JoinedPlan } from './plan-joined';
import { JOINED_HOWS, missingOf } from './joining-ways';
import type { GlidingLine, JoinedWish } from './joined';
import type { Measure } from '../../judge/measure';

/** A proof of two joined takes that was made: its size, rate and, for each of its frames, those of both. */
export interface JoinedResult extends JoinedPlan {
  width: number;
  height: number;
  frames: number;
  fps: number;
  /** How far the second was moved, source pixels, and made brighter, stops; older proofs have none. */
  even?: { px: number; stops: number };
}

/** Two takes of one setup joined in one picture, as a small film. */
export const JOINED: Measure<JoinedWish, JoinedResult, Omit<JoinedResult, 'first' | 'second'>> = {
  key: 'joined',
  finds: 'how two takes look joined',
  version: 1,
  reads: 1,
  takes: 2,
  ordered: true,
  oneSetup: true,
  many: true,
  needs: ['take'],
  uses: [],
  byPlate: 'once',
  decides: {},
  wish: (joi) => {
    const frame = joi
      .number()
      .integer()
      .min(0)
      .max(10_000_000)
      .messages({ '*': 'A frame is a whole number from 0 on.' });
    const place = joi
      .array()
      .length(2)
      .items(joi.number().min(-100_000).max(100_000))
      .messages({ '*': 'A place is two numbers, x and y in pixels.' });
    const side = joi
      .string()
      .valid('left', 'right', 'top', 'bottom')
      .required()
      .messages({ '*': 'Say on which side of the line the first lies: left, right, top or bottom.' });
    const line = joi.object({
      points: joi
        .array()
        .min(2)
        .max(500)
        .items(place)
        .required()
        .messages({ 'array.min': 'A line has two points at least.', 'array.max': 'A line has 500 points at most.' }),
      first_side: side,
    });
    const feather = joi.number().min(0).max(5000).messages({ '*': 'Give the feather in pixels, 0 to 5000.' });
    const places = joi.array().min(2).max(500).items(place).required();
    const eases = joi.object({ start: frame.required(), end: frame.required() }).allow(null);
    const strength = joi.object({
      frame: frame.required(),
      pct: joi.number().min(0).max(100).required().messages({ '*': 'Give the strength in per cent, 0 to 100.' }),
    });
    return joi.object({
      how: joi
        .string()
        .valid(...JOINED_HOWS)
        .default('through')
        .messages({
          '*':
            'Two takes are joined by a line, a switch, a cut, a cloth, the edge of hands, seen through, in an opening, held, ' +
            'cut out, or one over the other.',
        }),
      slide: joi
        .number()
        .integer()
        .min(-10_000_000)
        .max(10_000_000)
        .default(0)
        .messages({ '*': 'A slide is a whole number of frames.' }),
      from: frame.default(0),
      line: line.allow(null).default(null),
      moves: joi
        .array()
        .max(50)
        .items(line.keys({ start: frame.required(), end: frame.required(), ease_in: eases, ease_out: eases }))
        .default([]),
      glides: joi
        .array()
        .max(50)
        .items(
          joi
            .object({
              start: frame.required(),
              end: frame.required(),
              from: places,
              to: places,
              first_side: side,
              feather_px: feather.required(),
            })
            .custom((g: GlidingLine) => {
              if (g.from.length !== g.to.length) throw new Error('A line that moves has as many points at both ends.');
              return g;
            }),
        )
        .default([]),
      feather_px: feather.default(0),
      at: frame.allow(null).default(null),
      strength: joi
        .array()
        .max(200)
        .items(strength)
        .default([{ frame: 0, pct: 50 }]),
      outline: joi
        .array()
        .min(3)
        .max(500)
        .items(place)
        .allow(null)
        .default(null)
        .messages({ 'array.min': 'An outline has three corners at least.' }),
      lift_stops: joi
        .number()
        .min(-6)
        .max(6)
        .default(0)
        .messages({ '*': 'Light is lifted by at most 6 stops either way.' }),
      rate_pct: joi
        .number()
        .min(10)
        .max(1000)
        .default(100)
        .messages({ '*': 'Give the speed in per cent of real, 10 to 1000.' }),
      front: joi
        .string()
        .valid('first', 'second')
        .default('first')
        .messages({ '*': 'Say which of the two lies over the other: first or second.' }),
      even: joi
        .boolean()
        .default(true)
        .messages({ '*': 'Say whether the second is laid on the first, in its light: true or false.' }),
    });
  },
  misfit: (wish, [first, second]) => {
    const missing = missingOf(wish);
    if (missing) return missing.sentence;
    const count = { first: first.media.frame_count, second: second.media.frame_count };
    return planJoined(wish, count)
      ? null
      : 'Slid so far, no frame of the one meets a frame of the other. Slide it back.';
  },
  apart: ['first', 'second'],
  files: { folder: 'joined', by: 'itself' },
  sorry: 'The proof broke off for a reason inside the app. The takes are kept; make it again.',
};
