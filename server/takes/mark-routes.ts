import { Router } from 'express';
import { changedMark, idParams, marked, newMark } from '../../api/schemas';
import { MOST_MARKS, type Mark } from '../../core/moments/marks';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { answer, checked, Refusal } from '../platform/http';
import { changeMark, countMarks, deleteMark, findMark, insertMark } from './marks';
import { needTake } from './need';
import type { TakeRecord } from './takes';

/** Marks on frames of takes: kept, moved, named, deleted, and brought back. */
export function markRoutes({ pool }: House): Router {
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
