import type { Db } from '../platform/database';
import { Refusal } from '../platform/http';
import { findTake, type TakeRecord } from './takes';

/** The take. @throws Refusal 404 */
export async function needTake(db: Db, id: string): Promise<TakeRecord> {
  const take = await findTake(db, id);
  if (!take) throw new Refusal(404, 'This take is not here any more. Go back to the setup.', 'missing');
  return take;
}
