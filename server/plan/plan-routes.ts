import { Router, type Request } from 'express';
import type { PlannedPage } from '../../api/boards';
import type { ChangedPlanned, Planned, SensorInTable, Sheet } from '../../api/plan';
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
  zoneDrawn,
} from '../../api/plan-schemas';
import { idParams, marked } from '../../api/schemas';
import { standingOrders, stepsInOrder } from '../../core/plan/rolling-order';
import { SENSORS } from '../../core/calculators/sensors';
import { workOut } from '../../core/calculators/sheets';
import { findTrick } from '../../core/tricks/library/library';
import { wantsZone, withZone } from '../../core/tricks/zones';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { readBoards } from './boards';
import { PlanDraft } from './draft';
import { needLivePlanned, needLiveSetup, needPlanned, needSetup, needShoot } from './need';
import {
  deleteSensor,
  deleteSum,
  findPlanned,
  insertSum,
  listSensors,
  listTicks,
  putSensor,
  putTicks,
  removeTrick,
  restoreTrick,
  sayEyeCheck,
} from './plans';
import { assureSeen, versionSeen } from './versions';

/** Tricks on setups, the sheet for the set with its ticks, kept sums, and the table of sensors. */
export function planRoutes(house: House): Router {
  const { pool } = house;
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id;

  router.post(
    '/setups/:id/tricks',
    answer(async (req, res) => {
      const setup = await needLiveSetup(pool, idOf(req.params));
      const wish = checked(newPlanned, req.body);
      const trick = wish.key ? findTrick(wish.key) : wish.trick;
      if (!trick) throw new Refusal(422, `There is no trick "${wish.key}" in the library.`, 'invalid');
      res.status(201);
      return inTransaction(pool, async (db) => {
        const draft = await PlanDraft.open(db, setup.shoot_id);
        const planned = draft.putTrick(setup.id, trick, wish.wishes);
        await draft.save();
        return planned;
      });
    }),
  );

  router.get(
    '/planned/:id',
    sharedAnswer(house.answers, async (req): Promise<PlannedPage> => {
      const planned = await needPlanned(pool, idOf(req.params));
      const setup = await needSetup(pool, planned.setup_id);
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(house, shoot, [setup]);
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

  /** Changes a trick as it stands now, unless it was removed or changed since it was seen. */
  const changePlanned = async <T extends object>(
    req: Request,
    read: (body: unknown) => T,
    changed: (now: Planned, yours: T) => ChangedPlanned,
  ) => {
    const { planned: before, setup } = await needLivePlanned(pool, idOf(req.params));
    const [seen, yours] = [versionSeen(req), read(req.body)];
    await inTransaction(pool, async (db) => {
      const draft = await PlanDraft.open(db, setup.shoot_id);
      // It may have been removed while this waited for its turn.
      await needLivePlanned(db, before.id);
      const planned = draft.tricksOf(setup.id).find((p) => p.id === before.id)!;
      assureSeen(planned, seen, yours);
      const { trick, wishes } = changed(planned, yours);
      draft.changeTrick(planned, trick, wishes);
      await draft.save();
    });
    return findPlanned(pool, before.id);
  };

  router.put(
    '/planned/:id',
    answer((req) =>
      changePlanned(
        req,
        (body) => checked(changedPlanned, body),
        (_, wish) => wish,
      ),
    ),
  );

  router.put(
    '/planned/:id/zone',
    answer((req) =>
      changePlanned(
        req,
        (body) => checked(zoneDrawn, body),
        ({ trick, wishes }, { zone }) => {
          if (!wantsZone(trick))
            throw new Refusal(
              409,
              'Nothing of this trick speaks of a zone. Add "zone kept free" to it first.',
              'no-zone',
            );
          return { trick: withZone(trick, zone), wishes };
        },
      ),
    ),
  );

  router.put(
    '/planned/:id/deleted',
    answer(async (req) => {
      const planned = await needPlanned(pool, idOf(req.params));
      const { on } = checked(marked, req.body);
      await inTransaction(pool, (db) => (on ? removeTrick(db, planned) : restoreTrick(db, planned)));
      return { ok: true };
    }),
  );

  router.post(
    '/planned/:id/copy',
    answer(async (req, res) => {
      const planned = await needPlanned(pool, idOf(req.params));
      const setup = await needLiveSetup(pool, checked(copiedPlanned, req.body).setup_id);
      const name = setup.id === planned.setup_id ? `${planned.trick.name}, copy` : planned.trick.name;
      res.status(201);
      return inTransaction(pool, async (db) => {
        const draft = await PlanDraft.open(db, setup.shoot_id);
        const copy = await draft.copyTrick(planned, setup.id, name);
        await draft.save();
        return copy;
      });
    }),
  );

  router.put(
    '/planned/:id/eye-checks/:key',
    answer(async (req) => {
      const { id, key } = checked(requirementParams, req.params);
      const { planned } = await needLivePlanned(pool, id);
      if (!planned.trick.requirements.some((r) => r.key === key))
        throw new Refusal(404, 'This requirement is not part of the trick any more.', 'missing');
      await sayEyeCheck(pool, id, key, checked(eyeCheck, req.body));
      return { ok: true };
    }),
  );

  router.post(
    '/planned/:id/sums',
    answer(async (req, res) => {
      const { planned } = await needLivePlanned(pool, idOf(req.params));
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
    sharedAnswer(house.answers, async (req): Promise<Sheet> => {
      const setup = await needSetup(pool, idOf(req.params));
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(house, shoot, [setup]);
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
      // A device that was away may send what was ticked before the setup was removed: it is kept.
      const setup = await needSetup(pool, idOf(req.params));
      const said = checked(ticks, req.body).ticks;
      await inTransaction(pool, (db) => putTicks(db, setup.id, said));
      return listTicks(pool, setup.id);
    }),
  );

  router.get(
    '/sensors',
    answer(async (): Promise<SensorInTable[]> => {
      const own = await listSensors(pool);
      const built = SENSORS.map((s) => {
        const changed = own.find((o) => o.key === s.key);
        return { ...(changed ?? s), built_in: true, changed: changed !== undefined };
      });
      const added = own.filter((o) => !SENSORS.some((s) => s.key === o.key));
      return [...built, ...added.map((o) => ({ ...o, built_in: false, changed: true }))];
    }),
  );

  router.put(
    '/sensors/:key',
    answer(async (req) => {
      const row = { ...checked(sensorParams, req.params), ...checked(sensor, req.body) };
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
