import { readFile } from 'node:fs/promises';
import { Router } from 'express';
import type { TakePage, TakesCompared } from '../../api/takes';
import { circle, frameParams, idParams, meterReadings, newTake, twoTakes } from '../../api/schemas';
import { longestRun } from '../../core/judge/runs';
import { sideBySide } from '../../core/gate/side-by-side';
import type { JudgedTake } from '../../core/judge/measure';
import { COMPARE } from '../../core/measures/compare/description';
import type { MeasureOf } from '../../api/measures';
import { pictureOf } from '../../media/write/picture-row';
import { needSetup, needShoot } from '../plan/need';
import { clearEyeChecksOfPart } from '../plan/plans';
import { listLiveSetups } from '../plan/shoots';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { asSent } from '../work/measure-routes';
import { findMeasureOf } from '../work/measures';
import { PRIORITY } from '../work/queue';
import { needJudged, needTake } from './need';
import { findJudged, findReport, listTakesToCheck } from './judged';
import { asTake, circleTake, keepMeter, type TakeRecord } from './takes';
import { takeIn } from './taking-in';

/** So many takes are listed to be looked at. */
const MOST_LISTED = 200;

/** Takes: taken in, read, stepped through, circled, and held against each other. */
export function takeRoutes(house: House): Router {
  const { pool, storage, queue } = house;
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id;
  const sent = async (id: string) => {
    const { record, judged } = await needJudged(house, pool, id);
    return asTake(record, judged);
  };

  router.get(
    '/takes',
    sharedAnswer(house.answers, async () => listTakesToCheck(house, pool, await listLiveSetups(pool), MOST_LISTED)),
  );

  router.post(
    '/parts/:id/takes',
    answer(async (req, res) => {
      const partId = idOf(req.params);
      const { upload_id: uploadId, name } = checked(newTake, req.body);
      const { takeId, isNew } = await takeIn(house, partId, uploadId, name);
      res.status(isNew ? 201 : 200);
      return sent(takeId);
    }),
  );

  router.get(
    '/takes/:id',
    sharedAnswer(house.answers, async (req): Promise<TakePage> => {
      const { record: take, judged, of, plate } = await needJudged(house, pool, idOf(req.params));
      // Whoever looks at it waits for it.
      if (take.job_id && take.state === 'waiting') await queue.raise(pool, 'measure', take.job_id, PRIORITY.screen);
      const { part, asked } = of;
      const setup = await needSetup(pool, part.setup_id);
      const shoot = await needShoot(pool, setup.shoot_id);
      return {
        ...asTake(take, judged),
        part,
        setup,
        shoot,
        marks: take.marks,
        plate: plateFrame(take, plate),
        purpose: asked.purpose,
      };
    }),
  );

  router.get(
    '/takes/:id/report',
    answer(async (req) => {
      const report = await findReport(pool, await needJudged(house, pool, idOf(req.params)));
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
      const stands = async () => (await findJudged(house, pool, take.id))?.of.stands?.record.id;
      const before = await stands();
      await inTransaction(pool, (db) => circleTake(db, take.id, circled));
      // What somebody saw was seen in the take the part stood on.
      if ((await stands()) !== before) await clearEyeChecksOfPart(pool, take.part_id);
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
      const [first, second] = [await findJudged(house, pool, takeId), await findJudged(house, pool, againstId)];
      if (!first || !second) throw new Refusal(404, 'One of the takes is not here any more.', 'missing');
      const [a, b] = [first.record, second.record];
      const [partA, partB] = [first.of.part, second.of.part];
      if (partA.setup_id !== partB.setup_id)
        throw new Refusal(
          422,
          'The takes belong to two setups: the camera stood elsewhere. Choose two of one setup.',
          'invalid',
        );
      const [ra, rb] = [await findReport(pool, first), await findReport(pool, second)];
      if (!ra || !rb) throw new Refusal(409, 'Both takes must be measured first. Wait until they are.', 'busy');
      const minutes = Math.abs(Date.parse(a.rolled_at) - Date.parse(b.rolled_at)) / 60000;
      const row = await findMeasureOf(pool, COMPARE, [a.id, b.id]);
      return {
        take: { ...asTake(a, first.judged), part: partA },
        against: { ...asTake(b, second.judged), part: partB },
        settings: sideBySide({ report: ra, meter: a.meter }, { report: rb, meter: b.meter }, minutes),
        marks: { take: a.marks, against: b.marks },
        comparison: row && ((await asSent(house, row)) as MeasureOf<'compare'>),
      };
    }),
  );

  return router;
}

/** The frame of a take's plate to lay something over: the middle of its longest clear run. */
function plateFrame({ id }: TakeRecord, plate: JudgedTake | null): TakePage['plate'] {
  if (!plate || plate.id === id) return null;
  const longest = longestRun(plate.facts.presence.clear_runs);
  return longest ? { take_id: plate.id, frame: Math.round((longest.start + longest.end) / 2) } : null;
}
