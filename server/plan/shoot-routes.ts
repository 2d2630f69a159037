import { Router } from 'express';
import type { SetupPage, ShootPage } from '../../api/boards';
import {
  changedPart,
  changedSetup,
  changedShoot,
  idParams,
  marked,
  newPart,
  newSetup,
  newShoot,
  order,
} from '../../api/schemas';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { listRollsUnderWay } from '../rolls/rolls';
import { listShootsGoing, readBoards } from './boards';
import { PlanDraft } from './draft';
import { needLivePart, needLiveSetup, needLiveShoot, needPart, needSetup, needShoot } from './need';
import { listPlanned } from './plans';
import {
  findPart,
  findSetup,
  findShoot,
  insertShoot,
  listParts,
  listSetups,
  markRow,
  orderRows,
  updatePart,
  updateSetup,
  updateShoot,
} from './shoots';
import { assureSeen, holdRow, versionSeen } from './versions';

/** Shoots, their setups and parts: read, made, changed, ordered, copied, archived, deleted and brought back. */
export function shootRoutes(house: House): Router {
  const { pool } = house;
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id;

  router.get(
    '/shoots',
    sharedAnswer(house.answers, () => listShootsGoing(house)),
  );

  router.post(
    '/shoots',
    answer(async (req, res) => {
      const shoot = checked(newShoot, req.body);
      res.status(201);
      return insertShoot(pool, { ...shoot, demo: false });
    }),
  );

  router.get(
    '/shoots/:id',
    sharedAnswer(house.answers, async (req): Promise<ShootPage> => {
      const shoot = await needShoot(pool, idOf(req.params));
      const all = await listSetups(pool, shoot.id, true);
      const present = all.filter((s) => !s.deleted);
      return { ...shoot, setups: await readBoards(house, shoot, present), removed: all.filter((s) => s.deleted) };
    }),
  );

  router.patch(
    '/shoots/:id',
    answer(async (req) => {
      const { id } = await needShoot(pool, idOf(req.params));
      const [seen, fields] = [versionSeen(req), checked(changedShoot, req.body)];
      await inTransaction(pool, async (db) => {
        await holdRow(db, 'shoots', id);
        assureSeen(await needLiveShoot(db, id), seen, fields);
        await updateShoot(db, id, fields);
      });
      return findShoot(pool, id);
    }),
  );

  router.post(
    '/shoots/:id/copy',
    answer(async (req, res) => {
      const shoot = await needShoot(pool, idOf(req.params));
      res.status(201);
      return inTransaction(pool, async (db) => {
        const copy = await insertShoot(db, { ...shoot, name: `${shoot.name}, copy`.slice(0, 120), demo: false });
        const draft = await PlanDraft.open(db, copy.id);
        await draft.copySetups(await listSetups(db, shoot.id));
        await draft.save();
        return copy;
      });
    }),
  );

  router.post(
    '/shoots/:id/setups',
    answer(async (req, res) => {
      const shoot = await needLiveShoot(pool, idOf(req.params));
      const wish = checked(newSetup, req.body);
      res.status(201);
      return inTransaction(pool, async (db) => {
        const draft = await PlanDraft.open(db, shoot.id);
        const setup = draft.addSetup(wish);
        for (const part of wish.parts) draft.addPart(setup.id, part);
        await draft.save();
        return setup;
      });
    }),
  );

  router.put(
    '/shoots/:id/setup-order',
    answer(async (req) => {
      const shoot = await needLiveShoot(pool, idOf(req.params));
      await orderRows(pool, 'setups', 'shoot_id', shoot.id, checked(order, req.body).ids);
      return { ok: true };
    }),
  );

  router.get(
    '/setups/:id',
    sharedAnswer(house.answers, async (req): Promise<SetupPage> => {
      const setup = await needSetup(pool, idOf(req.params));
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(house, shoot, [setup]);
      const [rolls, parts, planned] = await Promise.all([
        listRollsUnderWay(
          pool,
          board.parts.map((p) => p.id),
        ),
        listParts(pool, [setup.id], true),
        listPlanned(pool, [setup.id], true),
      ]);
      const removed = {
        parts: parts.filter((p) => p.deleted).map((p) => ({ id: p.id, name: p.name })),
        tricks: planned.filter((p) => p.deleted).map((p) => ({ id: p.id, name: p.trick.name })),
      };
      return { ...board, shoot, rolls, removed };
    }),
  );

  router.patch(
    '/setups/:id',
    answer(async (req) => {
      const { id } = await needSetup(pool, idOf(req.params));
      const [seen, fields] = [versionSeen(req), checked(changedSetup, req.body)];
      await inTransaction(pool, async (db) => {
        await holdRow(db, 'setups', id);
        assureSeen(await needLiveSetup(db, id), seen, fields);
        await updateSetup(db, id, fields);
      });
      return findSetup(pool, id);
    }),
  );

  router.post(
    '/setups/:id/copy',
    answer(async (req, res) => {
      const setup = await needLiveSetup(pool, idOf(req.params));
      res.status(201);
      return inTransaction(pool, async (db) => {
        const draft = await PlanDraft.open(db, setup.shoot_id);
        const [copy] = await draft.copySetups([setup], (s) => `${s.name}, copy`);
        await draft.save();
        return copy;
      });
    }),
  );

  router.post(
    '/setups/:id/parts',
    answer(async (req, res) => {
      const setup = await needLiveSetup(pool, idOf(req.params));
      const wish = checked(newPart, req.body);
      res.status(201);
      return inTransaction(pool, async (db) => {
        const draft = await PlanDraft.open(db, setup.shoot_id);
        const part = draft.addPart(setup.id, wish);
        await draft.save();
        return part;
      });
    }),
  );

  for (const [path, table] of [
    ['part-order', 'parts'],
    ['trick-order', 'planned_tricks'],
  ] as const) {
    router.put(
      `/setups/:id/${path}`,
      answer(async (req) => {
        const setup = await needLiveSetup(pool, idOf(req.params));
        await orderRows(pool, table, 'setup_id', setup.id, checked(order, req.body).ids);
        return { ok: true };
      }),
    );
  }

  router.patch(
    '/parts/:id',
    answer(async (req) => {
      const { id } = await needPart(pool, idOf(req.params));
      const [seen, fields] = [versionSeen(req), checked(changedPart, req.body)];
      await inTransaction(pool, async (db) => {
        await holdRow(db, 'parts', id);
        assureSeen(await needLivePart(db, id), seen, fields);
        await updatePart(db, id, fields);
      });
      return findPart(pool, id);
    }),
  );

  router.put(
    '/parts/:id/deleted',
    answer(async (req) => {
      const part = await needPart(pool, idOf(req.params));
      const { on } = checked(marked, req.body);
      const planned = on ? await listPlanned(pool, [part.setup_id]) : [];
      const tricks = planned.filter((p) => Object.values(p.parts).includes(part.id)).map((p) => p.trick.name);
      if (tricks.length)
        throw new Refusal(
          409,
          `${tricks.join(' and ')} ${tricks.length > 1 ? 'rest' : 'rests'} on this part. ` +
            'Take it out of the trick first, or remove the trick.',
          'in-use',
        );
      await markRow(pool, 'parts', part.id, 'deleted_at', on);
      return { ok: true };
    }),
  );

  for (const [path, need] of [
    ['shoots', needShoot],
    ['setups', needSetup],
  ] as const) {
    for (const [word, column] of [
      ['archived', 'archived_at'],
      ['deleted', 'deleted_at'],
    ] as const) {
      router.put(
        `/${path}/:id/${word}`,
        answer(async (req) => {
          const row = await need(pool, idOf(req.params));
          await markRow(pool, path, row.id, column, checked(marked, req.body).on);
          return { ok: true };
        }),
      );
    }
  }

  return router;
}
