import type { PoolClient } from 'pg';
import type { Shoot } from '../../api/plan';
import type { ImportChange, ShotList, ShotSetup } from '../../core/formats/shot-list';
import { NO_NOTES } from '../../core/plan/types';
import type { Db } from '../platform/database';
import { PlanDraft } from './draft';
import { listPlanned } from './plans';
import { listParts, listSetups } from './shoots';

/** A shoot's plan as a shot list. */
export async function readShotList(db: Db, shoot: Shoot): Promise<ShotList> {
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
export async function applyImport(db: PoolClient, shootId: string, changes: readonly ImportChange[]): Promise<void> {
  const draft = await PlanDraft.open(db, shootId);
  const same = (a: string) => (b: { name: string }) => a.toLowerCase() === b.name.toLowerCase();
  for (const change of changes) {
    if (change.kind === 'add-setup') {
      const fields = { name: change.name, notes: '', scene: 'kiosk' as const, place: '', camera: { ...NO_NOTES } };
      draft.addSetup(fields, change.setup);
      continue;
    }
    const setup = draft.setupNumbered(change.setup);
    if (!setup) continue;
    switch (change.kind) {
      case 'change-setup': {
        const ownField = change.field === 'name' || change.field === 'place' || change.field === 'notes';
        const changed = { [change.field]: change.to };
        draft.changeSetup(setup, ownField ? changed : { camera: changed });
        break;
      }
      case 'add-part':
        draft.addPart(setup.id, change.part);
        break;
      case 'change-part': {
        const part = draft.partsOf(setup.id).find(same(change.part));
        if (part) draft.changePart(part, { [change.field]: change.to });
        break;
      }
      case 'add-trick': {
        const { definition, name, wishes, parts } = change.trick;
        draft.putTrick(setup.id, { ...definition, name }, wishes, parts);
        break;
      }
      case 'change-trick': {
        const planned = draft.tricksOf(setup.id).find((p) => same(change.trick.name)(p.trick));
        if (planned) draft.changeTrick(planned, change.trick.definition, change.trick.wishes);
        break;
      }
    }
  }
  await draft.save();
}
