import { randomUUID } from 'node:crypto';
import { access, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Router, type Response } from 'express';
import { frameParams, savedStill } from '../../api/schemas';
import { STILLS } from '../../core/measures/stills';
import { fullPictures } from '../../media/frames';
import { probeFile } from '../../media/probe';
import { resizeCutout, writePng } from '../../media/still-out';
import type { House } from '../platform/house';
import { answer, checked, Refusal, whileListening } from '../platform/http';
import { findMeasureOf } from '../work/measures';
import { needTake } from './need';

/** Frames of a take as still pictures: whole, and cut out of it. */
export function stillRoutes({ pool, storage }: House): Router {
  const router = Router();

  router.get(
    '/takes/:id/stills/:frame/cutout',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const { save, size } = checked(savedStill, req.query);
      const { delivery } = await needTake(pool, id);
      const made = await findMeasureOf(pool, STILLS, [id]);
      const gone = new Refusal(404, `Frame ${frame} is not cut out. Ask for the frames to hold again.`, 'missing');
      if (!made?.result) throw gone;
      const path = storage.kept('stills', { itself: made.id }, `cutout-${frame}.png`);
      if (size === 'full') {
        await sendPng(res, path, save ? `cutout-${frame}.png` : null, gone);
        return undefined;
      }
      const smaller = join(storage.root, 'rolling', `${randomUUID()}.png`);
      try {
        await access(path).catch(() => {
          throw gone;
        });
        await resizeCutout(path, smaller, delivery);
        await sendPng(res, smaller, save ? `cutout-${frame}-${sizeOf(delivery)}.png` : null, gone);
      } finally {
        await rm(smaller, { force: true });
      }
      return undefined;
    }),
  );

  router.get(
    '/takes/:id/stills/:frame/picture',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const { save, size } = checked(savedStill, req.query);
      const take = await needTake(pool, id);
      const gone = new Refusal(404, `Frame ${frame} is not there.`, 'missing');
      if (take.facts && frame >= take.facts.media.frame_count) throw gone;
      const recording = storage.file(take.file_hash);
      const path = join(storage.root, 'rolling', `${randomUUID()}.png`);
      const signal = whileListening(res);
      const wanted = size === 'delivery' ? { width: take.delivery.width, height: take.delivery.height } : {};
      try {
        let found = false;
        for await (const picture of fullPictures(recording, await probeFile(recording, take.name), [frame], signal)) {
          await writePng(picture, path, { signal, ...wanted });
          found = true;
        }
        if (!found) throw gone;
        const named = size === 'full' ? `frame-${frame}.png` : `frame-${frame}-${sizeOf(take.delivery)}.png`;
        await sendPng(res, path, save ? named : null, gone);
      } finally {
        await rm(path, { force: true });
      }
      return undefined;
    }),
  );

  return router;
}

const sizeOf = ({ width, height }: { width: number; height: number }) => `${width}x${height}`;

/** Sends a picture, to be kept under a name where one is given. */
function sendPng(res: Response, path: string, name: string | null, gone: Refusal): Promise<void> {
  return new Promise((resolve, reject) => {
    const done = (error?: Error) => (error && !res.headersSent ? reject(gone) : resolve());
    res.set('Cache-Control', 'private, max-age=60');
    if (name) res.download(path, name, done);
    else res.type('png').sendFile(path, done);
  });
}
