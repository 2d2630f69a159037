import Joi from 'joi';
import { MEASURES, type MeasureKey } from '../core/measures';
import {
  SHOOT_FILE_VERSION,
  type FiledLook,
  type FiledMark,
  type FiledMeasure,
  type FiledPart,
  type FiledSetup,
  type FiledShoot,
  type FiledSum,
  type FiledTake,
  type FiledTick,
  type FiledTrick,
  type ShootFile,
} from '../core/packs/shoot-file';
import type { Sensor } from '../core/calculators/sensors';
import { SUM_KINDS } from '../core/calculators/kinds';
import type { TakenInAsked } from './packs';
import { key, moment, sensor, trick, typed, wishes } from './plan-schemas';
import { guid, MARK_FIELDS, oneLine, PART_FIELDS, readings, SETUP_FIELDS, SHOOT_FIELDS } from './schemas';

const id = guid.lowercase().required().messages({ '*': 'An id is missing, or is not valid.' });
const count = Joi.number().integer().min(1).max(1_000_000).required();
const place = Joi.number().integer().min(-2_000_000).max(2_000_000).required();
const flag = Joi.boolean().required();
const list = (most: number, of: Joi.Schema) => Joi.array().max(most).items(of).required();

const measure = Joi.object<FiledMeasure, true>({
  id,
  measure: Joi.string()
    .valid(...Object.keys(MEASURES))
    .required()
    .messages({ '*': 'This version knows no such measure. Take it in with a newer one.' }),
  take_id: id,
  against_id: id.allow(null),
  wish: Joi.object().unknown(true).required(),
  slot: Joi.string()
    .allow('')
    .pattern(/^[0-9a-f-]{0,36}$/)
    .required(),
  plate_id: id.allow(null),
  asked_at: moment,
}).custom((value: FiledMeasure, helpers) => {
  const of = MEASURES[value.measure as MeasureKey];
  const wish = of.wish(Joi).validate(value.wish);
  if (wish.error) return helpers.message({ custom: wish.error.message });
  if ((of.takes === 2) !== (value.against_id !== null))
    return helpers.message({ custom: 'It is of one take more, or less, than this measure is.' });
  return { ...value, wish: wish.value as object };
});

/** What a pack says of the shoot it was made of, to be taken in elsewhere. */
export const shootFile = Joi.object<ShootFile, true>({
  format: Joi.string()
    .valid('umbrastat-shoot')
    .required()
    .messages({ '*': 'This is not the shoot of a pack: "format" must be "umbrastat-shoot".' }),
  version: Joi.number()
    .valid(SHOOT_FILE_VERSION)
    .required()
    .messages({ '*': 'This shoot was written by another version of the app and cannot be read.' }),
  shoot: Joi.object<FiledShoot, true>({ id, ...SHOOT_FIELDS, demo: flag }).required(),
  setups: list(
    500,
    Joi.object<FiledSetup, true>({ id, number: count, ...SETUP_FIELDS, position: place, archived: flag }),
  ),
  parts: list(20_000, Joi.object<FiledPart, true>({ id, setup_id: id, position: count, ...PART_FIELDS })),
  tricks: list(
    10_000,
    Joi.object<FiledTrick, true>({
      id,
      setup_id: id,
      position: place,
      trick: trick.required(),
      wishes: wishes.required(),
      parts: Joi.object().pattern(key, id).required(),
    }),
  ),
  takes: list(
    50_000,
    Joi.object<FiledTake, true>({
      id,
      part_id: id,
      number: count,
      name: oneLine.min(1).max(255).required(),
      source: Joi.string().valid('file', 'stand-in', 'plate').required(),
      circled: flag,
      rolled_at: moment,
      meter: readings.allow(null),
      made_of: id.allow(null),
      sha256: Joi.string()
        .pattern(/^[0-9a-f]{64}$/)
        .required(),
      bytes: Joi.number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required(),
      path: Joi.string().max(300).allow(null).required(),
    }),
  ),
  marks: list(200_000, Joi.object<FiledMark, true>({ id, take_id: id, ...MARK_FIELDS })),
  measures: list(200_000, measure),
  looks: list(
    50_000,
    Joi.object<FiledLook, true>({
      trick_id: id,
      requirement: key.required(),
      by: oneLine.min(1).max(80).required(),
      at: moment,
    }),
  ),
  ticks: list(
    50_000,
    Joi.object<FiledTick, true>({
      setup_id: id,
      line: Joi.string().min(1).max(200).required(),
      done: flag,
      by: oneLine.allow('').max(80).required(),
      at: moment,
    }),
  ),
  sums: list(
    20_000,
    Joi.object<FiledSum, true>({
      id,
      trick_id: id,
      kind: Joi.string()
        .valid(...SUM_KINDS)
        .required(),
      // As it was typed: a number that was written as text stays one.
      inputs: typed.prefs({ convert: false }),
    }),
  ),
  sensors: list(500, (sensor as Joi.ObjectSchema).keys({ key: key.max(60).required() }) as Joi.ObjectSchema<Sensor>),
});

/** An uploaded pack, or its shoot alone, and whether it is only looked into. */
export const takenInAsked = Joi.object<TakenInAsked, true>({
  upload_id: Joi.string()
    .pattern(/^[0-9a-f]{32}$/)
    .required()
    .messages({ '*': 'The upload is not known. Choose the file again.' }),
  apply: Joi.boolean().default(false),
  differing: Joi.string()
    .valid('keep', 'take')
    .default('keep')
    .messages({ '*': 'Say whether what differs is kept as it is here, or taken as it is in the file.' }),
});
