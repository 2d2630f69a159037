import { randomUUID } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Router, type Response } from 'express';
import type { Pool } from 'pg';
import type PgBoss from 'pg-boss';
import { sideBySide } from '../../core/judge/side-by-side';
import { readStill, writePng, writeStillClip } from '../../media/still-out';
import { answer, checked, Refusal } from '../http';
import { sendCompare, sendMeasure, sendPlate } from '../jobs/queue';
import { readBench } from '../plate-bench';
import { benchQuery, idParams, keptPlate, marked, twoTakes, newPlate, plateFile } from '../schemas';
import { askComparison, findComparison } from '../sql/queries/comparisons';
import { askPlate, deletePlate, findPlate, keepPlateAs, type PlateRow } from '../sql/queries/plates';
import { findPart, findSetup, findShoot } from '../sql/queries/shoots';
import { circleTake, findReport, findTake, insertTake, type TakeRow } from '../sql/queries/takes';
import { inTransaction } from '../sql/transaction';
import type { Storage } from '../storage';

/** Plates made from takes, and takes held against each other. */
export function plateRoutes(pool: Pool, storage: Storage, boss: PgBoss): Router {
  const router = Router();
  const needPlate = async (params: unknown): Promise<PlateRow> => {
    const plate = await findPlate(pool, checked(idParams, params).id);
    if (!plate) throw new Refusal(404, 'This plate is not here any more. Go back to the plate bench.', 'missing');
    return plate;
  };
  const needMade = async (params: unknown): Promise<PlateRow> => {
    const plate = await needPlate(params);
    if (plate.state !== 'made') throw new Refusal(409, 'This plate is not made yet. Wait until it is.', 'busy');
    return plate;
  };
  const needTakeOf = async (id: string, setupId: string): Promise<TakeRow> => {
    const take = await findTake(pool, id);
    const part = take && (await findPart(pool, take.part_id));
    if (!take || part?.setup_id !== setupId)
      throw new Refusal(404, 'This take does not belong to the setup any more.', 'missing');
    if (take.state !== 'measured') throw new Refusal(409, 'This take is not measured yet. Wait until it is.', 'busy');
    return take;
  };

  router.get(
    '/setups/:id/plates',
    answer(async (req) => {
      const setup = await findSetup(pool, checked(idParams, req.params).id);
      const shoot = setup && (await findShoot(pool, setup.shoot_id));
      if (!setup || !shoot) throw new Refusal(404, 'This setup is not here any more. Go back to the plan.', 'missing');
      return { setup, shoot, ...(await readBench(pool, setup, checked(benchQuery, req.query).for)) };
    }),
  );

  router.post(
    '/setups/:id/plates',
    answer(async (req, res) => {
      const setupId = checked(idParams, req.params).id;
      const wish = checked(newPlate, req.body);
      const take = await needTakeOf(wish.take_id, setupId);
      await needTakeOf(wish.against_id, setupId);
      if (wish.run && (wish.run.end < wish.run.start || wish.run.end >= (take.frame_count ?? 0)))
        throw new Refusal(
          422,
          `The take has frames 0 to ${(take.frame_count ?? 1) - 1}; give a run inside them.`,
          'invalid',
        );
      const { plate, isNew } = await inTransaction(pool, (db) =>
        askPlate(db, {
          setupId,
          takeId: wish.take_id,
          againstId: wish.against_id,
          run: wish.run,
          keepGrain: wish.keep_grain,
        }),
      );
      if (isNew) await sendPlate(boss, plate.id);
      res.status(isNew ? 201 : 200);
      return plate;
    }),
  );

  router.get(
    '/plates/:id',
    answer((req) => needPlate(req.params)),
  );

  router.get(
    '/plates/:id/picture',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const picture = await readFile(`${storage.plate(plate.id)}.jpg`).catch(() => null);
      if (!picture) throw new Refusal(404, 'The picture of this plate is gone. Make the plate again.', 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  router.get(
    '/plates/:id/file',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const { as, seconds } = checked(plateFile, req.query);
      const setup = (await findSetup(pool, plate.setup_id))!,
        shoot = (await findShoot(pool, setup.shoot_id))!;
      const name = `plate-setup-${setup.number}${as === 'full' ? '' : `-${shoot.delivery_width}x${shoot.delivery_height}`}`;
      if (as === 'full') {
        await sendFile(res, storage.plate(plate.id), `${name}.png`);
        return undefined;
      }
      const size = { width: shoot.delivery_width, height: shoot.delivery_height };
      const path = join(storage.root, 'rolling', `${randomUUID()}.${as === 'clip' ? 'mp4' : 'png'}`);
      try {
        const picture = await readStill(storage.plate(plate.id));
        if (as === 'clip') await writeStillClip(picture, path, seconds, shoot.delivery_fps, size);
        else await writePng(picture, path, size);
        await sendFile(res, path, `${name}.${as === 'clip' ? 'mp4' : 'png'}`);
      } finally {
        await rm(path, { force: true });
      }
      return undefined;
    }),
  );

  router.post(
    '/plates/:id/keep',
    answer(async (req, res) => {
      const plate = await needMade(req.params);
      const { part_id: partId } = checked(keptPlate, req.body);
      if (plate.kept_as) return findTake(pool, plate.kept_as);
      const part = await findPart(pool, partId);
      if (part?.setup_id !== plate.setup_id)
        throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
      const from = await findTake(pool, plate.take_id),
        report = await findReport(pool, plate.take_id);
      const path = join(storage.root, 'rolling', `${randomUUID()}.mp4`);
      await writeStillClip(
        await readStill(storage.plate(plate.id)),
        path,
        STILL_SECONDS,
        report?.media.measured_fps ?? 25,
      );
      const { hash, bytes } = await storage.keep(path);
      const takeId = await inTransaction(pool, async (db) => {
        const id = await insertTake(db, {
          partId,
          hash,
          bytes,
          name: `plate made from ${from?.name ?? 'a take'}`.slice(0, 255),
          source: 'plate',
          uploadId: null,
          circled: false,
        });
        await circleTake(db, id, true);
        await keepPlateAs(db, plate.id, id);
        return id;
      });
      await sendMeasure(boss, takeId);
      res.status(201);
      return findTake(pool, takeId);
    }),
  );

  router.put(
    '/plates/:id/deleted',
    answer(async (req) => {
      await deletePlate(pool, checked(idParams, req.params).id, checked(marked, req.body).on);
      return { ok: true };
    }),
  );

  const needPair = async (input: unknown) => {
    const { take_id: takeId, against_id: againstId } = checked(twoTakes, input);
    const [a, b] = await Promise.all([findTake(pool, takeId), findTake(pool, againstId)]);
    const [pa, pb] = await Promise.all([a, b].map((t) => (t ? findPart(pool, t.part_id) : null)));
    if (!a || !b || !pa || !pb) throw new Refusal(404, 'One of the takes is not here any more.', 'missing');
    if (pa.setup_id !== pb.setup_id)
      throw new Refusal(
        422,
        'The takes belong to two setups: the camera stood elsewhere. Choose two of one setup.',
        'invalid',
      );
    const [ra, rb] = await Promise.all([findReport(pool, a.id), findReport(pool, b.id)]);
    if (!ra || !rb) throw new Refusal(409, 'Both takes must be measured first. Wait until they are.', 'busy');
    const noted = (t: TakeRow, report: typeof ra) => ({
      report: { ...report, grain_levels: report.grain_levels ?? null },
      meter: t.meter,
    });
    return {
      take: { ...a, part: pa },
      against: { ...b, part: pb },
      settings: sideBySide(noted(a, ra), noted(b, rb), Math.abs(a.rolled_at.getTime() - b.rolled_at.getTime()) / 60000),
    };
  };

  router.get(
    '/comparisons',
    answer(async (req) => {
      const both = await needPair(req.query);
      return { ...both, comparison: await findComparison(pool, both.take.id, both.against.id) };
    }),
  );

  router.post(
    '/comparisons',
    answer(async (req, res) => {
      const both = await needPair(req.body);
      const pair = { takeId: both.take.id, againstId: both.against.id };
      const isNew = await askComparison(pool, pair);
      if (isNew) await sendCompare(boss, pair);
      res.status(isNew ? 201 : 200);
      return { ...both, comparison: await findComparison(pool, both.take.id, both.against.id) };
    }),
  );

  return router;
}

/** Length of the still clip that stands for a plate among the takes, seconds. */
const STILL_SECONDS = 2;

function sendFile(res: Response, path: string, name: string): Promise<void> {
  return new Promise((resolve, reject) => {
    res.download(path, name, (error) => (error && !res.headersSent ? reject(error) : resolve()));
  });
}
