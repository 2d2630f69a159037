import type { Db } from '../platform/database';
import type { House } from '../platform/house';
import { Refusal } from '../platform/http';
import { findJudged } from './judged';
import { findTake, type TakeRecord } from './takes';

const GONE = 'This take is not here any more. Go back to the setup.';

/** The take. @throws Refusal 404 */
export async function needTake(db: Db, id: string): Promise<TakeRecord> {
  const take = await findTake(db, id);
  if (!take) throw new Refusal(404, GONE, 'missing');
  return take;
}

/** The take, judged beside the others of its setup. @throws Refusal 404 */
export async function needJudged(house: Pick<House, 'measures'>, db: Db, id: string) {
  const found = await findJudged(house, db, id);
  if (!found) throw new Refusal(404, GONE, 'missing');
  return found;
}
