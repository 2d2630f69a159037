import { readFile, stat } from 'node:fs/promises';
import { Router } from 'express';
import type { Pool } from 'pg';
import type PgBoss from 'pg-boss';
import { frameTimes, probeFile } from '../../media/probe';
import { standingTake } from '../../core/judge/gate';
import type { MeterReading } from '../../core/judge/meter';
import { gateTake } from '../boards';
import { answer, checked, Refusal } from '../http';
import { sendMeasure } from '../jobs/queue';
import { circle, frameParams, idParams, meterReadings, newTake } from '../schemas';
import { retryMeasurement } from '../sql/queries/jobs';
import { findPart, findSetup, findShoot } from '../sql/queries/shoots';
import {
  circleTake,
  findReport,
  findTake,
  findTakeByUpload,
  insertTake,
  keepMeter,
  listTakesOfParts,
  listTakesToCheck,
} from '../sql/queries/takes';
import { clearEyeChecksOfPart } from '../sql/queries/plans';
import { inTransaction } from '../sql/transaction';
import { proxyPicture, type Storage } from '../storage';
import { dropUpload, uploadPath } from './uploads';

const GONE = 'This take is not here any more. Go back to the setup.';

export function takeRoutes(pool: Pool, storage: Storage, boss: PgBoss): Router {
  const router = Router();

  router.get(
    '/takes',
    answer(() => listTakesToCheck(pool, 200)),
  );

  router.post(
    '/parts/:id/takes',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const { upload_id: uploadId, name } = checked(newTake, req.body);
      const before = await findTakeByUpload(pool, uploadId);
      if (before) return before;
      if (!(await findPart(pool, id)))
        throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
      const path = uploadPath(storage, uploadId);
      if (!(await stat(path).catch(() => null)))
        throw new Refusal(404, 'The upload is not known. Choose the file again.', 'missing');
      try {
        await frameTimes(path, await probeFile(path, name), name);
      } catch (error) {
        await dropUpload(storage, uploadId);
        throw error;
      }
      const { hash, bytes } = await storage.keep(path);
      const takeId = await inTransaction(pool, (db) =>
        insertTake(db, { partId: id, hash, bytes, name, source: 'file', uploadId, circled: false }),
      );
      await dropUpload(storage, uploadId);
      await sendMeasure(boss, takeId);
      res.status(201);
      return findTake(pool, takeId);
    }),
  );

  router.get(
    '/takes/:id',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const take = await findTake(pool, id);
      if (!take) throw new Refusal(404, GONE, 'missing');
      const part = await findPart(pool, take.part_id);
      const setup = part && (await findSetup(pool, part.setup_id));
      const shoot = setup && (await findShoot(pool, setup.shoot_id));
      return { ...take, part, setup, shoot };
    }),
  );

  router.get(
    '/takes/:id/report',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const report = await findReport(pool, id);
      if (!report) throw new Refusal(404, 'This take is not measured yet.', 'missing');
      return report;
    }),
  );

  router.get(
    '/takes/:id/outlines',
    answer(async (req, res) => {
      const { id } = checked(idParams, req.params);
      const take = await findTake(pool, id);
      if (!take) throw new Refusal(404, GONE, 'missing');
      const outlines = await readFile(storage.outlines(take.file_hash), 'utf8').catch(() => null);
      if (!outlines) throw new Refusal(404, 'Nothing is known of who stands where in this take.', 'missing');
      res.set('Cache-Control', 'private, max-age=60').type('json').send(outlines);
      return undefined;
    }),
  );

  router.get(
    '/takes/:id/frames/:frame',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const take = await findTake(pool, id);
      if (!take) throw new Refusal(404, GONE, 'missing');
      const picture = await proxyPicture(storage.proxy(take.file_hash), frame);
      if (!picture) throw new Refusal(404, `Frame ${frame} is not there.`, 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  router.put(
    '/takes/:id/circled',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const { circled } = checked(circle, req.body);
      const take = await findTake(pool, id);
      if (!take) throw new Refusal(404, GONE, 'missing');
      await inTransaction(pool, async (db) => {
        const standing = async () => standingTake((await listTakesOfParts(db, [take.part_id])).map(gateTake))?.id;
        const before = await standing();
        await circleTake(db, id, circled);
        // What somebody saw was seen in the take the part stood on.
        if ((await standing()) !== before) await clearEyeChecksOfPart(db, take.part_id);
      });
      return findTake(pool, id);
    }),
  );

  router.put(
    '/takes/:id/meter',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      const { readings } = checked(meterReadings, req.body);
      if (!(await findTake(pool, id))) throw new Refusal(404, GONE, 'missing');
      await keepMeter(
        pool,
        id,
        [...readings].sort((a: MeterReading, b: MeterReading) => a.frame - b.frame),
      );
      return findTake(pool, id);
    }),
  );

  router.post(
    '/takes/:id/measure',
    answer(async (req) => {
      const { id } = checked(idParams, req.params);
      if (!(await findTake(pool, id))) throw new Refusal(404, GONE, 'missing');
      if (!(await retryMeasurement(pool, id)))
        throw new Refusal(409, 'This take is already measured or being measured.', 'busy');
      await sendMeasure(boss, id);
      return findTake(pool, id);
    }),
  );

  return router;
}
