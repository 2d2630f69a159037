import { canonical } from '../base/numeric/canonical';
import {
  keyOf,
  LISTS,
  type AnyFiled,
  type Filed,
  type FiledShoot,
  type FiledTake,
  type ListName,
  type ShootFile,
} from './shoot-file';

/** What becomes of records that say something else here than in the file. */
export type Differing = 'keep' | 'take';

/** A shoot as it stands on this machine. */
export interface ShootHere {
  /** Null where it is not here. */
  file: ShootFile | null;
  /** Ids of what is in it but was deleted here. */
  deleted: ReadonlySet<string>;
  /** SHA-256 of all recordings that are on this machine. */
  recordings: ReadonlySet<string>;
  /** Whether another shoot is the demo here. */
  demo: boolean;
}

/** One thing that taking a file in does, or does not do. */
export interface TakeInChange {
  kind: 'new' | 'differs' | 'numbered' | 'left-out';
  text: string;
}

/** What taking a file in comes to. */
export interface TakeInPlan {
  changes: TakeInChange[];
  /** The shoot itself, where it is written. */
  shoot: FiledShoot | null;
  /** Records to write, in each list those that are new and those that take the place of what is here. */
  write: ShootFile;
  /** Recordings that come out of the pack, by their hash. */
  recordings: { sha256: string; bytes: number; path: string }[];
}

/** What records are called, one and several. */
const CALLED: Record<ListName, [string, string]> = {
  setups: ['setup', 'setups'],
  parts: ['part', 'parts'],
  tricks: ['trick', 'tricks'],
  takes: ['take', 'takes'],
  marks: ['mark', 'marks'],
  measures: ['measurement', 'measurements'],
  looks: ['look by eye', 'looks by eye'],
  ticks: ['tick on a sheet', 'ticks on sheets'],
  sums: ['kept sum', 'kept sums'],
  sensors: ['sensor', 'sensors'],
};
/** Fields that are each machine's own: numbers do not move, and where a recording lies is no fact of a take. */
const OWN: Partial<Record<ListName, string[]>> = {
  setups: ['number'],
  takes: ['number', 'path', 'rolled_at', 'bytes'],
  measures: ['id', 'plate_id', 'asked_at'],
};
/** Fields by what a reader calls them. */
const SAID: Record<string, string> = {
  what: 'what to do',
  position: 'place in the order',
  trick: 'what it asks for',
  rolled_at: 'when it was rolled',
  made_of: 'what it was made of',
  sha256: 'its recording',
  fps: 'frame rate',
  wish: 'what was chosen',
  at: 'when',
  by: 'who',
};
const SHOWN = 40;

/**
 * What taking a file in would do here: nothing is removed, what differs stays as it is or is replaced, as was chosen, and
 * whatever belongs to what is left out is left out too.
 */
export function planTakeIn(file: ShootFile, here: ShootHere, differing: Differing): TakeInPlan {
  const changes: TakeInChange[] = [];
  const say = (kind: TakeInChange['kind'], text: string) => changes.push({ kind, text });
  const names = namesIn(file, here.file);
  const write: ShootFile = {
    ...file,
    ...(Object.fromEntries(LISTS.map((l) => [l, []])) as unknown as Pick<ShootFile, ListName>),
  };
  const shoot = planShoot(file.shoot, here, differing, say);
  const left = new Set<string>();
  const isLeft = (r: AnyFiled) =>
    ('take_id' in r && left.has(r.take_id)) || ('against_id' in r && r.against_id !== null && left.has(r.against_id));
  const fresh = new Map<string, Partial<Record<ListName, number>>>();
  const recordings = new Map<string, TakeInPlan['recordings'][number]>();
  for (const list of LISTS) {
    const present = new Map((here.file?.[list] as AnyFiled[] | undefined)?.map((r) => [keyOf(list, r), r]));
    for (const record of file[list] as AnyFiled[]) {
      if (isLeft(record)) continue;
      const was = present.get(keyOf(list, record));
      const isDeleted = 'id' in record && here.deleted.has(record.id);
      if (was && !isDeleted && same(list, was, record)) continue;
      if (was && list === 'takes' && (was as FiledTake).sha256 !== (record as FiledTake).sha256) {
        say('left-out', `${names.of(list, record)}: another recording is here under this take; it stays as it is`);
        continue;
      }
      if (was) {
        const how = isDeleted ? 'was deleted here' : fieldsThatDiffer(list, was, record);
        const after =
          differing === 'take' ? (isDeleted ? 'it comes back' : 'becomes as in the file') : 'stays as it is';
        say('differs', `${names.of(list, record)}: ${how}; ${after}`);
        if (differing === 'take') (write[list] as AnyFiled[]).push({ ...record, ...own(list, was) });
        continue;
      }
      if (list === 'takes') {
        const take = record as FiledTake;
        if (!here.recordings.has(take.sha256)) {
          if (take.path === null) {
            left.add(take.id);
            say('left-out', `${names.of(list, take)} is left out: its recording is neither in the file nor here`);
            continue;
          }
          recordings.set(take.sha256, { sha256: take.sha256, bytes: take.bytes, path: take.path });
        }
      }
      const place = names.setup(list, record);
      const counts = fresh.get(place) ?? {};
      counts[list] = (counts[list] ?? 0) + 1;
      fresh.set(place, counts);
      (write[list] as AnyFiled[]).push(
        numbered(list, record, write, here.file, (text) => say('numbered', text), names),
      );
    }
  }
  circleOnce(write.takes, here.file?.takes ?? [], differing, (text) => say('differs', text), names);
  const come = [...fresh].map(([place, counts]) => `${place}: ${counted(counts)}`);
  changes.unshift(...come.map((text): TakeInChange => ({ kind: 'new', text })));
  if (shoot && !here.file) changes.unshift({ kind: 'new', text: `the shoot “${shoot.name}”` });
  return { changes, shoot, write, recordings: [...recordings.values()] };
}

function planShoot(
  shoot: FiledShoot,
  { file, deleted, demo }: ShootHere,
  differing: Differing,
  say: (kind: TakeInChange['kind'], text: string) => void,
): FiledShoot | null {
  if (!file) return { ...shoot, demo: shoot.demo && !demo };
  const isDeleted = deleted.has(shoot.id);
  const comes = { ...shoot, demo: file.shoot.demo };
  if (!isDeleted && canonical(comes) === canonical(file.shoot)) return null;
  const how = isDeleted ? 'was deleted here' : `other ${unlikeIn(file.shoot, comes)}`;
  const after = differing === 'take' ? (isDeleted ? 'it comes back' : 'becomes as in the file') : 'stays as it is';
  say('differs', `the shoot “${file.shoot.name}”: ${how}; ${after}`);
  return differing === 'take' ? comes : null;
}

const own = (list: ListName, was: AnyFiled) =>
  Object.fromEntries((OWN[list] ?? []).map((field) => [field, (was as unknown as Record<string, unknown>)[field]]));
const same = (list: ListName, a: AnyFiled, b: AnyFiled) => canonical(a) === canonical({ ...b, ...own(list, a) });

function fieldsThatDiffer(list: ListName, was: AnyFiled, comes: AnyFiled): string {
  return `other ${unlikeIn(was, { ...comes, ...own(list, was) })}`;
}

/** "name (“A” here, “B” in the file), notes". */
function unlikeIn(was: object, comes: object): string {
  const [a, b] = [was, comes] as Record<string, unknown>[];
  return Object.keys(b)
    .filter((field) => canonical(a[field] ?? null) !== canonical(b[field] ?? null))
    .map((field) => {
      const said = SAID[field] ?? field.replace(/_/g, ' ');
      const short = [a[field], b[field]].every((v) => typeof v !== 'object' && String(v ?? '').length <= SHOWN);
      return short ? `${said} (${shown(a[field])} here, ${shown(b[field])} in the file)` : said;
    })
    .join(', ');
}

const shown = (v: unknown) =>
  v === null || v === undefined || v === '' ? 'none' : typeof v === 'boolean' ? (v ? 'yes' : 'no') : `“${String(v)}”`;

function counted(counts: Partial<Record<ListName, number>>): string {
  const said = LISTS.flatMap((list) => {
    const n = counts[list];
    return n && list !== 'setups' ? [`${n} ${CALLED[list][n === 1 ? 0 : 1]}`] : [];
  });
  if (!counts.setups) return `new here: ${said.join(', ')}`;
  return said.length ? `new, with ${said.join(', ')}` : 'new';
}

/** A new setup, or a new take, whose number is another's here gets the next free one. */
function numbered<R extends AnyFiled>(
  list: ListName,
  record: R,
  write: ShootFile,
  here: ShootFile | null,
  say: (text: string) => void,
  names: Names,
): R {
  if ((list !== 'setups' && list !== 'takes') || !here) return record;
  const beside = [...here[list], ...write[list]].filter(
    (r) => !('part_id' in r) || !('part_id' in record) || r.part_id === record.part_id,
  );
  const taken = new Set(beside.map((r) => r.number));
  const { number } = record as { number: number } & R;
  if (!taken.has(number)) return record;
  const free = Math.max(...taken) + 1;
  say(`${names.of(list, record)} gets the number ${free}: there is another ${number} here`);
  return { ...record, number: free };
}

/** Only one take of a part is circled: the one here, unless what the file says is taken. */
function circleOnce(
  takes: FiledTake[],
  here: readonly FiledTake[],
  differing: Differing,
  say: (text: string) => void,
  names: Names,
): void {
  if (differing === 'take') return;
  takes.forEach((take, i) => {
    const other = here.find((t) => t.part_id === take.part_id && t.circled);
    if (!take.circled || !other) return;
    takes[i] = { ...take, circled: false };
    say(`${names.of('takes', take)} comes without its circle: take ${other.number} is circled here`);
  });
}

interface Names {
  of(list: ListName, record: AnyFiled): string;
  /** The setup of a record as it is listed: "Setup 2, “Pillar”". */
  setup(list: ListName, record: AnyFiled): string;
}

function namesIn(file: ShootFile, here: ShootFile | null): Names {
  const all = <L extends ListName>(list: L) => [...((here?.[list] ?? []) as Filed<L>[]), ...(file[list] as Filed<L>[])];
  const by = <R extends { id: string }>(records: readonly R[]) => new Map(records.map((r) => [r.id, r]));
  const [setups, parts, tricks, takes] = [by(all('setups')), by(all('parts')), by(all('tricks')), by(all('takes'))];
  const setupName = (id: string | undefined) => {
    const setup = setups.get(id ?? '');
    return setup ? `setup ${setup.number}, “${setup.name}”` : 'all setups';
  };
  const setupOfTake = (id: string) => parts.get(takes.get(id)?.part_id ?? '')?.setup_id;
  const setupId = (list: ListName, r: AnyFiled): string | undefined => {
    if (list === 'setups') return (r as { id: string }).id;
    if ('setup_id' in r) return r.setup_id;
    if ('part_id' in r) return parts.get(r.part_id)?.setup_id;
    if ('take_id' in r) return setupOfTake(r.take_id);
    return 'trick_id' in r ? tricks.get(r.trick_id)?.setup_id : undefined;
  };
  const takeName = (id: string) => {
    const take = takes.get(id);
    return take ? `${parts.get(take.part_id)?.name ?? ''}, take ${take.number}` : '';
  };
  const within = (list: ListName, r: AnyFiled): string => {
    if (list === 'takes') return takeName((r as FiledTake).id);
    if (list === 'tricks') return `“${(r as Filed<'tricks'>).trick.name}”`;
    if (list === 'parts' || list === 'sensors') return `“${(r as Filed<'parts'>).name}”`;
    if (list === 'marks') return `${takeName((r as Filed<'marks'>).take_id)}, mark “${(r as Filed<'marks'>).name}”`;
    if (list === 'measures')
      return `${takeName((r as Filed<'measures'>).take_id)}, ${(r as Filed<'measures'>).measure}`;
    if (list === 'ticks') return `sheet, line “${(r as Filed<'ticks'>).line}”`;
    const trick = `“${tricks.get((r as Filed<'sums'>).trick_id)?.trick.name ?? ''}”`;
    return list === 'looks' ? `${trick}, looked at by eye` : `${trick}, kept sum`;
  };
  const setup = (list: ListName, r: AnyFiled) => setupName(setupId(list, r));
  return { setup, of: (list, r) => (list === 'setups' ? setup(list, r) : `${setup(list, r)}: ${within(list, r)}`) };
}
