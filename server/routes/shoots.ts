import { Router } from 'express';
import type { Pool } from 'pg';
import { judgeGate, type Gate } from '../../core/judge/gate';
import { answer, checked, Refusal } from '../http';
import { idParams, newPart, newSetup, newShoot } from '../schemas';
import { listRollsUnderWay } from '../sql/queries/jobs';
import {
  findSetup, findShoot, insertPart, insertSetup, insertShoot, listParts, listSetups, listShoots, type PartRow, type SetupRow,
} from '../sql/queries/shoots';
import { listTakesOfParts, type TakeRow } from '../sql/queries/takes';
import { inTransaction } from '../sql/transaction';

/** A setup with its parts, their takes and what the gate says. */
export interface SetupBoard extends SetupRow {
  parts: (PartRow & { takes: TakeRow[] })[];
  gate: Gate;
}

/** Reads whole boards for some setups of a shoot, and judges their gates afresh. */
export async function readBoards(pool: Pool, setups: SetupRow[]): Promise<SetupBoard[]> {
  const parts = await listParts(pool, setups.map((s) => s.id));
  const takes = await listTakesOfParts(pool, parts.map((p) => p.id));
  return setups.map((setup) => {
    const own = parts.filter((p) => p.setup_id === setup.id)
      .map((p) => ({ ...p, takes: takes.filter((t) => t.part_id === p.id) }));
    const gate = judgeGate(own.map((p) => ({
      id: p.id, name: p.name, optional: p.optional,
      takes: p.takes.map((t) => ({
        id: t.id, number: t.number, circled: t.circled, state: t.state,
        lock: t.verdict && t.text !== null ? { verdict: t.verdict, text: t.text, fix: t.fix } : null,
      })),
    })));
    return { ...setup, parts: own, gate };
  });
}

export function shootRoutes(pool: Pool): Router {
  const router = Router();

  router.get('/shoots', answer(() => listShoots(pool)));

  router.post('/shoots', answer(async (req, res) => {
    const shoot = checked(newShoot, req.body);
    res.status(201);
    return insertShoot(pool, { ...shoot, demo: false });
  }));

  router.get('/shoots/:id', answer(async (req) => {
    const { id } = checked(idParams, req.params);
    const shoot = await findShoot(pool, id);
    if (!shoot) throw new Refusal(404, 'This shoot is not here any more. Go back to the list.', 'missing');
    const boards = await readBoards(pool, await listSetups(pool, id));
    return { ...shoot, setups: boards };
  }));

  router.post('/shoots/:id/setups', answer(async (req, res) => {
    const { id } = checked(idParams, req.params);
    const wish = checked(newSetup, req.body);
    if (!await findShoot(pool, id)) throw new Refusal(404, 'This shoot is not here any more. Go back to the list.', 'missing');
    const setup = await inTransaction(pool, async (db) => {
      const made = await insertSetup(db, id, wish);
      for (const part of wish.parts) await insertPart(db, made.id, part);
      return made;
    });
    res.status(201);
    return setup;
  }));

  router.get('/setups/:id', answer(async (req) => {
    const { id } = checked(idParams, req.params);
    const setup = await findSetup(pool, id);
    if (!setup) throw new Refusal(404, 'This setup is not here any more. Go back to the shoot.', 'missing');
    const [board] = await readBoards(pool, [setup]);
    const shoot = await findShoot(pool, setup.shoot_id);
    const rolls = await listRollsUnderWay(pool, board.parts.map((p) => p.id));
    return { ...board, shoot, rolls };
  }));

  router.post('/setups/:id/parts', answer(async (req, res) => {
    const { id } = checked(idParams, req.params);
    const part = checked(newPart, req.body);
    if (!await findSetup(pool, id)) throw new Refusal(404, 'This setup is not here any more. Go back to the shoot.', 'missing');
    res.status(201);
    return inTransaction(pool, (db) => insertPart(db, id, part));
  }));

  return router;
}
