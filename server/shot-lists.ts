import type { Pool, PoolClient } from 'pg';
import type { CameraNotes } from '../core/plan/types';
import type { ImportChange, ShotList, ShotSetup } from '../core/formats/shot-list';
import { changeTrick, putTrick } from './planning';
import { listPlanned } from './sql/queries/plans';
import {
  insertPart,
  insertSetup,
  listParts,
  listSetups,
  updatePart,
  updateSetup,
  type SetupRow,
  type ShootRow,
} from './sql/queries/shoots';
import { NO_NOTES } from '../core/plan/types';

/** A shoot's plan as a shot list. */
export async function readShotList(db: Pool | PoolClient, shoot: ShootRow): Promise<ShotList> {
  const setups = await listSetups(db, shoot.id);
  const ids = setups.map((s) => s.id);
  const [parts, planned] = await Promise.all([listParts(db, ids), listPlanned(db, ids)]);
  return {
    format: 'umbrastat-shot-list',
    version: 1,
    shoot: {
      name: shoot.name,
      place: shoot.place,
      delivery_width: shoot.delivery_width,
      delivery_height: shoot.delivery_height,
      delivery_fps: shoot.delivery_fps,
    },
    setups: setups.map((s): ShotSetup => {
      const own = parts.filter((p) => p.setup_id === s.id);
      const tricks = planned.filter((p) => p.setup_id === s.id);
      const nameOf = (id: string) => own.find((p) => p.id === id)?.name ?? '';
      return {
        number: s.number,
        name: s.name,
        place: s.place,
        notes: s.notes,
        camera: s.camera,
        parts: own.map((p) => ({
          name: p.name,
          what: p.what,
          seconds: p.seconds,
          optional: p.optional,
          tricks: tricks.filter((t) => Object.values(t.parts).includes(p.id)).map((t) => t.trick.name),
        })),
        tricks: tricks.map((t) => ({
          name: t.trick.name,
          definition: t.trick,
          wishes: t.wishes,
          parts: Object.fromEntries(Object.entries(t.parts).map(([key, id]) => [key, nameOf(id)])),
        })),
      };
    }),
  };
}

/** Carries out what a preview named, all of it or nothing: call inside a transaction. */
export async function applyImport(db: PoolClient, shoot: ShootRow, changes: readonly ImportChange[]): Promise<void> {
  const setups = new Map<number, SetupRow>((await listSetups(db, shoot.id)).map((s) => [s.number, s]));
  for (const change of changes) {
    if (change.kind === 'add-setup') {
      setups.set(
        change.setup,
        await insertSetup(
          db,
          shoot.id,
          { name: change.name, notes: '', scene: 'kiosk', place: '', camera: { ...NO_NOTES } },
          change.setup,
        ),
      );
      continue;
    }
    const setup = setups.get(change.setup);
    if (!setup) continue;
    const partNamed = async (name: string) =>
      (await listParts(db, [setup.id])).find((p) => p.name.toLowerCase() === name.toLowerCase());
    switch (change.kind) {
      case 'change-setup':
        if (change.field === 'name' || change.field === 'place' || change.field === 'notes')
          await updateSetup(db, setup.id, { [change.field]: change.to });
        else {
          setup.camera = { ...setup.camera, [change.field]: change.to } as CameraNotes;
          await updateSetup(db, setup.id, { camera: setup.camera });
        }
        break;
      case 'add-part':
        await insertPart(db, setup.id, change.part);
        break;
      case 'change-part': {
        const part = await partNamed(change.part);
        if (part) await updatePart(db, part.id, { [change.field]: change.to });
        break;
      }
      case 'add-trick':
        await putTrick(
          db,
          setup.id,
          { ...change.trick.definition, name: change.trick.name },
          change.trick.wishes,
          change.trick.parts,
        );
        break;
      case 'change-trick': {
        const planned = (await listPlanned(db, [setup.id])).find(
          (p) => p.trick.name.toLowerCase() === change.trick.name.toLowerCase(),
        );
        if (planned) await changeTrick(db, planned.id, change.trick.definition, change.trick.wishes);
        break;
      }
    }
  }
}
