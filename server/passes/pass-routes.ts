import { readFile } from 'node:fs/promises';
import { Router } from 'express';
import type { PassBenchPage, ZonePage } from '../../api/passes';
import { idParams, passesQuery } from '../../api/schemas';
import { PAIR } from '../../core/measures/pair/description';
import { needSetup, needShoot } from '../plan/need';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { findMeasure } from '../work/measures';
import { readPassBench } from './pass-bench';
import { readZones } from './zone-page';

/** Two takes of a setup on the bench, and what lines drawn between them by hand are held against. */
export function passRoutes(house: House): Router {
  const { pool, storage } = house;
  const router = Router();

  router.get(
    '/setups/:id/passes',
    sharedAnswer(house.answers, async (req): Promise<PassBenchPage> => {
      const setup = await needSetup(pool, checked(idParams, req.params).id);
      const shoot = await needShoot(pool, setup.shoot_id);
      return { setup, shoot, ...(await readPassBench(house, setup, checked(passesQuery, req.query))) };
    }),
  );

  router.get(
    '/setups/:id/zones',
    sharedAnswer(house.answers, async (req): Promise<ZonePage> => {
      const setup = await needSetup(pool, checked(idParams, req.params).id);
      return readZones(house, setup, await needShoot(pool, setup.shoot_id));
    }),
  );

  /** A file that the pair of an address kept. */
  const keptOf = async (params: unknown, name: string): Promise<Buffer> => {
    const { id } = checked(idParams, params);
    const pair = await findMeasure(pool, id);
    if (!pair?.result || pair.measure !== PAIR.key)
      throw new Refusal(404, 'The two takes are not held against each other yet.', 'missing');
    const kept = await readFile(storage.kept('pair', { itself: id }, name)).catch(() => null);
    if (!kept) throw new Refusal(404, 'Who stands where in the two is not kept. Measure them again.', 'missing');
    return kept;
  };

  router.get(
    '/pairs/:id/outlines',
    answer(async (req, res) => {
      const kept = await keptOf(req.params, 'outlines.json');
      res.set('Cache-Control', 'private, max-age=60').type('json').send(kept);
      return undefined;
    }),
  );

  router.get(
    '/pairs/:id/gaps',
    answer(async (req, res) => {
      const kept = await keptOf(req.params, 'gaps');
      res.set('Cache-Control', 'private, max-age=60').type('application/octet-stream').send(kept);
      return undefined;
    }),
  );

  return router;
}
