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

type Row = { deleted: boolean };

/** @throws Refusal 409 where one of them, named by what it is, was deleted */
function assureLive(rows: Record<string, Row>): void {
  const [what] = Object.entries(rows).find(([, row]) => row.deleted) ?? [];
  if (what)
    throw new Refusal(
      409,
      `This ${what} was deleted, by somebody else perhaps. Bring it back first, then do that again. Nothing was changed.`,
      'deleted',
    );
}

/** The shoot, unless it was deleted: something in it is changed. @throws Refusal 404 or 409 */
export async function needLiveShoot(db: Db, id: string): Promise<Shoot> {
  const shoot = await needShoot(db, id);
  assureLive({ shoot });
  return shoot;
}

/** The setup, when neither it nor its shoot was deleted: something in it is changed. @throws Refusal 404 or 409 */
export async function needLiveSetup(db: Db, id: string): Promise<Setup> {
  const setup = await needSetup(db, id);
  assureLive({ setup, shoot: await needShoot(db, setup.shoot_id) });
  return setup;
}

/** The part, when nothing it belongs to was deleted: it is changed, or something is rolled for it. @throws Refusal 404 or 409 */
export async function needLivePart(db: Db, id: string): Promise<Part> {
  const part = await needPart(db, id);
  assureLive({ part });
  await needLiveSetup(db, part.setup_id);
  return part;
}

/** The planned trick, when nothing it belongs to was deleted: it is changed. @throws Refusal 404 or 409 */
export async function needLivePlanned(db: Db, id: string): Promise<{ planned: Planned; setup: Setup }> {
  const planned = await needPlanned(db, id);
  assureLive({ trick: planned });
  return { planned, setup: await needLiveSetup(db, planned.setup_id) };
}

/** The planned trick. @throws Refusal 404 */
export async function needPlanned(db: Db, id: string): Promise<Planned> {
  const planned = await findPlanned(db, id);
  if (!planned) throw new Refusal(404, 'This trick is not planned here any more. Go back to the setup.', 'missing');
  return planned;
}
