import { access } from 'node:fs/promises';
import { Router, type Response } from 'express';
import { frameParams, savedStill } from '../../api/schemas';
import { STILLS } from '../../core/measures/stills/description';
import { withNames } from '../../media/errors';
import { fullPictures } from '../../media/ffmpeg/frames';
import { probeFile } from '../../media/ffmpeg/probe';
import { resizeCutout, writePng } from '../../media/write/still-out';
import type { House } from '../platform/house';
import { answer, checked, Refusal, whileListening } from '../platform/http';
import { sendFile } from '../platform/send-file';
import { findMeasureOf } from '../work/measures';
import { MadePictures } from './made-pictures';
import { needTake } from './need';

/** Frames of a take as still pictures: whole, and cut out of it. */
export function stillRoutes({ pool, storage }: House): Router {
  const router = Router();
  const pictures = new MadePictures(storage.pictures);

  router.get(
    '/takes/:id/stills/:frame/cutout',
    answer(async (req, res) => {
      const { id, frame } = checked(frameParams, req.params);
      const { save, size } = checked(savedStill, req.query);
      const { delivery } = await needTake(pool, id);
      const made = await findMeasureOf(pool, STILLS, [id]);
      const gone = new Refusal(404, `Frame ${frame} is not cut out. Ask for the frames to hold again.`, 'missing');
      if (!made?.result) throw gone;
      const whole = storage.kept('stills', { itself: made.id }, `cutout-${frame}.png`);
      if (size === 'full') {
        await sendPng(res, whole, save ? `cutout-${frame}.png` : null, gone);
        return undefined;
      }
      await access(whole).catch(() => {
        throw gone;
      });
      const named = `cutout-${made.id}-${Date.parse(made.finished_at ?? '')}-${frame}-${sizeOf(delivery)}.png`;
      const path = await pictures.get(named, whileListening(res), (to, signal) =>
        resizeCutout(whole, to, delivery, signal),
      );
      await sendPng(res, path, save ? `cutout-${frame}-${sizeOf(delivery)}.png` : null, gone);
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
      const { width, height } = take.delivery;
      const wanted = size === 'delivery' ? { width, height } : {};
      const named = `${take.file_hash}-${frame}-${size === 'full' ? 'full' : sizeOf(take.delivery)}.png`;
      const make = async (to: string, signal: AbortSignal) => {
        let found = false;
        for await (const picture of fullPictures(recording, await probeFile(recording, take.name), [frame], signal)) {
          await writePng(picture, to, { signal, ...wanted });
          found = true;
        }
        if (!found) throw gone;
      };
      const path = await pictures.get(named, whileListening(res), make).catch((error: unknown) => {
        throw withNames(error, [{ path: recording, name: take.name }]);
      });
      const saved = size === 'full' ? `frame-${frame}.png` : `frame-${frame}-${sizeOf(take.delivery)}.png`;
      await sendPng(res, path, save ? saved : null, gone);
      return undefined;
    }),
  );

  return router;
}

const sizeOf = ({ width, height }: { width: number; height: number }) => `${width}x${height}`;

/** Sends a picture, to be kept under a name where one is given. */
function sendPng(res: Response, path: string, name: string | null, gone: Refusal): Promise<void> {
  res.set('Cache-Control', 'private, max-age=60').type('png');
  return sendFile(res, path, name, gone);
}
