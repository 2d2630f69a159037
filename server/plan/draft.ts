import { randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import type { ChangedSetup, Part, PartFields, Planned, Setup, SetupFields } from '../../api/plan';
import type { SumKind, SumValues } from '../../core/calculators/kinds';
import type { Trick, TrickPart, TrickWishes } from '../../core/tricks/types';
import * as statements from './draft-statements';
import { listPlanned, listSums } from './plans';
import { listParts, listSetups } from './shoots';

interface NewSum {
  planned_id: string;
  kind: SumKind;
  inputs: SumValues;
}

/** Tables whose rows a draft adds, each with what it adds. */
interface Added {
  setups: Setup[];
  parts: Part[];
  planned: Planned[];
  links: { planned_id: string; part_key: string; part_id: string }[];
  sums: NewSum[];
}

/**
 * The plan of a shoot in memory: setups, parts and tricks are added and changed in it as often as wished, and written
 * down at once by `save`. Open and save it in one transaction: it holds the shoot meanwhile, so that two at once do not
 * give out one number.
 */
export class PlanDraft {
  private readonly added: Added = { setups: [], parts: [], planned: [], links: [], sums: [] };
  private readonly changedSetups = new Set<Setup>();
  private readonly changedParts = new Set<Part>();
  private readonly changedTricks = new Set<Planned>();
  private readonly unlinked: { planned_id: string; part_key: string }[] = [];
  /** Parts that planned tricks no longer rest on. */
  private readonly dropped: { part_id: string; planned_id: string }[] = [];

  private constructor(
    private readonly db: PoolClient,
    readonly shootId: string,
    /** Every setup with its parts and tricks, deleted ones too. */
    private readonly setups: Setup[],
    private readonly parts: Part[],
    private readonly planned: Planned[],
  ) {}

  /** Reads the plan of a shoot. */
  static async open(db: PoolClient, shootId: string): Promise<PlanDraft> {
    await db.query('SELECT 1 FROM shoots WHERE id = $1 FOR UPDATE', [shootId]);
    const setups = await listSetups(db, shootId, true);
    const ids = setups.map((s) => s.id);
    return new PlanDraft(db, shootId, setups, await listParts(db, ids, true), await listPlanned(db, ids, true));
  }

  /** The parts of a setup that are in sight. */
  partsOf(setupId: string): Part[] {
    return this.parts.filter((p) => p.setup_id === setupId && !p.deleted);
  }

  /** The tricks of a setup that are in sight. */
  tricksOf(setupId: string): Planned[] {
    return this.planned.filter((p) => p.setup_id === setupId && !p.deleted);
  }

  setupNumbered(number: number): Setup | undefined {
    return this.setups.find((s) => s.number === number && !s.deleted);
  }

  /** Adds a setup at the end, with the next free number where none is given. */
  addSetup(fields: SetupFields, number = Math.max(0, ...this.setups.map((s) => s.number)) + 1): Setup {
    const { name, notes, scene, place, camera } = fields;
    const own = { id: randomUUID(), version: 1, shoot_id: this.shootId, number, archived: false, deleted: false };
    const setup: Setup = { name, notes, scene, place, camera, ...own };
    this.setups.push(setup);
    this.added.setups.push(setup);
    return setup;
  }

  changeSetup(setup: Setup, { camera, ...fields }: ChangedSetup): void {
    Object.assign(setup, fields, camera ? { camera: { ...setup.camera, ...camera } } : {});
    if (!this.added.setups.includes(setup)) this.changedSetups.add(setup);
  }

  /** Adds a part at a setup's end. */
  addPart(setupId: string, { name, what, optional, seconds, purpose = null }: PartFields): Part {
    const last = Math.max(0, ...this.parts.filter((p) => p.setup_id === setupId).map((p) => p.position));
    const own = { id: randomUUID(), version: 1, setup_id: setupId, position: last + 1, deleted: false };
    const part: Part = { name: name.slice(0, 120), what, optional, seconds, purpose, ...own };
    this.parts.push(part);
    this.added.parts.push(part);
    return part;
  }

  changePart(part: Part, fields: Partial<PartFields>): void {
    Object.assign(part, fields);
    if (!this.added.parts.includes(part)) this.changedParts.add(part);
  }

  addSum(plannedId: string, kind: SumKind, inputs: SumValues): void {
    this.added.sums.push({ planned_id: plannedId, kind, inputs });
  }

  /**
   * Puts a trick on a setup, with parts of its own or shared ones.
   * @param named for a part's key the name of the setup's part that is to record it, where that is known
   */
  putTrick(setupId: string, trick: Trick, wishes: TrickWishes, named: Record<string, string> = {}): Planned {
    const planned = this.addTrick(setupId, trick, wishes);
    for (const part of trick.parts) {
      const name = named[part.key]?.toLowerCase();
      const known = this.partsOf(setupId).find((p) => p.name.toLowerCase() === name);
      this.link(planned, part.key, known ? known.id : this.partFor(planned, part));
    }
    return planned;
  }

  /** Changes a planned trick; its parts follow: new ones are added, dropped ones go unless something was rolled for them. */
  changeTrick(planned: Planned, trick: Trick, wishes: TrickWishes): void {
    const before = planned.trick;
    for (const [key, partId] of Object.entries(planned.parts)) {
      if (trick.parts.some((p) => p.key === key)) continue;
      delete planned.parts[key];
      this.unlinked.push({ planned_id: planned.id, part_key: key });
      this.dropped.push({ part_id: partId, planned_id: planned.id });
    }
    Object.assign(planned, { trick, wishes });
    this.changedTricks.add(planned);
    const shared = this.usedByOthers(planned);
    for (const part of trick.parts) {
      const own = this.parts.find((p) => p.id === planned.parts[part.key]);
      if (!own) this.link(planned, part.key, this.partFor(planned, part));
      else if (!shared.has(own.id)) {
        const old = before.parts.find((p) => p.key === part.key);
        const name = old && old.name !== part.name ? part.name : own.name;
        this.changePart(own, { name, what: part.what, optional: part.optional, seconds: part.seconds });
      }
    }
  }

  /** Copies a planned trick of any setup onto one of this shoot's, with its kept sums. */
  async copyTrick(planned: Planned, setupId: string, name = planned.trick.name): Promise<Planned> {
    const copy = this.putTrick(setupId, { ...planned.trick, name: name.slice(0, 120) }, planned.wishes);
    for (const sum of await listSums(this.db, [planned.id])) this.addSum(copy.id, sum.kind, sum.inputs);
    return copy;
  }

  /** Copies the plans of some setups, without takes and ticks, into this shoot; gives the copies. */
  async copySetups(setups: readonly Setup[], nameOf: (s: Setup) => string = (s) => s.name): Promise<Setup[]> {
    const ids = setups.map((s) => s.id);
    const [parts, planned] = [await listParts(this.db, ids), await listPlanned(this.db, ids)];
    const sums = await listSums(
      this.db,
      planned.map((p) => p.id),
    );
    return setups.map((setup) => {
      const copy = this.addSetup({ ...setup, name: nameOf(setup).slice(0, 120) });
      const own = parts.filter((p) => p.setup_id === setup.id);
      const partIds = new Map(own.map((p) => [p.id, this.addPart(copy.id, p).id]));
      for (const old of planned.filter((p) => p.setup_id === setup.id)) {
        const made = this.addTrick(copy.id, old.trick, old.wishes);
        for (const [key, partId] of Object.entries(old.parts)) {
          const to = partIds.get(partId);
          if (to) this.link(made, key, to);
        }
        for (const s of sums.filter((q) => q.planned_id === old.id)) this.addSum(made.id, s.kind, s.inputs);
      }
      return copy;
    });
  }

  private addTrick(setupId: string, trick: Trick, wishes: TrickWishes): Planned {
    const last = Math.max(0, ...this.planned.filter((p) => p.setup_id === setupId).map((p) => p.position));
    const own = { id: randomUUID(), version: 1, setup_id: setupId, position: last + 1, deleted: false };
    const planned: Planned = { trick, wishes, parts: {}, ...own };
    this.planned.push(planned);
    this.added.planned.push(planned);
    return planned;
  }

  private link(planned: Planned, key: string, partId: string): void {
    planned.parts[key] = partId;
    this.added.links.push({ planned_id: planned.id, part_key: key, part_id: partId });
  }

  private usedByOthers(planned: Planned): Set<string> {
    const others = this.tricksOf(planned.setup_id).filter((p) => p.id !== planned.id);
    return new Set(others.flatMap((p) => Object.values(p.parts)));
  }

  /**
   * The setup's part that records a trick's part: an empty frame that another locked trick already asks for at the same
   * end of the roll, a part of that name that no trick rests on yet, or a new one.
   */
  private partFor(planned: Planned, part: TrickPart): string {
    const { trick, setup_id: setupId } = planned;
    if (part.role === 'plate' && trick.camera === 'still') {
      const atEnd = (p: TrickPart) => p.place === 'last';
      for (const other of this.tricksOf(setupId)) {
        if (other.id === planned.id || other.trick.camera !== 'still') continue;
        const fits = (q: TrickPart) => q.role === 'plate' && atEnd(q) === atEnd(part) && other.parts[q.key];
        const plate = other.trick.parts.find(fits);
        if (plate) return other.parts[plate.key];
      }
    }
    const present = this.partsOf(setupId);
    const taken = new Set([...this.usedByOthers(planned), ...Object.values(planned.parts)]);
    const same = present.find((p) => p.name.toLowerCase() === part.name.toLowerCase());
    if (same && !taken.has(same.id)) return same.id;
    const name = same ? freeName(`${part.name} (${trick.name})`, present) : part.name;
    return this.addPart(setupId, { ...part, name }).id;
  }

  /** Writes down what was added and changed: a statement for each table, however much it is. */
  async save(): Promise<void> {
    const { setups, parts, planned, links, sums } = this.added;
    const rows = async (statement: string, all: readonly object[]) => {
      if (all.length > 0) await this.db.query(statement, [JSON.stringify(all)]);
    };
    await rows(statements.INSERT_SETUPS, setups);
    await rows(statements.INSERT_PARTS, parts);
    await rows(statements.INSERT_TRICKS, planned);
    await rows(statements.UPDATE_SETUPS, [...this.changedSetups]);
    await rows(statements.UPDATE_PARTS, [...this.changedParts]);
    await rows(statements.UPDATE_TRICKS, [...this.changedTricks]);
    await rows(statements.UNLINK, this.unlinked);
    await rows(statements.LINK, links);
    await rows(statements.DROP_IDLE, this.dropped);
    await rows(statements.INSERT_SUMS, sums);
  }
}

function freeName(wished: string, present: readonly Part[]): string {
  let name = wished;
  for (let n = 2; present.some((p) => p.name.toLowerCase() === name.toLowerCase()); n++) name = `${wished} ${n}`;
  return name;
}
