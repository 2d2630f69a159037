import type { MeterReading } from '../judge/meter';
import type { MarkFields } from '../plan/marks';
import type { CameraNotes } from '../plan/types';
import type { SumKind, SumValues } from '../calculators/kinds';
import type { Sensor } from '../calculators/sensors';

import type { Purpose, Trick, TrickWishes } from '../tricks/types';

/** The version of what `shoot.json` is made of. */
export const SHOOT_FILE_VERSION = 1;
/** Its name in a pack. */
export const SHOOT_FILE = 'shoot.json';

/** A shoot as it moves from machine to machine: what was planned, rolled, marked and chosen, each with its own id. */
export interface ShootFile {
  format: 'umbrastat-shoot';
  version: typeof SHOOT_FILE_VERSION;
  shoot: FiledShoot;
  setups: FiledSetup[];
  parts: FiledPart[];
  tricks: FiledTrick[];
  takes: FiledTake[];
  marks: FiledMark[];
  measures: FiledMeasure[];
  looks: FiledLook[];
  ticks: FiledTick[];
  sums: FiledSum[];
  sensors: Sensor[];
}

export interface FiledShoot {
  id: string;
  name: string;
  place: string;
  delivery_width: number;
  delivery_height: number;
  delivery_fps: number;
  latitude: number | null;
  longitude: number | null;
  time_zone: string;
  /** Days of shooting in the place's own calendar, "2027-10-05". */
  days: string[];
  demo: boolean;
}

export interface FiledSetup {
  id: string;
  number: number;
  name: string;
  notes: string;
  scene: string;
  place: string;
  camera: CameraNotes;
  position: number;
  archived: boolean;
}

export interface FiledPart {
  id: string;
  setup_id: string;
  position: number;
  name: string;
  what: string;
  optional: boolean;
  seconds: number;
  purpose: Purpose | null;
}

export interface FiledTrick {
  id: string;
  setup_id: string;
  position: number;
  trick: Trick;
  wishes: TrickWishes;
  /** The part that records each part of the trick. */
  parts: Record<string, string>;
}

export interface FiledTake {
  id: string;
  part_id: string;
  number: number;
  name: string;
  source: 'file' | 'stand-in' | 'plate';
  circled: boolean;
  rolled_at: string;
  meter: MeterReading[] | null;
  /** The measure that made it, where it is an empty picture. */
  made_of: string | null;
  /** Its recording, and where it lies in the pack; null where it does not. */
  sha256: string;
  bytes: number;
  path: string | null;
}

export interface FiledMark extends MarkFields {
  id: string;
  take_id: string;
}

/** What was asked of takes. What came of it is measured again from the recordings. */
export interface FiledMeasure {
  id: string;
  measure: string;
  take_id: string;
  against_id: string | null;
  wish: object;
  slot: string;
  /** The empty frame it is made with. */
  plate_id: string | null;
  asked_at: string;
}

/** Somebody looked and said that a requirement holds. */
export interface FiledLook {
  trick_id: string;
  requirement: string;
  by: string;
  at: string;
}

/** A line of the sheet for the set. */
export interface FiledTick {
  setup_id: string;
  line: string;
  done: boolean;
  by: string;
  at: string;
}

export interface FiledSum {
  id: string;
  trick_id: string;
  kind: SumKind;
  inputs: SumValues;
}

/** Records in lists, in an order in which each comes after what it belongs to. */
export const LISTS = [
  'setups',
  'parts',
  'tricks',
  'takes',
  'marks',
  'measures',
  'looks',
  'ticks',
  'sums',
  'sensors',
] as const;
export type ListName = (typeof LISTS)[number];
export type Filed<L extends ListName> = ShootFile[L][number];
export type AnyFiled = Filed<ListName>;

/** What a record is known by within its list. */
export function keyOf<L extends ListName>(list: L, record: Filed<L>): string {
  if (list === 'measures') {
    const { measure, take_id, against_id, slot } = record as FiledMeasure;
    return [measure, take_id, against_id ?? '', slot].join(' ');
  }
  if (list === 'looks') return `${(record as FiledLook).trick_id} ${(record as FiledLook).requirement}`;
  if (list === 'ticks') return `${(record as FiledTick).setup_id} ${(record as FiledTick).line}`;
  return list === 'sensors' ? (record as Sensor).key : (record as { id: string }).id;
}

/** A fault of a file, and where in it: the names and numbers that lead there. */
export interface FileFault {
  at: (string | number)[];
  text: string;
}

/** What in a file refers to what is not in it, or stands in it twice. */
export function faultsOfShoot(file: ShootFile): FileFault[] {
  const faults: FileFault[] = [];
  const setupOf = new Map(file.parts.map((p) => [p.id, p.setup_id]));
  const ids = {
    setup: new Set(file.setups.map((s) => s.id)),
    part: new Set(file.parts.map((p) => p.id)),
    trick: new Set(file.tricks.map((t) => t.id)),
    take: new Set(file.takes.map((t) => t.id)),
  };
  const need = (of: keyof typeof ids, id: string, ...at: (string | number)[]) => {
    if (!ids[of].has(id)) faults.push({ at, text: `It belongs to a ${of} that is not in this file.` });
  };
  for (const list of LISTS) {
    const seen = new Set<string>();
    file[list].forEach((record: AnyFiled, i: number) => {
      const key = keyOf(list, record);
      if (seen.has(key)) faults.push({ at: [list, i], text: 'It stands in this file twice.' });
      seen.add(key);
      if ('setup_id' in record) need('setup', record.setup_id, list, i, 'setup_id');
      if ('part_id' in record) need('part', record.part_id, list, i, 'part_id');
      if ('take_id' in record) need('take', record.take_id, list, i, 'take_id');
      if ('trick_id' in record) need('trick', record.trick_id, list, i, 'trick_id');
      if ('against_id' in record && record.against_id) need('take', record.against_id, list, i, 'against_id');
    });
  }
  file.tricks.forEach(({ parts, setup_id }, i) => {
    for (const [key, id] of Object.entries(parts))
      if (setupOf.get(id) !== setup_id)
        faults.push({ at: ['tricks', i, 'parts', key], text: 'It rests on a part that is not of its setup.' });
  });
  return faults;
}
