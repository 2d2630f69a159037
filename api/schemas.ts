import Joi from 'joi';
import { BEAT_WORDS } from '../core/measures/beats/judge';
import type { MeterReading } from '../core/judge/meter';
import { NO_NOTES, type CameraNotes } from '../core/plan/types';
import type { Joining } from './door';
import type { MeasureAsked } from './measures';
import { PURPOSES } from '../core/tricks/library/purposes';
import type { ChangedSetup, NewSetup, PartFields, Scene, ShootFields } from './plan';
import type { PlateFile } from './plates';
import { ACT_FAULTS, ACTS, type RollWish } from './rolls';
import type { MarkFields } from '../core/plan/marks';
import type { ChangedMark, NewTake } from './takes';

/** Text of one line: breaks and other control characters, which would lead astray in lists and files, become spaces. */
export const oneLine = Joi.string()
  .trim()
  // eslint-disable-next-line no-control-regex
  .replace(/[\u0001-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ');

/** What each request may contain. Everything else is refused with a sentence. */
const name = oneLine
  .min(1)
  .max(120)
  .required()
  .messages({
    'any.required': 'A name is missing.',
    'string.empty': 'A name is missing.',
    'string.max': 'The name is longer than 120 characters.',
  });
const anId = Joi.string().guid({ separator: '-', wrapper: false });
/** An id in an address. */
export const rowId = anId.required().messages({ '*': 'The address is not complete: its id is not valid.' });
export const guid = anId.messages({ '*': 'A take is missing or its id is not valid.' });
const frameNumber = Joi.number().integer().min(0).max(10_000_000).required();

export const idParams = Joi.object<{ id: string }, true>({ id: rowId });
export const frameParams = Joi.object<{ id: string; frame: number }, true>({ id: rowId, frame: frameNumber });
export const keyParams = Joi.object<{ key: string }, true>({ key: Joi.string().max(40).required() });

const size = Joi.number().integer().min(16).max(16384);
const day = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .messages({ '*': 'Write each day like 2027-10-05.' });
const zone = Joi.string()
  .max(60)
  .custom((text: string, helpers) => (isZone(text) ? text : helpers.error('any.invalid')))
  .messages({ 'any.invalid': 'The time zone is not known. Write it like Europe/Oslo.' });

function isZone(text: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: text });
    return true;
  } catch {
    return false;
  }
}

const place = oneLine.allow('').max(200);
const fps = Joi.number().min(1).max(1000);
const degrees = (most: number) => Joi.number().min(-most).max(most).allow(null);
const days = Joi.array().items(day).max(60).unique();

/** A shoot as it is sent whole, nothing left out. */
export const SHOOT_FIELDS = {
  name,
  place: place.required(),
  delivery_width: size.required(),
  delivery_height: size.required(),
  delivery_fps: fps.required(),
  latitude: degrees(90).required(),
  longitude: degrees(180).required(),
  time_zone: zone.required(),
  days: days.required(),
};
export const newShoot = Joi.object<ShootFields, true>({
  name,
  place: place.default(''),
  delivery_width: size.default(1920),
  delivery_height: size.default(1080),
  delivery_fps: fps.default(25),
  latitude: degrees(90).default(null),
  longitude: degrees(180).default(null),
  time_zone: zone.default('UTC'),
  days: days.default([]),
});
export const changedShoot = Joi.object<Partial<ShootFields>, true>({
  name: name.optional(),
  place,
  delivery_width: size,
  delivery_height: size,
  delivery_fps: fps,
  latitude: degrees(90),
  longitude: degrees(180),
  time_zone: zone,
  days,
}).min(1);

export const SCENES: readonly Scene[] = ['kiosk', 'pillar', 'bench'];

const noted = (least: number, most: number) => Joi.number().min(least).max(most).allow(null);
const NOTES = {
  camera: oneLine.allow('').max(120),
  lens: oneLine.allow('').max(120),
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
};
export const cameraNotes = Joi.object<Partial<CameraNotes>, true>(NOTES);
/** Every note, none left out. */
export const allNotes = Joi.object<CameraNotes, true>(NOTES).fork(Object.keys(NOTES), (f) => f.required());

const what = Joi.string().trim().allow('').max(500);
const seconds = Joi.number().greater(0).max(3600);
const purpose = Joi.string()
  .valid(...Object.keys(PURPOSES))
  .allow(null)
  .messages({ '*': 'Say what its takes are for: locked, plate, out, in, moving or still.' });
/** A part, and a setup, as they are sent whole. */
export const PART_FIELDS = {
  name,
  what: what.required(),
  optional: Joi.boolean().required(),
  seconds: seconds.required(),
  purpose: purpose.required(),
};
export const newPart = Joi.object<PartFields, true>({
  name,
  what: what.default(''),
  optional: Joi.boolean().default(false),
  seconds: seconds.default(10),
  purpose,
});
export const changedPart = Joi.object<Partial<PartFields>, true>({
  name: name.optional(),
  what,
  optional: Joi.boolean(),
  seconds,
  purpose,
}).min(1);

const notes = Joi.string().trim().allow('').max(2000);
const scene = Joi.string().valid(...SCENES);
export const SETUP_FIELDS = {
  name,
  notes: notes.required(),
  scene: scene.required(),
  place: place.required(),
  camera: allNotes.required(),
};
export const newSetup = Joi.object<NewSetup, true>({
  name,
  notes: notes.default(''),
  scene: scene.default('kiosk'),
  place: place.default(''),
  camera: Joi.object<CameraNotes, true>(NOTES).default(NO_NOTES),
  parts: Joi.array().items(newPart).max(20).default([]),
});
export const changedSetup = Joi.object<ChangedSetup, true>({
  name: name.optional(),
  notes,
  scene,
  place,
  camera: cameraNotes,
}).min(1);

export const order = Joi.object<{ ids: string[] }, true>({ ids: Joi.array().items(anId).max(500).unique().required() });
export const marked = Joi.object<{ on: boolean }, true>({ on: Joi.boolean().required() });

export const newTake = Joi.object<NewTake, true>({
  upload_id: Joi.string()
    .pattern(/^[0-9a-f]{32}$/)
    .required()
    .messages({ '*': 'The upload is not known. Choose the file again.' }),
  name: oneLine.min(1).max(255).required(),
});

export const circle = Joi.object<{ circled: boolean }, true>({ circled: Joi.boolean().required() });

export const readings = Joi.array()
  .max(500)
  .required()
  .items(
    Joi.object<MeterReading, true>({
      frame: frameNumber,
      ev: Joi.number()
        .min(-10)
        .max(25)
        .required()
        .messages({ '*': 'Give the exposure value at ISO 100 as a number, such as 9.6.' }),
    }),
  );
export const meterReadings = Joi.object<{ readings: MeterReading[] }, true>({ readings });

const markName = oneLine.min(1).max(60).messages({ '*': 'Give the mark a name of at most 60 characters.' });
const markFrame = Joi.number()
  .integer()
  .min(0)
  .max(10_000_000)
  .messages({ '*': 'A frame is a whole number from 0 on.' });
export const MARK_FIELDS = {
  frame: markFrame.required(),
  name: markName.required(),
  kind: Joi.string()
    .valid('own', ...Object.keys(BEAT_WORDS))
    .default('own')
    .messages({ '*': 'A mark is one of your own, or of a beat that was found.' }),
  found: markFrame.allow(null).default(null),
};
export const newMark = Joi.object<MarkFields, true>(MARK_FIELDS);
export const changedMark = Joi.object<ChangedMark, true>({ frame: markFrame, name: markName }).min(1);

export const rollWish = Joi.object<RollWish, true>({
  tripod: Joi.string().valid('still', 'drift', 'knock', 'handheld', 'breathing', 'nudged').default('still'),
  crossing: Joi.string()
    .valid(
      ...['nobody', 'left-to-right', 'right-to-left', 'stands', 'comes-and-stays', 'shadow-only'],
      ...['slips-behind', 'slips-before', 'stands-across', 'reaches-over', 'shadow-crosses'],
      ...['in-opening', 'leaves-opening'],
    )
    .default('nobody'),
  light: Joi.string().valid('steady', 'drift', 'step', 'cloud', 'flicker', 'brighter', 'darker').default('steady'),
  white: Joi.string().valid('steady', 'shift').default('steady'),
  focus: Joi.string().valid('held', 'hunt', 'soft').default('held'),
  prop: Joi.string().valid('none', 'crate', 'crate-off', 'lantern-off').default('none'),
  tree: Joi.boolean().default(false),
  rate: Joi.string().valid('steady', 'wandering').default('steady'),
  wipe: Joi.string().valid('none', 'cart', 'coat', 'pan', 'walk-in', 'lid').default('none'),
  wipe_way: Joi.string().valid('left-to-right', 'right-to-left').default('left-to-right'),
  wipe_fault: Joi.string().valid('none', 'misses-corner', 'stays-in', 'uneven', 'soft').default('none'),
  wipe_side: Joi.string().valid('out', 'in').default('out'),
  act: Joi.string()
    .valid(...ACTS)
    .default('none'),
  act_fault: Joi.string()
    .valid(...ACT_FAULTS)
    .default('none'),
  clap: Joi.boolean().default(false),
  scene,
  seconds: Joi.number().min(1).max(30).default(6),
  fps: Joi.number().valid(24, 25, 30, 50).default(25),
  width: Joi.number().valid(640, 960, 1280, 1920).default(1280),
  grain: Joi.number().min(0).max(12).default(2),
  seed: Joi.number()
    .integer()
    .min(1)
    .max(2 ** 31 - 1)
    .default(1),
});

/** Which takes a measure is asked of. That they are two where it takes two is the measure's own to say. */
export const measureAsked = Joi.object<MeasureAsked, true>({
  take: guid.required(),
  against: guid.allow(null).default(null),
  wish: Joi.object().unknown(true),
});

export const benchQuery = Joi.object<{ for: string | null }, true>({ for: guid.allow(null).default(null) });
export const sidesQuery = Joi.object<{ out: string | null; in: string | null }, true>({
  out: guid.allow(null).default(null),
  in: guid.allow(null).default(null),
});
export const passesQuery = Joi.object<{ first: string | null; second: string | null }, true>({
  first: guid.allow(null).default(null),
  second: guid.allow(null).default(null),
});
export const twoTakes = Joi.object<{ take_id: string; against_id: string }, true>({
  take_id: guid.required(),
  against_id: guid.required().invalid(Joi.ref('take_id')).messages({ 'any.invalid': 'Choose two different takes.' }),
});
export const plateFile = Joi.object<PlateFile, true>({
  as: Joi.string().valid('full', 'delivery', 'clip').default('full'),
  seconds: Joi.number().min(0.1).max(60).default(5).messages({ '*': 'Give the clip’s length in seconds, 0.1 to 60.' }),
});
export const keptPlate = Joi.object<{ part_id: string }, true>({ part_id: guid.required() });
export const savedFile = Joi.object<{ save: boolean }, true>({ save: Joi.boolean().default(false) });
export const savedStill = Joi.object<{ save: boolean; size: 'full' | 'delivery' }, true>({
  save: Joi.boolean().default(false),
  size: Joi.string().valid('full', 'delivery').default('full').messages({ '*': 'A size is full or delivery.' }),
});
export const marksFile = Joi.object<{ as: 'vtt' | 'csv' }, true>({
  as: Joi.string().valid('vtt', 'csv').default('csv').messages({ '*': 'Marks are sent as vtt or as csv.' }),
});
export const proofFile = Joi.object<{ as: 'mp4' | 'webm'; save: boolean }, true>({
  as: Joi.string().valid('mp4', 'webm').default('mp4'),
  save: Joi.boolean().default(false),
});

export const joining = Joi.object<Joining, true>({
  code: Joi.string().trim().min(1).max(40).required().messages({ '*': 'Enter the pass code.' }),
  name: oneLine
    .min(1)
    .max(80)
    .required()
    .messages({ '*': 'Give this device a name, so that others know whose it is.' }),
});
