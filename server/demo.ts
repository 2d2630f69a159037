import type { Pool } from 'pg';
import type { CameraSettings } from '../standin/settings';
import { insertRoll } from './sql/queries/jobs';
import { findDemoShoot, insertPart, insertSetup, insertShoot } from './sql/queries/shoots';
import { inTransaction } from './sql/transaction';

type Take = Partial<CameraSettings> & { circled?: true };
interface DemoPart { name: string; what: string; takes: Take[] }
interface DemoSetup { name: string; notes: string; scene: CameraSettings['scene']; parts: DemoPart[] }

/** The made-up shoot "Night Ferry": some takes sound, some with one fault each. */
const SETUPS: DemoSetup[] = [
  {
    name: 'Kiosk, locked, 35 mm', notes: 'Double at the ticket kiosk. Tripod on the flagstones, hook weighted.', scene: 'kiosk',
    parts: [
      { name: 'Plate', what: 'Five seconds of the empty kiosk, nobody, no shadow', takes: [{ tripod: 'knock', seed: 11 }] },
      { name: 'Pass A', what: 'Clerk crosses to the left window', takes: [{ tripod: 'still', crossing: 'right-to-left', seed: 12, circled: true }] },
      { name: 'Pass B', what: 'Clerk waits at the right window', takes: [{ tripod: 'drift', crossing: 'stands', seed: 13 }] },
    ],
  },
  {
    name: 'Mooring pillar, locked, 50 mm', notes: 'Slip-behind at the pillar.', scene: 'pillar',
    parts: [
      { name: 'Pass', what: 'Passenger walks behind the pillar', takes: [{ tripod: 'still', crossing: 'left-to-right', seed: 21, circled: true }] },
      { name: 'Plate', what: 'Five seconds of the empty quay', takes: [{ tripod: 'still', seed: 22, circled: true }] },
    ],
  },
  {
    name: 'Bench and tarpaulin, 28 mm', notes: 'See-through figure on the bench.', scene: 'bench',
    parts: [
      { name: 'Pass', what: 'Figure stands by the bench', takes: [{ tripod: 'handheld', crossing: 'stands', seed: 31 }, { tripod: 'breathing', crossing: 'stands', seed: 32 }] },
      { name: 'Plate', what: 'The bench with nobody', takes: [] },
    ],
  },
];

/** Makes the demo shoot if there is none, and has the stand-in camera roll its takes. */
export async function makeDemoShoot(pool: Pool): Promise<void> {
  if (await findDemoShoot(pool)) return;
  await inTransaction(pool, async (db) => {
    const shoot = await insertShoot(db, {
      name: 'Night Ferry', place: 'Quay of the island ferry', delivery_width: 1280, delivery_height: 720, delivery_fps: 25, demo: true,
    });
    for (const setup of SETUPS) {
      const made = await insertSetup(db, shoot.id, setup);
      for (const part of setup.parts) {
        const row = await insertPart(db, made.id, { ...part, optional: false });
        for (const { circled = false, ...take } of part.takes) {
          const settings: CameraSettings = {
            scene: setup.scene, tripod: 'still', crossing: 'nobody', seconds: 6, fps: 25, width: 1280, grain: 2, seed: 1, ...take,
          };
          await insertRoll(db, row.id, settings, circled);
        }
      }
    }
  });
}
