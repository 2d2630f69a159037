import type { Part, Planned, Setup, Shoot } from '../../api/plan';
import type { Db } from '../platform/database';
import { Refusal } from '../platform/http';
import { findPlanned } from './plans';
import { findPart, findSetup, findShoot } from './shoots';

/** The shoot. @throws Refusal 404 */
export async function needShoot(db: Db, id: string): Promise<Shoot> {
  const shoot = await findShoot(db, id);
  if (!shoot) throw new Refusal(404, 'This shoot is not here any more. Go back to the list.', 'missing');
  return shoot;
}

/** The setup. @throws Refusal 404 */
export async function needSetup(db: Db, id: string): Promise<Setup> {
  const setup = await findSetup(db, id);
  if (!setup) throw new Refusal(404, 'This setup is not here any more. Go back to the shoot.', 'missing');
  return setup;
}

/** The part. @throws Refusal 404 */
export async function needPart(db: Db, id: string): Promise<Part> {
  const part = await findPart(db, id);
  if (!part) throw new Refusal(404, 'This part is not here any more. Go back to the setup.', 'missing');
  return part;
}

/** The part, when nothing it belongs to was deleted: something is rolled for it. @throws Refusal 404 or 409 */
export async function needLivePart(db: Db, id: string): Promise<Part> {
  const part = await needPart(db, id);
  const setup = await needSetup(db, part.setup_id);
  const shoot = await needShoot(db, setup.shoot_id);
  const [what] = Object.entries({ part, setup, shoot }).find(([, row]) => row.deleted) ?? [];
  if (what)
    throw new Refusal(
      409,
      `This ${what} was deleted. Bring it back first, then roll or choose the file again.`,
      'deleted',
    );
  return part;
}

/** The planned trick. @throws Refusal 404 */
export async function needPlanned(db: Db, id: string): Promise<Planned> {
  const planned = await findPlanned(db, id);
  if (!planned) throw new Refusal(404, 'This trick is not planned here any more. Go back to the setup.', 'missing');
  return planned;
}
