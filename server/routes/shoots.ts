import { Router } from 'express';
import type { Pool } from 'pg';
import { readBoards } from '../boards';
import { answer, checked, Refusal } from '../http';
import { copySetup, copyShoot, tricksOnPart } from '../planning';
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
} from '../schemas';
import { listRollsUnderWay } from '../sql/queries/jobs';
import { listPlanned } from '../sql/queries/plans';
import {
  findPart,
  findSetup,
  findShoot,
  insertPart,
  insertSetup,
  insertShoot,
  listParts,
  listSetups,
  listShoots,
  markRow,
  orderRows,
  updatePart,
  updateSetup,
  updateShoot,
  type PartRow,
  type SetupRow,
  type ShootRow,
} from '../sql/queries/shoots';
import { inTransaction } from '../sql/transaction';

/** The shoot, or a refusal. */
export async function needShoot(pool: Pool, id: string): Promise<ShootRow> {
  const shoot = await findShoot(pool, id);
  if (!shoot) throw new Refusal(404, 'This shoot is not here any more. Go back to the list.', 'missing');
  return shoot;
}

export async function needSetup(pool: Pool, id: string): Promise<SetupRow> {
  const setup = await findSetup(pool, id);
  if (!setup) throw new Refusal(404, 'This setup is not here any more. Go back to the shoot.', 'missing');
  return setup;
}

async function needPart(pool: Pool, id: string): Promise<PartRow> {
  const part = await findPart(pool, id);
  if (!part) throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
  return part;
}

/** Shoots, their setups and parts: read, made, changed, ordered, copied, archived, deleted and brought back. */
export function shootRoutes(pool: Pool): Router {
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id as string;

  router.get(
    '/shoots',
    answer(() => listShoots(pool)),
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
    answer(async (req) => {
      const shoot = await needShoot(pool, idOf(req.params));
      const all = await listSetups(pool, shoot.id, true);
      const setups = await readBoards(
        pool,
        shoot,
        all.filter((s) => !s.deleted),
      );
      return { ...shoot, setups, removed: all.filter((s) => s.deleted) };
    }),
  );

  router.patch(
    '/shoots/:id',
    answer(async (req) => {
      const shoot = await needShoot(pool, idOf(req.params));
      await updateShoot(pool, shoot.id, checked(changedShoot, req.body));
      return findShoot(pool, shoot.id);
    }),
  );

  router.post(
    '/shoots/:id/copy',
    answer(async (req, res) => {
      const shoot = await needShoot(pool, idOf(req.params));
      res.status(201);
      return findShoot(pool, await inTransaction(pool, (db) => copyShoot(db, shoot.id)));
    }),
  );

  router.post(
    '/shoots/:id/setups',
    answer(async (req, res) => {
      const shoot = await needShoot(pool, idOf(req.params));
      const wish = checked(newSetup, req.body);
      const setup = await inTransaction(pool, async (db) => {
        const made = await insertSetup(db, shoot.id, wish);
        for (const part of wish.parts) await insertPart(db, made.id, part);
        return made;
      });
      res.status(201);
      return setup;
    }),
  );

  router.put(
    '/shoots/:id/setup-order',
    answer(async (req) => {
      const shoot = await needShoot(pool, idOf(req.params));
      await orderRows(pool, 'setups', 'shoot_id', shoot.id, checked(order, req.body).ids);
      return { ok: true };
    }),
  );

  router.get(
    '/setups/:id',
    answer(async (req) => {
      const setup = await needSetup(pool, idOf(req.params));
      const shoot = await needShoot(pool, setup.shoot_id);
      const [board] = await readBoards(pool, shoot, [setup]);
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
      const setup = await needSetup(pool, idOf(req.params));
      const fields = checked(changedSetup, req.body);
      await updateSetup(
        pool,
        setup.id,
        fields.camera ? { ...fields, camera: { ...setup.camera, ...fields.camera } } : fields,
      );
      return findSetup(pool, setup.id);
    }),
  );

  router.post(
    '/setups/:id/copy',
    answer(async (req, res) => {
      const setup = await needSetup(pool, idOf(req.params));
      res.status(201);
      return findSetup(
        pool,
        await inTransaction(pool, (db) => copySetup(db, setup.id, setup.shoot_id, `${setup.name}, copy`)),
      );
    }),
  );

  router.post(
    '/setups/:id/parts',
    answer(async (req, res) => {
      const setup = await needSetup(pool, idOf(req.params));
      const part = checked(newPart, req.body);
      res.status(201);
      return inTransaction(pool, (db) => insertPart(db, setup.id, part));
    }),
  );

  router.put(
    '/setups/:id/part-order',
    answer(async (req) => {
      const setup = await needSetup(pool, idOf(req.params));
      await orderRows(pool, 'parts', 'setup_id', setup.id, checked(order, req.body).ids);
      return { ok: true };
    }),
  );

  router.put(
    '/setups/:id/trick-order',
    answer(async (req) => {
      const setup = await needSetup(pool, idOf(req.params));
      await orderRows(pool, 'planned_tricks', 'setup_id', setup.id, checked(order, req.body).ids);
      return { ok: true };
    }),
  );

  router.patch(
    '/parts/:id',
    answer(async (req) => {
      const part = await needPart(pool, idOf(req.params));
      await updatePart(pool, part.id, checked(changedPart, req.body));
      return findPart(pool, part.id);
    }),
  );

  router.put(
    '/parts/:id/deleted',
    answer(async (req) => {
      const part = await needPart(pool, idOf(req.params));
      const { on } = checked(marked, req.body);
      const tricks = on ? await tricksOnPart(pool, part) : [];
      if (tricks.length)
        throw new Refusal(
          409,
          `${tricks.join(' and ')} ${tricks.length > 1 ? 'rest' : 'rests'} on this part. Take it out of the ` +
            `trick first, or remove the trick.`,
          'in-use',
        );
      await markRow(pool, 'parts', part.id, 'deleted_at', on);
      return { ok: true };
    }),
  );

  for (const [path, table, need] of [
    ['shoots', 'shoots', needShoot],
    ['setups', 'setups', needSetup],
  ] as const) {
    for (const [word, column] of [
      ['archived', 'archived_at'],
      ['deleted', 'deleted_at'],
    ] as const) {
      router.put(
        `/${path}/:id/${word}`,
        answer(async (req) => {
          const row = await need(pool, idOf(req.params));
          await markRow(pool, table, row.id, column, checked(marked, req.body).on);
          return { ok: true };
        }),
      );
    }
  }

  return router;
}
