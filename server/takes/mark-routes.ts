import { Router } from 'express';
import type { ImportPreview } from '../../api/plan';
import { importText } from '../../api/plan-schemas';
import { changedMark, idParams, marked, marksFile, newMark } from '../../api/schemas';
import { fileName } from '../../core/formats/file-names';
import { planMarks, readMarks } from '../../core/formats/marks-in';
import { exactRate, marksCsv, marksVtt, type MarkedTake } from '../../core/formats/marks-out';
import { MOST_MARKS, type Mark } from '../../core/plan/marks';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { needShoot } from '../plan/need';
import { findSetupOfTake } from '../plan/shoots';
import { findJudged } from './judged';
import { changeMark, countMarks, deleteMark, findMark, insertMark } from './marks';
import { needTake } from './need';
import type { TakeRecord } from './takes';

/** Marks on frames of takes: kept, moved, named, deleted, and brought back. */
export function markRoutes(house: House): Router {
  const { pool } = house;
  const router = Router();
  const idOf = (params: unknown) => checked(idParams, params).id;

  router.post(
    '/takes/:id/marks',
    answer(async (req, res): Promise<Mark> => {
      const take = await needTake(pool, idOf(req.params));
      const mark = checked(newMark, req.body);
      if ((mark.kind === 'own') !== (mark.found === null))
        throw new Refusal(
          422,
          'A beat is kept with the frame on which it was found; a mark of your own has none.',
          'invalid',
        );
      needFrame(take, mark.frame);
      const id = await inTransaction(pool, async (db) => {
        if ((await countMarks(db, take.id)) >= MOST_MARKS)
          throw new Refusal(409, `This take has ${MOST_MARKS} marks. Delete some first.`, 'many');
        return insertMark(db, take.id, mark);
      });
      res.status(201);
      return needMark(pool, id);
    }),
  );

  router.get(
    '/takes/:id/marks/file',
    answer(async (req, res) => {
      const { as } = checked(marksFile, req.query);
      const { about } = await markedTake(house, idOf(req.params));
      const file = `${fileName(about.name)}-marks.${as}`;
      res.attachment(file).type(as === 'vtt' ? 'text/vtt' : 'text/csv');
      res.send(as === 'vtt' ? marksVtt(about) : marksCsv([about]));
      return undefined;
    }),
  );

  router.post(
    '/takes/:id/marks/file',
    answer(async (req): Promise<ImportPreview> => {
      const { text, apply } = checked(importText, req.body);
      const { about, record } = await markedTake(house, idOf(req.params));
      const { marks, errors } = readMarks(text, { ...about, frameCount: record.facts!.media.frame_count });
      return inTransaction(pool, async (db) => {
        const kept = await countMarks(db, record.id);
        const changes = planMarks(record.marks, marks);
        if (apply && errors.length)
          throw new Refusal(422, `Nothing was taken in: line ${errors[0].line}: ${errors[0].text}`, 'invalid');
        if (kept + changes.filter((c) => c.kind === 'add-mark').length > MOST_MARKS)
          throw new Refusal(409, `A take has ${MOST_MARKS} marks at most. Take some out of the file.`, 'many');
        for (const change of apply ? changes : []) {
          const { frame, name } = change;
          if (change.kind === 'move-mark') await changeMark(db, change.id, { frame });
          else await insertMark(db, record.id, { frame, name, kind: 'own', found: null });
        }
        return { errors, changes: changes.map(({ kind, text: said }) => ({ kind, text: said })), applied: apply };
      });
    }),
  );

  router.patch(
    '/marks/:id',
    answer(async (req): Promise<Mark> => {
      const { id, take_id: takeId } = await needMark(pool, idOf(req.params));
      const change = checked(changedMark, req.body);
      if (change.frame !== undefined) needFrame(await needTake(pool, takeId), change.frame);
      await changeMark(pool, id, change);
      return needMark(pool, id);
    }),
  );

  router.put(
    '/marks/:id/deleted',
    answer(async (req): Promise<Mark> => {
      const { id } = await needMark(pool, idOf(req.params));
      await deleteMark(pool, id, checked(marked, req.body).on);
      return needMark(pool, id);
    }),
  );

  return router;
}

/** A take with its marks, and what their times are told by. @throws Refusal 404, or 409 while it is not measured */
async function markedTake(house: House, id: string): Promise<{ about: MarkedTake; record: TakeRecord }> {
  const found = await findJudged(house, house.pool, id);
  if (!found) throw new Refusal(404, 'This take is not here any more. Go back to the setup.', 'missing');
  const { record, of } = found;
  const setup = await findSetupOfTake(house.pool, record.id);
  const media = record.facts?.media;
  const rate = media && exactRate(media.container_fps, media.measured_fps);
  if (!setup || !rate) throw new Refusal(409, 'Its rate is not known: wait until it is measured.', 'busy');
  const shoot = await needShoot(house.pool, setup.shoot_id);
  const name = `${shoot.name}, setup ${setup.number}, ${of.part.name}, take ${record.number}`;
  return { about: { name, file: record.name, marks: record.marks, rate, timecode: media.timecode }, record };
}

/** @throws Refusal 404 */
async function needMark(db: Db, id: string) {
  const mark = await findMark(db, id);
  if (!mark) throw new Refusal(404, 'This mark is not here any more. Go back to the take.', 'missing');
  return mark;
}

/** @throws Refusal 409 or 422 where the take has no such frame */
function needFrame({ facts }: TakeRecord, frame: number): void {
  if (!facts) throw new Refusal(409, 'This take is not measured yet. Wait until it is, then mark its frames.', 'busy');
  const { frame_count: count } = facts.media;
  if (frame >= count) throw new Refusal(422, `The take has frames 0 to ${count - 1}; mark one of them.`, 'invalid');
}
