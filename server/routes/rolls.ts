import { readFile } from 'node:fs/promises';
import { Router } from 'express';
import type { Pool } from 'pg';
import type PgBoss from 'pg-boss';
import { answer, checked, Refusal } from '../http';
import { sendRoll } from '../jobs/queue';
import { idParams, rollSettings } from '../schemas';
import { findRoll, insertRoll } from '../sql/queries/jobs';
import { findPart, findSetup } from '../sql/queries/shoots';
import type { Storage } from '../storage';

/** The stand-in camera: roll it and watch it record. */
export function rollRoutes(pool: Pool, storage: Storage, boss: PgBoss): Router {
  const router = Router();

  router.post(
    '/parts/:id/rolls',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const wish = checked(rollSettings, req.body);
      const part = await findPart(pool, id);
      const setup = part && (await findSetup(pool, part.setup_id));
      if (!setup) throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
      const roll = await insertRoll(pool, id, { ...wish, scene: wish.scene ?? setup.scene }, false);
      await sendRoll(boss, roll.id);
      res.status(201);
      return roll;
    }),
  );

  router.get(
    '/rolls/:id',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const roll = await findRoll(pool, id);
      if (!roll) throw new Refusal(404, 'This recording is not known.', 'missing');
      return roll;
    }),
  );

  router.get(
    '/rolls/:id/preview',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const picture = await readFile(storage.preview(id)).catch(() => null);
      if (!picture) throw new Refusal(404, 'No picture yet.', 'missing');
      res.set('Cache-Control', 'no-store').type('jpeg').send(picture);
      return undefined;
    }),
  );

  return router;
}
