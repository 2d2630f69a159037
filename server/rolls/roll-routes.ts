import { readFile } from 'node:fs/promises';
import { Router } from 'express';
import type { Roll } from '../../api/rolls';
import { idParams, rollWish } from '../../api/schemas';
import { needLivePart, needSetup } from '../plan/need';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { setJob } from '../work/measures';
import { PRIORITY } from '../work/queue';
import { asRoll, findRoll, insertRoll } from './rolls';

/** The stand-in camera: roll it and watch it record. */
export function rollRoutes({ pool, storage, queue }: House): Router {
  const router = Router();
  const needRoll = async (db: Db, id: string): Promise<Roll> => {
    const roll = await findRoll(db, id);
    if (!roll) throw new Refusal(404, 'This recording is not known.', 'missing');
    return asRoll(roll);
  };

  router.post(
    '/parts/:id/rolls',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const wish = checked(rollWish, req.body);
      const setup = await needSetup(pool, (await needLivePart(pool, id)).setup_id);
      const rollId = await inTransaction(pool, async (db) => {
        const made = await insertRoll(db, id, { ...wish, scene: wish.scene ?? setup.scene }, false);
        await setJob(db, 'rolls', made, await queue.send(db, 'roll', made, PRIORITY.screen));
        return made;
      });
      res.status(201);
      return needRoll(pool, rollId);
    }),
  );

  router.get(
    '/rolls/:id',
    answer((req) => needRoll(pool, checked(idParams, req.params).id)),
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
