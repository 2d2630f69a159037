import type { Pool } from 'pg';
import { NO_NOTES } from '../../core/plan/types';
import { findTrick } from '../../core/tricks/library/library';
import { NO_WISHES } from '../../core/tricks/types';
import { withZone } from '../../core/tricks/zones';
import { PlanDraft } from '../plan/draft';
import { findDemoShoot, insertShoot } from '../plan/shoots';
import { inTransaction } from '../platform/database';
import { insertRolls } from '../rolls/rolls';
import { DEMO_SETUPS, DEMO_SHOOT, USUAL } from './demo-plan';

/** Makes the demo shoot if there is none; the stand-in camera rolls its takes one after the other. */
export async function makeDemoShoot(pool: Pool): Promise<void> {
  if (await findDemoShoot(pool)) return;
  await inTransaction(pool, async (db) => {
    const shoot = await insertShoot(db, DEMO_SHOOT);
    const draft = await PlanDraft.open(db, shoot.id);
    const rolls: { partId: string; settings: object; circled: boolean }[] = [];
    for (const setup of DEMO_SETUPS) {
      const made = draft.addSetup({ ...setup, camera: { ...NO_NOTES, ...setup.camera } });
      for (const planned of setup.tricks) {
        const trick = findTrick(planned.key);
        if (!trick) throw new Error(`The demo names a trick "${planned.key}" that is not in the library.`);
        const drawn = planned.zone ? withZone(trick, planned.zone) : trick;
        const { id } = draft.putTrick(made.id, drawn, { ...NO_WISHES, ...planned.wishes });
        for (const sum of planned.sums ?? []) draft.addSum(id, sum.kind, sum.inputs);
      }
      for (const [name, takes] of Object.entries(setup.takes)) {
        const part = draft.partsOf(made.id).find((p) => p.name === name);
        if (!part) throw new Error(`The demo's setup "${setup.name}" has no part "${name}".`);
        for (const { circled = false, ...take } of takes)
          rolls.push({ partId: part.id, settings: { scene: setup.scene, ...USUAL, ...take }, circled });
      }
    }
    await draft.save();
    // Whoever looks for work without a job finds them.
    await insertRolls(db, rolls);
  });
}
