import Joi from 'joi';
import { checkTrick } from '../core/plan/check-trick';
import { SUM_KINDS } from '../core/calculators/kinds';
import { REQUIREMENT_KINDS } from '../core/tricks/requirement-kinds';
import {
  NO_WISHES,
  type Requirement,
  type ScriptLine,
  type Trick,
  type TrickPart,
  type TrickWishes,
} from '../core/tricks/types';
import type { ShotList, ShotPart, ShotSetup, ShotTrick } from '../core/formats/shot-list';
import type { SumKind, SumValues } from '../core/calculators/kinds';
import type { Sensor } from '../core/calculators/sensors';
import type { ChangedPlanned, EyeCheckSaid, NewPlanned, TickSaid } from './plan';
import { allNotes, guid, oneLine, rowId } from './schemas';

/** What something is known by within a trick. */
export const key = Joi.string()
  .pattern(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  // Every object has one of its own.
  .invalid('constructor')
  .max(120);
const words = (most: number) => Joi.string().trim().allow('').max(most);

/** Corners of a zone of the picture, shares of its width and height. */
const zone = Joi.array()
  .min(3)
  .max(200)
  .items(Joi.array().length(2).items(Joi.number().min(0).max(1).precision(4)))
  .messages({ '*': 'A zone has 3 to 200 corners, each two shares of the picture between 0 and 1.' });
export const zoneDrawn = Joi.object<{ zone: [number, number][] | null }, true>({ zone: zone.allow(null).required() });

/** A trick, from the library or composed by hand; what its parts and requirements say of each other is checked too. */
export const trick = Joi.object<Trick, true>({
  key: key.required(),
  name: oneLine.max(120).required(),
  summary: words(300).required(),
  camera: Joi.string().valid('still', 'moving').required(),
  oneRoll: Joi.boolean().required(),
  parts: Joi.array()
    .max(20)
    .required()
    .items(
      Joi.object<TrickPart, true>({
        key: key.required(),
        name: oneLine.max(120).required(),
        role: Joi.string().valid('plate', 'pass', 'out-side', 'in-side', 'still').required(),
        what: words(500).required(),
        seconds: Joi.number().required(),
        place: Joi.string().valid('first', 'any', 'last').required(),
        optional: Joi.boolean().required(),
      }),
    ),
  requirements: Joi.array()
    .max(60)
    .required()
    .items(
      Joi.object<Requirement, true>({
        key: key.required(),
        kind: Joi.string()
          .valid(...Object.keys(REQUIREMENT_KINDS))
          .required(),
        parts: Joi.array().items(key).min(1).max(20).required(),
        tolerance: Joi.number().allow(null).required(),
        why: words(300).required(),
        remedySet: words(300).required(),
        remedyEdit: words(300).allow(null).required(),
        zone: zone.allow(null),
      }),
    ),
  script: Joi.array()
    .max(60)
    .required()
    .items(
      Joi.object<ScriptLine, true>({
        part: key.allow(null).required(),
        say: Joi.string().trim().min(1).max(300).required(),
      }),
    ),
  sums: Joi.array()
    .max(20)
    .items(Joi.string().valid(...SUM_KINDS))
    .required(),
  mistakes: Joi.array().max(30).items(Joi.string().trim().max(300)).required(),
}).custom((value: Trick, helpers) => {
  const wrong = checkTrick(value);
  return wrong.length ? helpers.message({ custom: wrong.join(' ') }) : value;
});

const wish = (least: number, most: number) => Joi.number().min(least).max(most).allow(null);
export const wishes = Joi.object<TrickWishes, true>({
  speed_pct: wish(1, 2000).default(null),
  push_pct: wish(100, 1000).default(null),
  height_m: wish(-100, 10000).default(null),
  tilt_deg: wish(-180, 180).default(null),
  lens_mm: wish(1, 5000).default(null),
});

/** A trick of the library by its key, or a whole one. */
export const newPlanned = Joi.object<NewPlanned, true>({ key, trick, wishes: wishes.default({ ...NO_WISHES }) })
  .xor('key', 'trick')
  .messages({
    'object.missing': 'Choose a trick of the library, or send one of your own.',
    'object.xor': 'Either a trick of the library or one of your own, not both.',
  });
export const changedPlanned = Joi.object<ChangedPlanned, true>({ trick: trick.required(), wishes: wishes.required() });
export const copiedPlanned = Joi.object<{ setup_id: string }, true>({ setup_id: guid.required() });

/** A moment as a device's clock has it, wrong as that may be. */
export const moment = Joi.string()
  .isoDate()
  .pattern(/^(19[7-9]|[2-9]\d\d)\d-/)
  .required()
  .messages({ '*': 'Give the moment like 2027-10-05T18:30:00Z.' });
export const requirementParams = Joi.object<{ id: string; key: string }, true>({ id: rowId, key: key.required() });
export const eyeCheck = Joi.object<EyeCheckSaid, true>({
  done: Joi.boolean().required(),
  at: moment,
  by: oneLine
    .min(1)
    .max(80)
    .when('done', { is: true, then: Joi.required().messages({ '*': 'Say who looked: a name is missing.' }) }),
});
export const ticks = Joi.object<{ ticks: TickSaid[] }, true>({
  ticks: Joi.array()
    .min(1)
    .max(500)
    .required()
    .items(
      Joi.object<TickSaid, true>({
        line: Joi.string().min(1).max(200).required(),
        done: Joi.boolean().required(),
        by: oneLine.allow('').max(80).default(''),
        at: moment,
      }),
    ),
});

export const typed = Joi.object<SumValues>()
  .pattern(/^[a-z_]{1,40}$/, Joi.alternatives(Joi.number(), Joi.string().allow('').max(120)))
  .max(30)
  .required();
export const newSum = Joi.object<{ kind: SumKind; inputs: SumValues }>({
  kind: Joi.string()
    .valid(...SUM_KINDS)
    .required(),
  inputs: typed,
});

export const sensor = Joi.object<Omit<Sensor, 'key'>, true>({
  name: oneLine.min(1).max(120).required(),
  width_mm: Joi.number().min(1).max(100).required(),
  height_mm: Joi.number().min(1).max(100).required(),
});
export const sensorParams = Joi.object<{ key: string }, true>({ key: key.max(60).required() });

const shotSetup = Joi.object<ShotSetup, true>({
  number: Joi.number().integer().min(1).max(9999).required(),
  name: oneLine.min(1).max(120).required(),
  place: words(200).required(),
  notes: words(2000).required(),
  camera: allNotes.required(),
  parts: Joi.array()
    .max(100)
    .required()
    .items(
      Joi.object<ShotPart, true>({
        name: oneLine.min(1).max(120).required(),
        what: words(500).required(),
        seconds: Joi.number().greater(0).max(3600).required(),
        optional: Joi.boolean().required(),
        tricks: Joi.array().items(Joi.string().max(120)).required(),
      }),
    )
    .unique((a: ShotPart, b: ShotPart) => a.name.toLowerCase() === b.name.toLowerCase()),
  tricks: Joi.array()
    .max(40)
    .required()
    .items(
      Joi.object<ShotTrick, true>({
        name: oneLine.min(1).max(120).required(),
        definition: trick.required(),
        wishes: wishes.required(),
        parts: Joi.object().pattern(key, Joi.string().max(120)).required(),
        namedOnly: Joi.boolean().valid(true),
      }),
    ),
});
/** A shot list as JSON, as the app writes it. */
export const shotList = Joi.object<ShotList, true>({
  format: Joi.string()
    .valid('umbrastat-shot-list')
    .required()
    .messages({ '*': 'This JSON is not a shot list of this app: "format" must be "umbrastat-shot-list".' }),
  version: Joi.number()
    .valid(1)
    .required()
    .messages({ '*': 'This shot list has another version than 1 and cannot be read.' }),
  shoot: Joi.object().unknown(true).required(),
  setups: Joi.array().max(500).items(shotSetup).unique('number').required(),
});
export const importText = Joi.object<{ text: string; apply: boolean }, true>({
  text: Joi.string().min(1).max(2_000_000).required().messages({ '*': 'The file is empty or larger than 2 MB.' }),
  apply: Joi.boolean().default(false),
});
