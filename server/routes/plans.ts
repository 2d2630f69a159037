import { Router } from 'express';
import type { Pool } from 'pg';
import { standingOrders, stepsInOrder } from '../../core/plan/rolling-order';
import { SENSORS } from '../../core/sums/sensors';
import { workOut } from '../../core/sums/sheets';
import { findTrick } from '../../core/tricks/library';
import { readBoards } from '../boards';
import { answer, checked, Refusal } from '../http';
import {
  changedPlanned,
  copiedPlanned,
  eyeCheck,
  newPlanned,
  newSum,
  requirementParams,
  sensor,
  sensorParams,
  ticks,
} from '../plan-schemas';
import { changeTrick, copyTrick, putTrick, removeTrick, restoreTrick } from '../planning';
import { idParams, marked } from '../schemas';
import {
  clearEyeCheck,
  deleteSensor,
  deleteSum,
  findPlanned,
  insertSum,
  listSensors,
  listTicks,
  putSensor,
  putTick,
  setEyeCheck,
  type PlannedRow,
} from '../sql/queries/plans';
import { inTransaction } from '../sql/transaction';
import { needSetup, needShoot } from './shoots';

/** Tricks on setups, the sheet for the set with its ticks, kept sums, and the table of sensors. */
export function planRoutes(pool: Pool): Router {
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id as string;
  const needPlanned = async (id: string): Promise<PlannedRow> => {
    const planned = await findPlanned(pool, id);
    if (!planned) throw new Refusal(404, 'This trick is not planned here any more. Go back to the setup.', 'missing');
    return planned;
  };

  router.post(
    '/setups/:id/tricks',
    answer(async (req, res) => {
      const setup = await needSetup(pool, idOf(req.params));
      const wish = checked(newPlanned, req.body);
      const trick = wish.key ? findTrick(wish.key) : wish.trick;
      if (!trick) throw new Refusal(422, `There is no trick "${wish.key}" in the library.`, 'invalid');
      res.status(201);
      return findPlanned(pool, await inTransaction(pool, (db) => putTrick(db, setup.id, trick, wish.wishes)));
    }),
  );

  router.get(
    '/planned/:id',
    answer(async (req) => {
      const planned = await needPlanned(idOf(req.params));
      const setup = await needSetup(pool, planned.setup_id);
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(pool, shoot, [setup]);
      const shown = board.planned.find((p) => p.id === planned.id) ?? { ...planned, sums: [] };
      return {
        ...shown,
        setup,
        shoot,
        contradictions: board.contradictions.filter((c) => c.tricks.includes(planned.id)),
        judged: board.gate.tricks.find((t) => t.id === planned.id)?.requirements ?? [],
      };
    }),
  );

  router.put(
    '/planned/:id',
    answer(async (req) => {
      const planned = await needPlanned(idOf(req.params));
      const wish = checked(changedPlanned, req.body);
      await inTransaction(pool, (db) => changeTrick(db, planned.id, wish.trick, wish.wishes));
      return findPlanned(pool, planned.id);
    }),
  );

  router.put(
    '/planned/:id/deleted',
    answer(async (req) => {
      const planned = await needPlanned(idOf(req.params));
      const { on } = checked(marked, req.body);
      await inTransaction(pool, (db) => (on ? removeTrick(db, planned.id) : restoreTrick(db, planned.id)));
      return { ok: true };
    }),
  );

  router.post(
    '/planned/:id/copy',
    answer(async (req, res) => {
      const planned = await needPlanned(idOf(req.params));
      const { setup_id: setupId } = checked(copiedPlanned, req.body);
      const setup = await needSetup(pool, setupId);
      const name = setup.id === planned.setup_id ? `${planned.trick.name}, copy`.slice(0, 120) : undefined;
      res.status(201);
      return findPlanned(pool, await inTransaction(pool, (db) => copyTrick(db, planned.id, setup.id, name)));
    }),
  );

  router.put(
    '/planned/:id/eye-checks/:key',
    answer(async (req) => {
      const { id, key } = checked(requirementParams, req.params);
      const planned = await needPlanned(id);
      if (!planned.trick.requirements.some((r) => r.key === key))
        throw new Refusal(404, 'This requirement is not part of the trick any more.', 'missing');
      const { done, by, at } = checked(eyeCheck, req.body);
      if (done) await setEyeCheck(pool, id, key, by, at);
      else await clearEyeCheck(pool, id, key);
      return { ok: true };
    }),
  );

  router.post(
    '/planned/:id/sums',
    answer(async (req, res) => {
      const planned = await needPlanned(idOf(req.params));
      const { kind, inputs } = checked(newSum, req.body);
      const { error } = workOut(kind, inputs);
      if (error) throw new Refusal(422, error, 'invalid');
      res.status(201);
      return insertSum(pool, planned.id, kind, inputs);
    }),
  );

  router.delete(
    '/sums/:id',
    answer(async (req) => {
      if (!(await deleteSum(pool, idOf(req.params))))
        throw new Refusal(404, 'This sum is not kept any more.', 'missing');
      return { ok: true };
    }),
  );

  router.get(
    '/setups/:id/sheet',
    answer(async (req) => {
      const setup = await needSetup(pool, idOf(req.params));
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(pool, shoot, [setup]);
      return {
        setup,
        shoot,
        steps: stepsInOrder(board.parts, board.planned),
        orders: standingOrders(board.planned),
        tricks: board.planned.map((p) => ({ id: p.id, name: p.trick.name })),
        contradictions: board.contradictions,
        ticks: await listTicks(pool, setup.id),
      };
    }),
  );

  router.put(
    '/setups/:id/ticks',
    answer(async (req) => {
      const setup = await needSetup(pool, idOf(req.params));
      const wish = checked(ticks, req.body);
      await inTransaction(pool, async (db) => {
        for (const t of wish.ticks) await putTick(db, setup.id, t);
      });
      return listTicks(pool, setup.id);
    }),
  );

  router.get(
    '/sensors',
    answer(async () => {
      const own = await listSensors(pool);
      const built = SENSORS.map((s) => ({
        ...(own.find((o) => o.key === s.key) ?? s),
        built_in: true,
        changed: own.some((o) => o.key === s.key),
      }));
      return [
        ...built,
        ...own
          .filter((o) => !SENSORS.some((s) => s.key === o.key))
          .map((o) => ({ ...o, built_in: false, changed: true })),
      ];
    }),
  );

  router.put(
    '/sensors/:key',
    answer(async (req) => {
      const { key } = checked(sensorParams, req.params);
      const row = { key, ...checked(sensor, req.body) };
      await putSensor(pool, row);
      return row;
    }),
  );

  router.delete(
    '/sensors/:key',
    answer(async (req) => {
      await deleteSensor(pool, checked(sensorParams, req.params).key);
      return { ok: true };
    }),
  );

  return router;
}
