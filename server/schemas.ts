import Joi from 'joi';

/** What each request may contain. Everything else is refused with a sentence. */
const name = Joi.string().trim().min(1).max(120).required().messages({
  'any.required': 'A name is missing.', 'string.empty': 'A name is missing.', 'string.max': 'The name is longer than 120 characters.',
});
const id = Joi.string().guid().required().messages({ '*': 'The address is not complete: its id is not valid.' });

export const idParams = Joi.object({ id });
export const frameParams = Joi.object({ id, frame: Joi.number().integer().min(0).max(10_000_000).required() });

export const newShoot = Joi.object({
  name,
  place: Joi.string().trim().allow('').max(200).default(''),
  delivery_width: Joi.number().integer().min(16).max(16384).default(1920),
  delivery_height: Joi.number().integer().min(16).max(16384).default(1080),
  delivery_fps: Joi.number().min(1).max(1000).default(25),
});

export const SCENES = ['kiosk', 'pillar', 'bench'] as const;

export const newSetup = Joi.object({
  name,
  notes: Joi.string().trim().allow('').max(2000).default(''),
  scene: Joi.string().valid(...SCENES).default('kiosk'),
  parts: Joi.array().max(20).default([]).items(Joi.object({
    name, what: Joi.string().trim().allow('').max(500).default(''), optional: Joi.boolean().default(false),
  })),
});

export const newPart = Joi.object({
  name, what: Joi.string().trim().allow('').max(500).default(''), optional: Joi.boolean().default(false),
});

export const newTake = Joi.object({
  upload_id: Joi.string().pattern(/^[0-9a-f]{32}$/).required().messages({ '*': 'The upload is not known. Choose the file again.' }),
  name: Joi.string().trim().min(1).max(255).required(),
});

export const circle = Joi.object({ circled: Joi.boolean().required() });

export const rollSettings = Joi.object({
  tripod: Joi.string().valid('still', 'drift', 'knock', 'handheld', 'breathing').default('still'),
  crossing: Joi.string().valid('nobody', 'left-to-right', 'right-to-left', 'stands').default('nobody'),
  seconds: Joi.number().min(1).max(30).default(6),
  fps: Joi.number().valid(24, 25, 30, 50).default(25),
  width: Joi.number().valid(1280, 1920).default(1280),
  grain: Joi.number().min(0).max(12).default(2),
  seed: Joi.number().integer().min(1).max(2 ** 31 - 1).default(1),
});
