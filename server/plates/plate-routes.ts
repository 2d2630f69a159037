import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import type { PlateBenchPage } from '../../api/plates';
import { benchQuery, idParams, keptPlate, plateFile } from '../../api/schemas';
import { PLATE, type PlateResult } from '../../core/measures/plate/description';
import { readStill, writePng, writeStillClip } from '../../media/write/still-out';
import { needLivePart, needSetup, needShoot } from '../plan/need';
import { findSetupOfTake } from '../plan/shoots';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer, whileListening } from '../platform/http';
import { sendFile } from '../platform/send-file';
import { findSent } from '../takes/judged';
import { MadePictures } from '../takes/made-pictures';
import { circleTake, findTake, insertTake } from '../takes/takes';
import { findMeasure, type MeasureRow } from '../work/measures';
import { readBench } from './plate-bench';

/** Length of the still clip that stands for a plate among the takes, seconds. */
const STILL_SECONDS = 2;

/** Plates made from takes: the bench, and what becomes of a plate that was made. */
export function plateRoutes(house: House): Router {
  const { pool, storage, queue } = house;
  const router = Router();
  const needMade = async (params: unknown): Promise<MeasureRow & { result: PlateResult }> => {
    const row = await findMeasure(pool, checked(idParams, params).id);
    if (!row || row.deleted || row.measure !== PLATE.key)
      throw new Refusal(404, 'This plate is not here any more. Go back to the plate bench.', 'missing');
    if (!row.result) throw new Refusal(409, 'This plate is not made yet. Wait until it is.', 'busy');
    return { ...row, result: row.result as PlateResult };
  };
  const pictures = new MadePictures(storage.pictures);
  const gone = new Refusal(404, 'The picture of this plate is gone. Make the plate again.', 'missing');
  const pictureOf = (id: string, name: 'png' | 'png.jpg') => storage.kept('plate', { itself: id }, name);

  router.get(
    '/setups/:id/plates',
    sharedAnswer(house.answers, async (req): Promise<PlateBenchPage> => {
      const setup = await needSetup(pool, checked(idParams, req.params).id);
      const shoot = await needShoot(pool, setup.shoot_id);
      return { setup, shoot, ...(await readBench(house, setup, checked(benchQuery, req.query).for)) };
    }),
  );

  router.get(
    '/plates/:id/picture',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const picture = await readFile(pictureOf(plate.id, 'png.jpg')).catch(() => null);
      if (!picture) throw gone;
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  router.get(
    '/plates/:id/file',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const { as, seconds } = checked(plateFile, req.query);
      const setup = await findSetupOfTake(pool, plate.take_id);
      const {
        delivery_width: width,
        delivery_height: height,
        delivery_fps: fps,
      } = await needShoot(pool, setup?.shoot_id ?? '');
      const name = `plate-setup-${setup?.number}${as === 'full' ? '' : `-${width}x${height}`}`;
      if (as === 'full') {
        await sendFile(res, pictureOf(plate.id, 'png'), `${name}.png`, gone);
        return undefined;
      }
      const ending = as === 'clip' ? 'mp4' : 'png';
      const named = `plate-${plate.id}-${Date.parse(plate.finished_at ?? '')}-${width}x${height}-${fps}-${seconds}.${ending}`;
      const path = await pictures.get(named, whileListening(res), async (to, signal) => {
        const picture = await readStill(pictureOf(plate.id, 'png'));
        if (as === 'clip') await writeStillClip(picture, to, seconds, fps, { width, height, signal });
        else await writePng(picture, to, { width, height, signal });
      });
      await sendFile(res, path, `${name}.${ending}`, gone);
      return undefined;
    }),
  );

  router.post(
    '/plates/:id/keep',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const { part_id: partId } = checked(keptPlate, req.body);
      const before = await findKept(pool, plate.id);
      if (before) return findSent(house, pool, before);
      const part = await needLivePart(pool, partId);
      if (part.setup_id !== (await findSetupOfTake(pool, plate.take_id))?.id)
        throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
      const from = await findTake(pool, plate.take_id);
      const path = join(storage.root, 'rolling', `${randomUUID()}.mp4`);
      const fps = from?.facts?.media.measured_fps ?? 25;
      await writeStillClip(await readStill(pictureOf(plate.id, 'png')), path, STILL_SECONDS, fps);
      const { hash, bytes } = await storage.keep(path);
      const name = `plate made from ${from?.name ?? 'a take'}`.slice(0, 255);
      const take = { partId, hash, bytes, name, source: 'plate' as const, uploadId: null, circled: false };
      const takeId = await inTransaction(pool, async (db) => {
        // Somebody else may have kept it while the clip was made.
        await db.query('SELECT 1 FROM measures WHERE id = $1 FOR UPDATE', [plate.id]);
        const kept = await findKept(db, plate.id);
        if (kept) return kept;
        const id = await insertTake(db, queue, { ...take, madeOf: plate.id });
        await circleTake(db, id, true);
        return id;
      });
      res.status(201);
      return findSent(house, pool, takeId);
    }),
  );

  return router;
}

/** The take that was made of a plate; null when there is none. */
async function findKept(db: Db, plateId: string): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>('SELECT id FROM takes WHERE made_of = $1 LIMIT 1', [plateId]);
  return rows[0]?.id ?? null;
}
