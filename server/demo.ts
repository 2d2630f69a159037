import type { Pool } from 'pg';
import { NO_NOTES } from '../core/plan/types';
import { findTrick } from '../core/tricks/library';
import { NO_WISHES } from '../core/tricks/types';
import { DEMO_SETUPS, DEMO_SHOOT } from './demo-plan';
import { putTrick } from './planning';
import { insertRoll } from './sql/queries/jobs';
import { insertSum } from './sql/queries/plans';
import { findDemoShoot, insertSetup, insertShoot, listParts } from './sql/queries/shoots';
import { inTransaction } from './sql/transaction';

/** Makes the demo shoot if there is none, and has the stand-in camera roll its takes. */
export async function makeDemoShoot(pool: Pool): Promise<void> {
  if (await findDemoShoot(pool)) return;
  await inTransaction(pool, async (db) => {
    const shoot = await insertShoot(db, DEMO_SHOOT);
    for (const setup of DEMO_SETUPS) {
      const made = await insertSetup(db, shoot.id, { ...setup, camera: { ...NO_NOTES, ...setup.camera } });
      for (const planned of setup.tricks) {
        const trick = findTrick(planned.key);
        if (!trick) throw new Error(`The demo names a trick "${planned.key}" that is not in the library.`);
        const id = await putTrick(db, made.id, trick, { ...NO_WISHES, ...planned.wishes });
        for (const sum of planned.sums ?? []) await insertSum(db, id, sum.kind, sum.inputs);
      }
      const parts = await listParts(db, [made.id]);
      for (const [name, takes] of Object.entries(setup.takes)) {
        const part = parts.find((p) => p.name === name);
        if (!part) throw new Error(`The demo's setup "${setup.name}" has no part "${name}".`);
        for (const { circled = false, ...take } of takes) {
          await insertRoll(
            db,
            part.id,
            {
              scene: setup.scene,
              tripod: 'still',
              crossing: 'nobody',
              seconds: 6,
              fps: 25,
              width: 1280,
              grain: 2,
              seed: 1,
              ...take,
            },
            circled,
          );
        }
      }
    }
  });
}
