import type { Pool, PoolClient } from 'pg';
import type { Trick, TrickPart, TrickWishes } from '../core/tricks/types';
import {
  dropIdleParts,
  findPlanned,
  insertPlanned,
  insertSum,
  linkPart,
  listPlanned,
  listSums,
  restoreParts,
  unlinkPart,
  updatePlanned,
} from './sql/queries/plans';
import {
  findSetup,
  findShoot,
  insertPart,
  insertSetup,
  insertShoot,
  listParts,
  listSetups,
  markRow,
  updatePart,
  type PartRow,
} from './sql/queries/shoots';

/**
 * Puts a trick on a setup, with parts of its own or shared ones; gives the planned trick's id. Call inside a transaction.
 * @param named for a part's key the name of the setup's part that is to record it, where that is known
 */
export async function putTrick(
  db: PoolClient,
  setupId: string,
  trick: Trick,
  wishes: TrickWishes,
  named: Record<string, string> = {},
): Promise<string> {
  const id = await insertPlanned(db, setupId, trick, wishes);
  for (const part of trick.parts) {
    const name = named[part.key]?.toLowerCase();
    const known = name ? (await listParts(db, [setupId])).find((p) => p.name.toLowerCase() === name) : undefined;
    await linkPart(db, id, part.key, known ? known.id : await partFor(db, setupId, id, trick, part));
  }
  return id;
}

/**
 * The setup's part that records a trick's part: an empty frame that another locked trick already asks for at the same end
 * of the roll, a part of that name that no trick rests on yet, or a new one.
 */
async function partFor(
  db: PoolClient,
  setupId: string,
  plannedId: string,
  trick: Trick,
  part: TrickPart,
): Promise<string> {
  const present = await listParts(db, [setupId]);
  const others = (await listPlanned(db, [setupId])).filter((p) => p.id !== plannedId);
  const used = new Set(others.flatMap((p) => Object.values(p.parts)));
  if (part.role === 'plate' && trick.camera === 'still') {
    for (const other of others) {
      const plate =
        other.trick.camera === 'still' &&
        other.trick.parts.find(
          (q) => q.role === 'plate' && (q.place === 'last') === (part.place === 'last') && other.parts[q.key],
        );
      if (plate) return other.parts[plate.key];
    }
  }
  const mine = new Set(Object.values((await findPlanned(db, plannedId))?.parts ?? {}));
  const same = present.find((p) => p.name.toLowerCase() === part.name.toLowerCase());
  if (same && !used.has(same.id) && !mine.has(same.id)) return same.id;
  const name = same ? freeName(`${part.name} (${trick.name})`, present) : part.name;
  return (
    await insertPart(db, setupId, {
      name: name.slice(0, 120),
      what: part.what,
      optional: part.optional,
      seconds: part.seconds,
    })
  ).id;
}

function freeName(wished: string, present: PartRow[]): string {
  let name = wished;
  for (let n = 2; present.some((p) => p.name.toLowerCase() === name.toLowerCase()); n++) name = `${wished} ${n}`;
  return name;
}

/** Changes a planned trick; its parts follow: new ones are added, dropped ones go unless something was rolled for them. */
export async function changeTrick(db: PoolClient, plannedId: string, trick: Trick, wishes: TrickWishes): Promise<void> {
  const before = await findPlanned(db, plannedId);
  if (!before) return;
  await updatePlanned(db, plannedId, trick, wishes);
  const gone = Object.keys(before.parts).filter((key) => !trick.parts.some((p) => p.key === key));
  for (const key of gone) await unlinkPart(db, plannedId, key);
  await dropIdleParts(
    db,
    gone.map((key) => before.parts[key]),
    plannedId,
  );
  const shared = new Set(
    (await listPlanned(db, [before.setup_id])).filter((p) => p.id !== plannedId).flatMap((p) => Object.values(p.parts)),
  );
  for (const part of trick.parts) {
    const id = before.parts[part.key];
    if (!id) await linkPart(db, plannedId, part.key, await partFor(db, before.setup_id, plannedId, trick, part));
    else if (!shared.has(id)) {
      const old = before.trick.parts.find((p) => p.key === part.key);
      await updatePart(db, id, {
        what: part.what,
        optional: part.optional,
        seconds: part.seconds,
        ...(old && old.name !== part.name ? { name: part.name } : {}),
      });
    }
  }
}

/** Takes a planned trick out of sight with the parts only it needed. */
export async function removeTrick(db: PoolClient, plannedId: string): Promise<void> {
  const planned = await findPlanned(db, plannedId);
  if (!planned) return;
  await markRow(db, 'planned_tricks', plannedId, 'deleted_at', true);
  await dropIdleParts(db, Object.values(planned.parts), plannedId);
}

export async function restoreTrick(db: PoolClient, plannedId: string): Promise<void> {
  await markRow(db, 'planned_tricks', plannedId, 'deleted_at', false);
  await restoreParts(db, plannedId);
}

/** Copies a planned trick onto a setup with its kept sums. */
export async function copyTrick(db: PoolClient, plannedId: string, setupId: string, name?: string): Promise<string> {
  const planned = (await findPlanned(db, plannedId))!;
  const id = await putTrick(db, setupId, name ? { ...planned.trick, name } : planned.trick, planned.wishes);
  for (const sum of await listSums(db, [plannedId])) await insertSum(db, id, sum.kind, sum.inputs);
  return id;
}

/** Copies a setup's plan, without takes and ticks, into a shoot. */
export async function copySetup(db: PoolClient, setupId: string, shootId: string, name: string): Promise<string> {
  const setup = (await findSetup(db, setupId))!;
  const made = await insertSetup(db, shootId, { ...setup, name: name.slice(0, 120) });
  const partIds = new Map<string, string>();
  for (const part of await listParts(db, [setupId])) partIds.set(part.id, (await insertPart(db, made.id, part)).id);
  for (const planned of await listPlanned(db, [setupId])) {
    const id = await insertPlanned(db, made.id, planned.trick, planned.wishes);
    for (const [key, partId] of Object.entries(planned.parts)) {
      const copy = partIds.get(partId);
      if (copy) await linkPart(db, id, key, copy);
    }
    for (const sum of await listSums(db, [planned.id])) await insertSum(db, id, sum.kind, sum.inputs);
  }
  return made.id;
}

/** Copies a shoot's plan, without takes. */
export async function copyShoot(db: PoolClient, shootId: string): Promise<string> {
  const shoot = (await findShoot(db, shootId))!;
  const made = await insertShoot(db, { ...shoot, name: `${shoot.name}, copy`.slice(0, 120), demo: false });
  for (const setup of await listSetups(db, shootId)) await copySetup(db, setup.id, made.id, setup.name);
  return made.id;
}

/** Names of planned tricks that rest on a part. */
export async function tricksOnPart(db: Pool | PoolClient, part: PartRow): Promise<string[]> {
  return (await listPlanned(db, [part.setup_id]))
    .filter((p) => Object.values(p.parts).includes(part.id))
    .map((p) => p.trick.name);
}
