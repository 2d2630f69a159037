import { Router } from 'express';
import type { WipeBenchPage } from '../../api/wipes';
import { frameParams, idParams, proofFile, sidesQuery } from '../../api/schemas';
import { pictureOf } from '../../media/write/picture-row';
import { needSetup, needShoot } from '../plan/need';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { sendFile } from '../platform/send-file';
import { findMeasure } from '../work/measures';
import { readWipeBench } from './wipe-bench';

/** The two sides of a cut on the bench, and the films and frames of proofs. */
export function wipeRoutes(house: House): Router {
  const { pool, storage } = house;
  const router = Router();
  /** Which measure made a proof. */
  const needMade = async (id: string): Promise<'proof' | 'joined'> => {
    const proof = await findMeasure(pool, id);
    const by = (['proof', 'joined'] as const).find((key) => key === proof?.measure);
    if (!proof || proof.deleted || !by)
      throw new Refusal(404, 'This proof is not here any more. Make it again on its bench.', 'missing');
    if (!proof.result) throw new Refusal(409, 'This proof is not made yet. Wait until it is.', 'busy');
    return by;
  };

  router.get(
    '/setups/:id/wipes',
    sharedAnswer(house.answers, async (req): Promise<WipeBenchPage> => {
      const setup = await needSetup(pool, checked(idParams, req.params).id);
      const shoot = await needShoot(pool, setup.shoot_id);
      return { setup, shoot, ...(await readWipeBench(house, setup, checked(sidesQuery, req.query))) };
    }),
  );

  router.get(
    '/proofs/:id/film',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const by = await needMade(id);
      const { as, save } = checked(proofFile, req.query);
      const path = storage.kept(by, { itself: id }, as);
      const gone = new Refusal(404, 'The film of this proof is gone. Make it again.', 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type(as);
      await sendFile(res, path, save ? `proof-${id.slice(0, 8)}.${as}` : null, gone);
      return undefined;
    }),
  );

  router.get(
    '/proofs/:id/frames/:frame',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const by = await needMade(id);
      const picture = await pictureOf(storage.kept(by, { itself: id }, 'jpegs'), frame);
      if (!picture) throw new Refusal(404, `Frame ${frame} is not there.`, 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  return router;
}
