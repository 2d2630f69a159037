import { access } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { Router, type Request, type Response } from 'express';
import { pipeline } from 'node:stream/promises';
import type { HandOff } from '../../api/packs';
import { newPack, packFileParams } from '../../api/pack-schemas';
import { idParams } from '../../api/schemas';
import { timeOf } from '../../core/packs/steps';
import { needSetup, needShoot } from '../plan/need';
import { findPlanned } from '../plan/plans';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal, sharedAnswer } from '../platform/http';
import { sendFile } from '../platform/send-file';
import { setJob } from '../work/measures';
import { PRIORITY } from '../work/queue';
import { gatherPack } from './gather';
import { zipEntry } from './pack-work';
import { leftBehind } from './left-behind';
import { asPack, bytesOfShoot, deletePack, findPack, insertPack, listPacks, type PackRow } from './packs';
import { cutOutOf, openZip } from './zip';

const WHOLE = { setup_id: null, planned_id: null };
const BACKUP = { recordings: true, mattes: false, plates: true, takes: 'all' } as const;
const USUAL = { recordings: false, mattes: false, plates: true, takes: 'circled' } as const;

/** For files of packs, which hold what others wrote: they run nothing, and ask nobody but this server for pictures. */
const NO_SCRIPTS =
  "sandbox allow-same-origin allow-popups allow-downloads; default-src 'none'; script-src 'none'; " +
  "img-src 'self' data:; media-src 'self'; style-src 'unsafe-inline'; font-src 'self' data:";

/** Handing off: what is ready, packs being made, looked into, and sent. */
export function packRoutes(house: House): Router {
  const { pool, storage, queue } = house;
  const router = Router();
  const needPack = async (params: unknown): Promise<PackRow> => {
    const pack = await findPack(pool, checked(idParams, params).id);
    if (!pack) throw new Refusal(404, 'This pack is not here any more. Make it again.', 'missing');
    return pack;
  };
  const needMade = async (params: unknown) => {
    const pack = await needPack(params);
    if (!pack.made) throw new Refusal(409, pack.failure ?? 'This pack is still being made. Wait until it is.', 'busy');
    return { ...pack, made: pack.made };
  };

  router.get(
    '/shoots/:id/hand-off',
    sharedAnswer(house.answers, async (req): Promise<HandOff> => {
      const shoot = await needShoot(pool, checked(idParams, req.params).id);
      const { report } = await gatherPack(house, shoot, WHOLE, USUAL);
      const { tricks, takes, missing, setups } = report;
      return {
        shoot_id: shoot.id,
        setups: setups.map(({ id, number, name, headline }) => ({
          id,
          number,
          name,
          headline,
          tricks: tricks
            .filter((t) => t.setup_id === id)
            .map((t) => ({
              id: t.id,
              name: t.name,
              verdict: t.verdict,
              minutes: t.steps.length ? timeOf(t.steps) : null,
              takes: t.parts.filter((p) => p.take_id).length,
              missing: missing.filter((m) => m.setup === number && m.trick === t.name),
            })),
          missing: missing.filter((m) => m.setup === number && m.trick === null),
        })),
        recordings_bytes: takes.reduce((sum, t) => sum + t.recording.bytes, 0),
        all_recordings_bytes: await bytesOfShoot(pool, shoot.id),
        left_behind_by_all: await leftBehind(house, shoot.id, WHOLE, BACKUP, []),
        packs: (await listPacks(pool, shoot.id)).map(asPack),
      };
    }),
  );

  router.post(
    '/shoots/:id/packs',
    answer(async (req, res) => {
      const shoot = await needShoot(pool, checked(idParams, req.params).id);
      const { setup_id, planned_id, ...wish } = checked(newPack, req.body);
      const trick = planned_id ? await findPlanned(pool, planned_id) : null;
      if (planned_id && (!trick || trick.deleted))
        throw new Refusal(404, 'This trick is not here any more. Go back to the setup.', 'missing');
      const setup = trick ? await needSetup(pool, trick.setup_id) : setup_id ? await needSetup(pool, setup_id) : null;
      if (setup && setup.shoot_id !== shoot.id)
        throw new Refusal(422, 'This setup belongs to another shoot. Choose one of this shoot.', 'invalid');
      const named = [shoot.name, setup && `setup ${setup.number}`, trick?.trick.name].filter(Boolean).join(', ');
      const scope = { setup_id: setup?.id ?? null, planned_id };
      const id = await inTransaction(pool, async (db) => {
        const made = await insertPack(db, shoot.id, scope, named, wish);
        await setJob(db, 'packs', made, await queue.send(db, 'pack', made, PRIORITY.screen));
        return made;
      });
      res.status(201);
      return asPack((await findPack(pool, id))!);
    }),
  );

  router.get(
    '/packs/:id',
    answer(async (req) => asPack(await needPack(req.params))),
  );

  router.delete(
    '/packs/:id',
    answer(async (req) => {
      await deletePack(pool, (await needPack(req.params)).id);
      return { ok: true };
    }),
  );

  router.get(
    '/packs/:id/files',
    answer(async (req) => (await needMade(req.params)).made.entries.map(({ path, bytes }) => ({ path, bytes }))),
  );

  router.get(
    '/packs/:id/zip',
    answer(async (req, res) => {
      const { id, made } = await needMade(req.params);
      await needRecordings(made.entries.flatMap((e) => (e.recording ? [storage.file(e.recording)] : [])));
      await sendZip(req, res, made, (e) => zipEntry(storage, id, e));
      return undefined;
    }),
  );

  router.get(
    '/packs/:id/look/{*path}',
    answer(async (req, res) => {
      const { id, path } = checked(packFileParams, { ...req.params, path: [req.params.path].flat().join('/') });
      const { made } = await needMade({ id });
      const entry = made.entries.find((e) => e.path === path);
      if (!entry) throw new Refusal(404, `There is no file "${path}" in this pack.`, 'missing');
      res.set('Content-Security-Policy', NO_SCRIPTS);
      const gone = new Refusal(404, 'This file of the pack is not there any more. Make the pack again.', 'missing');
      const { from } = zipEntry(storage, id, entry);
      // What came from outside is saved, and not shown: it may be more than the recording that it is as well.
      if (entry.recording) await sendFile(res.type('application/octet-stream'), from, basename(path), gone);
      else await sendFile(res.type(extname(path)), from, null, gone);
      return undefined;
    }),
  );

  return router;
}

/** All of it must be there before any of it is sent. @throws Refusal 410 */
async function needRecordings(paths: readonly string[]): Promise<void> {
  await Promise.all(paths.map((path) => access(path))).catch(() => {
    throw new Refusal(410, 'A recording of this pack is not there any more. Make the pack again.', 'missing');
  });
}

/** Sends a pack as a ZIP, whole or from any byte on, so that a download that broke off goes on where it was. */
async function sendZip(
  req: Request,
  res: Response,
  { name, bytes, hash, at, entries }: NonNullable<PackRow['made']>,
  from: (entry: (typeof entries)[number]) => ReturnType<typeof zipEntry>,
): Promise<void> {
  const etag = `"${hash}"`;
  const asked = req.get('If-Range');
  const ranges = asked === undefined || asked === etag ? req.range(bytes) : undefined;
  res.set({ 'Accept-Ranges': 'bytes', ETag: etag, 'Cache-Control': 'private, no-cache' }).type('zip');
  res.attachment(`${name}.zip`);
  if (ranges === -1) {
    res.set('Content-Range', `bytes */${bytes}`);
    throw new Refusal(416, 'The pack has no such part. Ask for all of it.', 'range');
  }
  const [range] = Array.isArray(ranges) && ranges.length === 1 ? ranges : [];
  const { start, end } = range ?? { start: 0, end: bytes - 1 };
  res.set('Content-Length', String(end - start + 1));
  if (range) res.status(206).set('Content-Range', `bytes ${start}-${end}/${bytes}`);
  if (req.method === 'HEAD') {
    res.end();
    return;
  }
  const zip = await openZip(name, entries.map(from), new Date(at));
  await pipeline(zip.stream, cutOutOf(start, end), res).catch((error: NodeJS.ErrnoException) => {
    // Whoever hangs up is no fault; what cannot be read ends the download in the middle, so that it is not taken for whole.
    zip.stream.destroy();
    if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') res.destroy(error);
  });
}
