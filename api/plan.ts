import type { CameraNotes, Contradiction, PlannedTrick, RollStep } from '../core/plan/types';
import type { FiledShoot } from '../core/packs/shoot-file';
import type { SumKind, SumValues } from '../core/calculators/kinds';
import type { Sensor } from '../core/calculators/sensors';
import type { Purpose, Trick, TrickWishes } from '../core/tricks/types';

/** What server and app say to each other about shoots and their plans. Moments are ISO text. */
export type ShootFields = Omit<FiledShoot, 'id' | 'demo'>;

export interface Shoot extends ShootFields {
  id: string;
  /** Grows with each change of its fields: send the one that was seen along with a change (If-Match). */
  version: number;
  demo: boolean;
  archived: boolean;
  deleted: boolean;
}

export interface ShootInList extends Shoot {
  setups: number;
  takes: number;
  tricks: number;
  /** How many of its setups may be struck, and what to do next, as a sentence; null where nothing is left to do. */
  struck: number;
  next: string | null;
}

/** A view that the stand-in camera can show. */
export type Scene = 'kiosk' | 'pillar' | 'bench';

export interface SetupFields {
  name: string;
  notes: string;
  scene: Scene;
  place: string;
  camera: CameraNotes;
}

export interface Setup extends SetupFields {
  id: string;
  version: number;
  shoot_id: string;
  number: number;
  archived: boolean;
  deleted: boolean;
}

export interface PartFields {
  name: string;
  what: string;
  optional: boolean;
  /** Advised length. */
  seconds: number;
  /** What its takes are judged for where no trick rests on it; null as its name says. */
  purpose?: Purpose | null;
}

export interface Part extends PartFields {
  purpose: Purpose | null;
  id: string;
  version: number;
  setup_id: string;
  position: number;
  deleted: boolean;
}

/** A new setup with the parts it begins with. */
export type NewSetup = SetupFields & { parts: PartFields[] };
/** Only what is given is changed; of the camera's notes too. */
export type ChangedSetup = Partial<Omit<SetupFields, 'camera'>> & { camera?: Partial<CameraNotes> };

/** A sum kept with a trick: what was typed; the answer is worked out when it is read. */
export interface KeptSum {
  id: string;
  planned_id: string;
  kind: SumKind;
  inputs: SumValues;
}

export interface Planned extends PlannedTrick {
  version: number;
  setup_id: string;
  position: number;
  deleted: boolean;
}

export type PlannedWithSums = Planned & { sums: KeptSum[] };

/** A trick of the library by its key, or a whole one. */
export interface NewPlanned {
  key?: string;
  trick?: Trick;
  wishes: TrickWishes;
}

export interface ChangedPlanned {
  trick: Trick;
  wishes: TrickWishes;
}

/** The answer to a change of what somebody else has changed since it was seen (409, code "changed"). */
export interface ChangedMeanwhile<T> {
  error: string;
  code: 'changed';
  /** As it stands, and as the change would have it. */
  here: T & { version: number };
  yours: object;
}

/** Something that was taken out of sight, to be brought back. */
export interface Removed {
  id: string;
  name: string;
}

/** Somebody looked and says that a requirement holds, or takes that back. */
export interface EyeCheckSaid {
  done: boolean;
  by?: string;
  at: string;
}

/** A line ticked on the sheet. The latest word counts, whenever it arrives. */
export interface Tick {
  line: string;
  done: boolean;
  ticked_by: string;
  ticked_at: string;
}

export interface TickSaid {
  line: string;
  done: boolean;
  by: string;
  at: string;
}

export interface Sheet {
  setup: Setup;
  shoot: Shoot;
  steps: RollStep[];
  orders: string[];
  tricks: Removed[];
  contradictions: Contradiction[];
  ticks: Tick[];
}

export interface SensorInTable extends Sensor {
  built_in: boolean;
  changed: boolean;
}

export interface ImportPreview {
  changes: { kind: string; text: string }[];
  errors: { line: number; text: string }[];
  applied: boolean;
}
