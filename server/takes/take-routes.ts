import { readFile, stat } from 'node:fs/promises';
import { Router } from 'express';
import type { TakePage, TakesCompared } from '../../api/takes';
import { circle, frameParams, idParams, meterReadings, newTake, twoTakes } from '../../api/schemas';
import { standingTake } from '../../core/judge/gate';
import { sideBySide } from '../../core/judge/side-by-side';
import { COMPARE } from '../../core/measures/compare';
import type { MeasureOf } from '../../api/measures';
import { pictureOf } from '../../media/picture-row';
import { frameTimes, probeFile } from '../../media/probe';
import { needPart, needSetup, needShoot } from '../plan/need';
import { clearEyeChecksOfPart } from '../plan/plans';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { asSent } from '../work/measure-routes';
import { findMeasureOf } from '../work/measures';
import { PRIORITY } from '../work/queue';
import { needTake } from './need';
import {
  asTake,
  circleTake,
  findReport,
  findTake,
  findTakeByUpload,
  gateTake,
  insertTake,
  keepMeter,
  listTakesOfParts,
  listTakesToCheck,
} from './takes';
import { dropUpload, uploadPath } from './uploads';

/** So many takes are listed to be looked at. */
const MOST_LISTED = 200;

/** Takes: taken in, read, stepped through, circled, and held against each other. */
export function takeRoutes(house: House): Router {
  const { pool, storage, queue } = house;
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id;
  const sent = async (id: string) => asTake(await needTake(pool, id));

  router.get(
    '/takes',
    answer(() => listTakesToCheck(pool, MOST_LISTED)),
  );

  router.post(
    '/parts/:id/takes',
    answer(async (req, res) => {
      const partId = idOf(req.params);
      const { upload_id: uploadId, name } = checked(newTake, req.body);
      const before = await findTakeByUpload(pool, uploadId);
      if (before) return asTake(before);
      await needPart(pool, partId);
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
      const take = { partId, hash, bytes, name, source: 'file' as const, uploadId, circled: false };
      const takeId = await inTransaction(pool, (db) => insertTake(db, queue, take));
      await dropUpload(storage, uploadId);
      res.status(201);
      return sent(takeId);
    }),
  );

  router.get(
    '/takes/:id',
    answer(async (req): Promise<TakePage> => {
      const take = await needTake(pool, idOf(req.params));
      // Whoever looks at it waits for it.
      if (take.job_id && take.state === 'waiting') await queue.raise(pool, 'measure', take.job_id, PRIORITY.screen);
      const part = await needPart(pool, take.part_id);
      const setup = await needSetup(pool, part.setup_id);
      return { ...asTake(take), part, setup, shoot: await needShoot(pool, setup.shoot_id) };
    }),
  );

  router.get(
    '/takes/:id/report',
    answer(async (req) => {
      const report = await findReport(pool, await needTake(pool, idOf(req.params)));
      if (!report) throw new Refusal(404, 'This take is not measured yet.', 'missing');
      return report;
    }),
  );

  router.get(
    '/takes/:id/outlines',
    answer(async (req, res) => {
      const take = await needTake(pool, idOf(req.params));
      const path = storage.kept('take', { recording: take.file_hash }, 'outlines.json');
      const outlines = await readFile(path, 'utf8').catch(() => null);
      if (!outlines) throw new Refusal(404, 'Nothing is known of who stands where in this take.', 'missing');
      res.set('Cache-Control', 'private, max-age=60').type('json').send(outlines);
      return undefined;
    }),
  );

  router.get(
    '/takes/:id/frames/:frame',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const take = await needTake(pool, id);
      const picture = await pictureOf(storage.kept('take', { recording: take.file_hash }, 'jpegs'), frame);
      if (!picture) throw new Refusal(404, `Frame ${frame} is not there.`, 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  router.put(
    '/takes/:id/circled',
    answer(async (req) => {
      const take = await needTake(pool, idOf(req.params));
      const { circled } = checked(circle, req.body);
      await inTransaction(pool, async (db) => {
        const before = await standingIn(db, take.part_id);
        await circleTake(db, take.id, circled);
        // What somebody saw was seen in the take the part stood on.
        if ((await standingIn(db, take.part_id)) !== before) await clearEyeChecksOfPart(db, take.part_id);
      });
      return sent(take.id);
    }),
  );

  router.put(
    '/takes/:id/meter',
    answer(async (req) => {
      const id = idOf(req.params);
      const { readings } = checked(meterReadings, req.body);
      await needTake(pool, id);
      await keepMeter(
        pool,
        id,
        [...readings].sort((a, b) => a.frame - b.frame),
      );
      return sent(id);
    }),
  );

  router.get(
    '/comparisons',
    answer(async (req): Promise<TakesCompared> => {
      const { take_id: takeId, against_id: againstId } = checked(twoTakes, req.query);
      const [a, b] = [await findTake(pool, takeId), await findTake(pool, againstId)];
      if (!a || !b) throw new Refusal(404, 'One of the takes is not here any more.', 'missing');
      const [partA, partB] = [await needPart(pool, a.part_id), await needPart(pool, b.part_id)];
      if (partA.setup_id !== partB.setup_id)
        throw new Refusal(
          422,
          'The takes belong to two setups: the camera stood elsewhere. Choose two of one setup.',
          'invalid',
        );
      const [ra, rb] = [await findReport(pool, a), await findReport(pool, b)];
      if (!ra || !rb) throw new Refusal(409, 'Both takes must be measured first. Wait until they are.', 'busy');
      const minutes = Math.abs(Date.parse(a.rolled_at) - Date.parse(b.rolled_at)) / 60000;
      const row = await findMeasureOf(pool, COMPARE, [a.id, b.id]);
      return {
        take: { ...asTake(a), part: partA },
        against: { ...asTake(b), part: partB },
        settings: sideBySide({ report: ra, meter: a.meter }, { report: rb, meter: b.meter }, minutes),
        comparison: row && ((await asSent(house, row)) as MeasureOf<'compare'>),
      };
    }),
  );

  return router;
}

/** The take that a part stands on. */
async function standingIn(db: Db, partId: string): Promise<string | undefined> {
  const takes = await listTakesOfParts(db, [partId]);
  return standingTake(takes.map((t) => gateTake(asTake(t))))?.id;
}
