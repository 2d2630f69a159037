import Joi from 'joi';

/** What each request may contain. Everything else is refused with a sentence. */
const name = Joi.string()
  .trim()
  .min(1)
  .max(120)
  .required()
  .messages({
    'any.required': 'A name is missing.',
    'string.empty': 'A name is missing.',
    'string.max': 'The name is longer than 120 characters.',
  });
const id = Joi.string().guid().required().messages({ '*': 'The address is not complete: its id is not valid.' });

export const idParams = Joi.object({ id });
export const frameParams = Joi.object({ id, frame: Joi.number().integer().min(0).max(10_000_000).required() });

const size = Joi.number().integer().min(16).max(16384);
const day = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .messages({ '*': 'Write each day like 2027-10-05.' });

const shootFields = {
  name,
  place: Joi.string().trim().allow('').max(200),
  delivery_width: size,
  delivery_height: size,
  delivery_fps: Joi.number().min(1).max(1000),
  latitude: Joi.number().min(-90).max(90).allow(null),
  longitude: Joi.number().min(-180).max(180).allow(null),
  time_zone: Joi.string()
    .max(60)
    .custom((zone: string, helpers) => (isZone(zone) ? zone : helpers.error('any.invalid')))
    .messages({ 'any.invalid': 'The time zone is not known. Write it like Europe/Oslo.' }),
  days: Joi.array().items(day).max(60).unique(),
};

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

export const newShoot = Joi.object({
  ...shootFields,
  place: shootFields.place.default(''),
  delivery_width: size.default(1920),
  delivery_height: size.default(1080),
  delivery_fps: shootFields.delivery_fps.default(25),
  latitude: shootFields.latitude.default(null),
  longitude: shootFields.longitude.default(null),
  time_zone: shootFields.time_zone.default('UTC'),
  days: shootFields.days.default([]),
});
export const changedShoot = Joi.object({ ...shootFields, name: name.optional() }).min(1);

export const SCENES = ['kiosk', 'pillar', 'bench'] as const;

const noted = (least: number, most: number) => Joi.number().min(least).max(most).allow(null);
export const cameraNotes = Joi.object({
  camera: Joi.string().trim().allow('').max(120),
  lens: Joi.string().trim().allow('').max(120),
  focal_mm: noted(1, 5000),
  width: size.allow(null),
  height: size.allow(null),
  fps: noted(1, 1000),
  shutter_s: noted(0.00001, 60),
  iso: noted(1, 1e7),
  white_k: noted(1000, 40000),
  focus_m: noted(0.01, 100000),
  height_m: noted(-100, 10000),
  tilt_deg: noted(-180, 180),
});
const emptyNotes = {
  camera: '',
  lens: '',
  focal_mm: null,
  width: null,
  height: null,
  fps: null,
  shutter_s: null,
  iso: null,
  white_k: null,
  focus_m: null,
  height_m: null,
  tilt_deg: null,
};

const setupFields = {
  name,
  notes: Joi.string().trim().allow('').max(2000),
  scene: Joi.string().valid(...SCENES),
  place: Joi.string().trim().allow('').max(200),
  camera: cameraNotes,
};
const partFields = {
  name,
  what: Joi.string().trim().allow('').max(500),
  optional: Joi.boolean(),
  seconds: Joi.number().greater(0).max(3600),
};

export const newPart = Joi.object({
  ...partFields,
  what: partFields.what.default(''),
  optional: partFields.optional.default(false),
  seconds: partFields.seconds.default(10),
});
export const changedPart = Joi.object({ ...partFields, name: name.optional() }).min(1);

export const newSetup = Joi.object({
  name,
  notes: setupFields.notes.default(''),
  scene: setupFields.scene.default('kiosk'),
  place: setupFields.place.default(''),
  camera: cameraNotes.default(emptyNotes),
  parts: Joi.array().max(20).default([]).items(newPart),
});
export const changedSetup = Joi.object({ ...setupFields, name: name.optional() }).min(1);

export const order = Joi.object({ ids: Joi.array().items(Joi.string().guid()).max(500).unique().required() });
export const marked = Joi.object({ on: Joi.boolean().required() });

export const newTake = Joi.object({
  upload_id: Joi.string()
    .pattern(/^[0-9a-f]{32}$/)
    .required()
    .messages({ '*': 'The upload is not known. Choose the file again.' }),
  name: Joi.string().trim().min(1).max(255).required(),
});

export const circle = Joi.object({ circled: Joi.boolean().required() });

export const rollSettings = Joi.object({
  tripod: Joi.string().valid('still', 'drift', 'knock', 'handheld', 'breathing').default('still'),
  crossing: Joi.string()
    .valid('nobody', 'left-to-right', 'right-to-left', 'stands', 'comes-and-stays', 'shadow-only')
    .default('nobody'),
  light: Joi.string().valid('steady', 'drift', 'step', 'cloud', 'flicker', 'brighter').default('steady'),
  white: Joi.string().valid('steady', 'shift').default('steady'),
  focus: Joi.string().valid('held', 'hunt', 'soft').default('held'),
  prop: Joi.string().valid('none', 'crate', 'crate-off').default('none'),
  tree: Joi.boolean().default(false),
  rate: Joi.string().valid('steady', 'wandering').default('steady'),
  wipe: Joi.string().valid('none', 'cart', 'coat', 'pan', 'walk-in', 'lid').default('none'),
  wipe_way: Joi.string().valid('left-to-right', 'right-to-left').default('left-to-right'),
  wipe_fault: Joi.string().valid('none', 'misses-corner', 'stays-in', 'uneven', 'soft').default('none'),
  wipe_side: Joi.string().valid('out', 'in').default('out'),
  scene: Joi.string().valid('kiosk', 'pillar', 'bench'),
  seconds: Joi.number().min(1).max(30).default(6),
  fps: Joi.number().valid(24, 25, 30, 50).default(25),
  width: Joi.number().valid(1280, 1920).default(1280),
  grain: Joi.number().min(0).max(12).default(2),
  seed: Joi.number()
    .integer()
    .min(1)
    .max(2 ** 31 - 1)
    .default(1),
});

const guid = Joi.string().guid().messages({ '*': 'A take is missing or its id is not valid.' });
const frameNumber = Joi.number().integer().min(0).max(10_000_000).required();

export const benchQuery = Joi.object({ for: guid.allow(null).default(null) });
export const newPlate = Joi.object({
  take_id: guid.required(),
  against_id: guid.required(),
  run: Joi.object({ start: frameNumber, end: frameNumber }).allow(null).default(null),
  keep_grain: Joi.boolean().default(false),
});
export const plateFile = Joi.object({
  as: Joi.string().valid('full', 'delivery', 'clip').default('full'),
  seconds: Joi.number().min(0.1).max(60).default(5).messages({ '*': 'Give the clip’s length in seconds, 0.1 to 60.' }),
});
export const keptPlate = Joi.object({ part_id: guid.required() });
export const twoTakes = Joi.object({
  take_id: guid.required(),
  against_id: guid.required().invalid(Joi.ref('take_id')).messages({ 'any.invalid': 'Choose two different takes.' }),
});

export const meterReadings = Joi.object({
  readings: Joi.array()
    .max(500)
    .required()
    .items(
      Joi.object({
        frame: frameNumber,
        ev: Joi.number()
          .min(-10)
          .max(25)
          .required()
          .messages({ '*': 'Give the exposure value at ISO 100 as a number, such as 9.6.' }),
      }),
    ),
});
