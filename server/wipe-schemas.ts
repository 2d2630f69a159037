import Joi from 'joi';

const take = Joi.string().guid().messages({ '*': 'A take is missing or its id is not valid.' });
const frame = Joi.number().integer().min(0).max(10_000_000).messages({ '*': 'A frame is a whole number from 0 on.' });
const place = Joi.number()
  .min(-3)
  .max(4)
  .required()
  .messages({ '*': 'An edge lies within three picture lengths of the picture.' });

export const sidesQuery = Joi.object({ out: take.allow(null).default(null), in: take.allow(null).default(null) });

export const twoSides = Joi.object({
  out_id: take.required(),
  in_id: take.required().invalid(Joi.ref('out_id')).messages({ 'any.invalid': 'Choose two different takes.' }),
});

/** Edges set by hand; null takes them away. */
export const handEdges = Joi.object({
  hand: Joi.object({
    kind: Joi.string()
      .valid('passing', 'panning', 'approaching', 'closing')
      .required()
      .messages({ '*': 'Say what covers the picture: passing, panning, approaching or closing.' }),
    way: Joi.number()
      .valid(0, 90, 180, 270)
      .required()
      .messages({ '*': 'Say which way the object goes: 0, 90, 180 or 270 degrees.' }),
    keys: Joi.array()
      .min(1)
      .max(400)
      .required()
      .items(
        Joi.object({
          frame: frame.required(),
          edge: Joi.string()
            .valid('lead', 'trail', 'left', 'right', 'top', 'bottom')
            .required()
            .messages({ '*': 'This edge is not known.' }),
          from: place,
          to: place,
        }),
      )
      .messages({ 'array.min': 'Set the edge in one frame at least.' }),
  })
    .allow(null)
    .required()
    .messages({ 'any.required': 'Send the edges that were set, or null to take them away.' }),
});

export const newProof = Joi.object({
  out_id: take.required(),
  in_id: take.required().invalid(Joi.ref('out_id')).messages({ 'any.invalid': 'Choose two different takes.' }),
  at: frame.allow(null).default(null),
  in_start: frame.default(0),
  speed_pct: Joi.number()
    .min(10)
    .max(1000)
    .default(100)
    .messages({ '*': 'Give the speed of the in side in per cent, 10 to 1000.' }),
  mirror: Joi.boolean().default(false),
  feather_px: Joi.number()
    .min(0)
    .max(2000)
    .allow(null)
    .default(null)
    .messages({ '*': 'Give the feather in pixels, 0 to 2000.' }),
  mode: Joi.string().valid('behind', 'instead', 'cut').allow(null).default(null),
});

export const proofFile = Joi.object({
  as: Joi.string().valid('mp4', 'webm').default('mp4'),
  save: Joi.boolean().default(false),
});
