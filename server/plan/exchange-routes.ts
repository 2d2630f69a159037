import type { Shoot } from '../../api/plan';
import { Router, type Response } from 'express';
import { writeSunCalendar } from '../../core/formats/calendar';
import { fileName } from '../../core/formats/file-names';
import { planImport, type ShotList } from '../../core/formats/shot-list';
import { readShotListCsv, writeShotListCsv } from '../../core/formats/shot-list-csv';
import { answer, checked, Refusal } from '../platform/http';
import { importText, shotList } from '../../api/plan-schemas';
import { idParams } from '../../api/schemas';
import { applyImport, readShotList } from './shot-lists';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { needLiveShoot, needShoot } from './need';

/** Shot lists out and in, and the daylight of the shoot's days as a calendar. */
export function exchangeRoutes({ pool }: House): Router {
  const router = Router();
  const shootOf = (params: unknown) => needShoot(pool, checked(idParams, params).id);
  const download = (res: Response, shoot: Shoot, what: string) => {
    res.set('Content-Disposition', `attachment; filename="${fileName(shoot.name)}-${what}"`);
  };

  router.get(
    '/shoots/:id/shot-list.csv',
    answer(async (req, res) => {
      const shoot = await shootOf(req.params);
      download(res, shoot, 'shot-list.csv');
      res.type('text/csv; charset=utf-8').send(writeShotListCsv((await readShotList(pool, shoot)).setups));
      return undefined;
    }),
  );

  router.get(
    '/shoots/:id/shot-list.json',
    answer(async (req, res) => {
      const shoot = await shootOf(req.params);
      download(res, shoot, 'shot-list.json');
      return readShotList(pool, shoot);
    }),
  );

  router.post(
    '/shoots/:id/shot-list',
    answer(async (req) => {
      const shoot = await needLiveShoot(pool, checked(idParams, req.params).id);
      const { text, apply } = checked(importText, req.body);
      // Previewed and carried out from the same reading of the plan, so that what is shown is what is done.
      return inTransaction(pool, async (db) => {
        await db.query('SELECT 1 FROM shoots WHERE id = $1 FOR UPDATE', [shoot.id]);
        const current = await readShotList(db, shoot);
        const { setups, errors } = readAny(text, current);
        const changes = planImport(current.setups, setups);
        if (apply && errors.length)
          throw new Refusal(
            422,
            `Nothing was taken in: ${errors.length} ` +
              `${errors.length === 1 ? 'line has an error' : 'lines have errors'}. Mend the file and choose it again.`,
            'invalid',
          );
        if (apply) await applyImport(db, shoot.id, changes);
        return { errors, changes: changes.map(({ kind, text: said }) => ({ kind, text: said })), applied: apply };
      });
    }),
  );

  router.get(
    '/shoots/:id/daylight.ics',
    answer(async (req, res) => {
      const shoot = await shootOf(req.params);
      const { latitude, longitude } = shoot;
      if (latitude === null || longitude === null || shoot.days.length === 0) {
        throw new Refusal(409, 'Set the place’s latitude and longitude and the days of the shoot first.', 'not-set');
      }
      download(res, shoot, 'daylight.ics');
      res
        .type('text/calendar; charset=utf-8')
        .send(
          writeSunCalendar(
            { shoot: shoot.name, place: shoot.place, latitude, longitude, zone: shoot.time_zone, days: shoot.days },
            new Date().toISOString(),
          ),
        );
      return undefined;
    }),
  );

  return router;
}

/** Reads a shot list of either kind by its content. */
function readAny(text: string, current: ShotList) {
  if (!/^\s*[{[]/.test(text.replace(/^\uFEFF/, '')))
    return readShotListCsv(
      text,
      current.setups.flatMap((s) => s.tricks),
    );
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    const line = jsonErrorLine(text, (error as Error).message);
    return { setups: [], errors: [{ line, text: 'The JSON breaks off or has a mistake here.' }] };
  }
  const result = shotList.validate(json, { abortEarly: false });
  if (result.error)
    return {
      setups: [],
      errors: result.error.details
        .slice(0, 50)
        .map((d) => ({ line: 0, text: `${d.path.join(' › ') || 'file'}: ${d.message}` })),
    };
  return { setups: result.value.setups, errors: [] };
}

/** The line a JSON mistake lies on, from the position the parser names; the last line when it names none. */
function jsonErrorLine(text: string, message: string): number {
  const at = /position (\d+)/.exec(message);
  return text.slice(0, at ? Number(at[1]) : text.length).split('\n').length;
}
