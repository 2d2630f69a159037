import { Router } from 'express';
import Joi from 'joi';
import type { MeasureSent } from '../../api/measures';
import { idParams, keyParams, marked, measureAsked } from '../../api/schemas';
import type { AnyMeasure } from '../../core/measures';
import type { JudgedWith } from '../../core/judge/measure';
import { inTransaction } from '../platform/database';
import { measureOf, type House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { sensorOfSetup } from '../plan/plans';
import { findSetupOfTake } from '../plan/shoots';
import { emptyFrameOf } from '../takes/empty-frame';
import { readJudged } from '../takes/judged';
import { findTake, type TakeRecord } from '../takes/takes';
import {
  askAgain,
  askFor,
  callOff,
  findMeasure,
  findMeasureOf,
  markDeleted,
  takesOf,
  wholeResult,
  type MeasureRow,
} from './measures';
import { PRIORITY } from './queue';

/** What a measure is judged with: its takes, the shutters noted for them, and what the edit is finished at now. */
async function judgedWith({ pool }: House, takes: readonly TakeRecord[], byLens = false): Promise<JudgedWith | null> {
  const noted = await Promise.all(takes.map((t) => findSetupOfTake(pool, t.id)));
  const sensorMm = byLens && noted[0] ? await sensorOfSetup(pool, noted[0].id) : null;
  const own = takes.flatMap((t, i) => {
    const camera = noted[i]?.camera;
    const lens = { focalMm: camera?.focal_mm ?? null, focusM: camera?.focus_m ?? null, sensorMm };
    return t.facts ? [{ facts: t.facts, shutterS: camera?.shutter_s ?? null, camera: lens }] : [];
  });
  return own.length === takes.length && takes.length > 0 ? { takes: own, delivery: takes[0].delivery } : null;
}

/** A row as it is sent. @param whole whether what is kept apart is sent too */
export async function asSent(house: House, row: MeasureRow, whole = false): Promise<MeasureSent> {
  const {
    id,
    measure: key,
    take_id,
    against_id,
    wish,
    state,
    failure,
    frames_done,
    frames_total,
    doing,
    asked_at,
  } = row;
  const measure = measureOf(house, key);
  const takes = await Promise.all(takesOf(row).map((t) => findTake(house.pool, t)));
  const by = await judgedWith(
    house,
    takes.flatMap((t) => t ?? []),
    measure?.byLens,
  );
  let result = whole && row.result ? await wholeResult(house.pool, id) : row.result;
  if (result && by && measure?.atDelivery) result = measure.atDelivery(result, by) as object;
  const verdict = (result && by && measure?.judge?.(result, by)) ?? null;
  const how = { state, failure, frames_done, frames_total, doing, asked_at };
  return { id, measure: key, take_id, against_id, wish, ...how, result, verdict };
}

/** Asking for measures of takes, and reading what came of it: whatever measure it is. */
export function measureRoutes(house: House): Router {
  const { pool, queue } = house;
  const router = Router();
  const needMeasure = (params: unknown): AnyMeasure => {
    const { key } = checked(keyParams, params);
    const measure = measureOf(house, key);
    if (!measure) throw new Refusal(404, `There is no measure "${key}".`, 'missing');
    return measure;
  };
  const needRow = async (params: unknown): Promise<MeasureRow> => {
    const row = await findMeasure(pool, checked(idParams, params).id);
    if (!row || row.deleted)
      throw new Refusal(404, 'This measure is not here any more. Go back to the setup.', 'missing');
    return row;
  };
  const needTake = async (id: string): Promise<TakeRecord> => {
    const take = await findTake(pool, id);
    if (!take) throw new Refusal(404, 'This take is not here any more. Go back to the setup.', 'missing');
    return take;
  };
  const needTakes = async (measure: AnyMeasure, take: string, against: string | null): Promise<TakeRecord[]> => {
    if ((measure.takes === 2) !== (against !== null))
      throw new Refusal(422, measure.takes === 2 ? 'Choose two takes.' : 'This is measured in one take.', 'invalid');
    if (take === against && !measure.alone) throw new Refusal(422, 'Choose two different takes.', 'invalid');
    return Promise.all([take, ...(against === null ? [] : [against])].map(needTake));
  };

  router.get(
    '/measures/:key/of',
    answer(async (req) => {
      const measure = needMeasure(req.params);
      const { take, against } = checked(measureAsked, req.query);
      const takes = await needTakes(measure, take, against);
      const row = await findMeasureOf(
        pool,
        measure,
        takes.map((t) => t.id),
      );
      return row && asSent(house, row, true);
    }),
  );

  router.post(
    '/measures/:key',
    answer(async (req, res) => {
      const measure = needMeasure(req.params);
      const asked = checked(measureAsked, req.body);
      const wish = asked.wish && (checked(measure.wish(Joi), asked.wish) as object);
      const takes = await needTakes(measure, asked.take, asked.against);
      const facts = takes.flatMap((t) => t.facts ?? []);
      if (measure.needs.length > 0 && facts.length < takes.length)
        throw new Refusal(409, 'This take is not measured yet. Wait until it is.', 'busy');
      const wrong = wish && measure.misfit?.(wish, facts);
      if (wrong) throw new Refusal(422, wrong, 'invalid');
      await assureSameSetup(house, measure, takes);
      await assureKnown(house, measure, takes);
      const ids = takes.map((t) => t.id);
      const setup = measure.byPlate ? await findSetupOfTake(pool, ids[0]) : null;
      const judged = setup && (await readJudged(house, pool, [setup.id]))[0];
      const plate = judged && (emptyFrameOf(judged, takes[0].facts)?.id ?? null);
      const { id, isNew } = await inTransaction(pool, (db) =>
        askFor(db, queue, { measure, takes: ids, wish, plate, priority: PRIORITY.screen }),
      );
      res.status(isNew ? 201 : 200);
      return asSent(house, (await findMeasure(pool, id))!);
    }),
  );

  router.get(
    '/measures/:id',
    answer(async (req) => asSent(house, await needRow(req.params), true)),
  );

  router.post(
    '/measures/:id/again',
    answer(async (req) => {
      const row = await needRow(req.params);
      if (!(await inTransaction(pool, (db) => askAgain(db, queue, row))))
        throw new Refusal(409, 'This is already measured or being measured.', 'busy');
      return asSent(house, await needRow(req.params));
    }),
  );

  router.post(
    '/measures/:id/call-off',
    answer(async (req) => {
      const row = await needRow(req.params);
      if (!(await inTransaction(pool, (db) => callOff(db, queue, row))))
        throw new Refusal(409, 'This is not being measured any more.', 'done');
      return asSent(house, await needRow(req.params));
    }),
  );

  router.put(
    '/measures/:id/deleted',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const { on } = checked(marked, req.body);
      const row = await findMeasure(pool, id);
      if (!row) throw new Refusal(404, 'This measure is not here any more. Go back to the setup.', 'missing');
      if (!measureOf(house, row.measure)?.many)
        throw new Refusal(
          409,
          'What is found in a take stays with it; only what was made by choice can be removed.',
          'kept',
        );
      await markDeleted(pool, id, on);
      return { ok: true };
    }),
  );

  return router;
}

/** What is laid over each other must come from one camera position. */
async function assureSameSetup({ pool }: House, measure: AnyMeasure, takes: readonly TakeRecord[]): Promise<void> {
  if (!measure.oneSetup) return;
  const [a, b] = await Promise.all(takes.map((t) => findSetupOfTake(pool, t.id)));
  if (b && a?.id !== b.id)
    throw new Refusal(
      422,
      'The takes belong to two setups: the camera stood elsewhere. Choose two of one setup.',
      'invalid',
    );
}

/** What it cannot be made without must be known of its first take. */
async function assureKnown(house: House, measure: AnyMeasure, takes: readonly TakeRecord[]): Promise<void> {
  for (const key of measure.needs) {
    const other = measureOf(house, key);
    const row = other && (await findMeasureOf(house.pool, other, [takes[0].id]));
    if (other && row?.state !== 'done')
      throw new Refusal(409, `First ${other.finds} must be known. Wait until it is.`, 'busy');
  }
}
