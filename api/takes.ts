import type { MeterReading } from '../core/judge/meter';
import type { SettingRow } from '../core/gate/side-by-side';
import type { Mark, MarkFields } from '../core/plan/marks';
import type { WorkState } from '../core/judge/measure';
import type { VerdictWord } from '../core/report/types';
import type { Purpose } from '../core/tricks/types';
import type { MeasureOf } from './measures';
import type { Part, Setup, Shoot } from './plan';

/** Where a take's file came from: the card, the stand-in camera, or a plate made of another take. */
export type TakeSource = 'file' | 'stand-in' | 'plate';

/** A take as lists show it. */
export interface Take {
  id: string;
  part_id: string;
  number: number;
  name: string;
  source: TakeSource;
  meter: MeterReading[] | null;
  circled: boolean;
  rolled_at: string;
  state: WorkState;
  frames_done: number;
  frames_total: number;
  /** What is being done, where it is more than decoding. */
  doing: string;
  failure: string | null;
  /** The verdict on it for what it is for, why, what to do, and what was seen in one line; null until it is measured. */
  verdict: VerdictWord | null;
  text: string | null;
  fix: string | null;
  line: string | null;
  /** Whether something that its verdict rests on is being measured. */
  pending: boolean;
  /** What it is judged for: "pass A of Double"; "a locked pass". */
  judged_for: string | null;
  frame_count: number | null;
}

export interface TakeInList extends Take {
  shoot_name: string;
  setup_id: string;
  setup_number: number;
  setup_name: string;
  part_name: string;
  /** Whether its part stands on it. */
  standing: boolean;
}

export interface TakePage extends Take {
  part: Part;
  setup: Setup;
  shoot: Shoot;
  /** In the order of their frames. */
  marks: Mark[];
  /** A frame of the empty picture of its setup; null where there is none, or it is that itself. */
  plate: { take_id: string; frame: number } | null;
  /** What its part is for where no trick rests on it; null where tricks say it. */
  purpose: Purpose | null;
}

/** What of a mark is changed. */
export type ChangedMark = Partial<Pick<MarkFields, 'frame' | 'name'>>;

/** A finished upload that is to be a take. */
export interface NewTake {
  upload_id: string;
  name: string;
}

/** Who stands where in each frame of a take, for drawing over the picture. */
export interface Outlines {
  width: number;
  height: number;
  frames: number[][];
  zone_step: number;
  zones: number[][];
}

/** Two takes of a setup beside each other. */
export interface TakesCompared {
  take: Take & { part: Part };
  against: Take & { part: Part };
  settings: SettingRow[];
  /** What is marked in each. */
  marks: { take: Mark[]; against: Mark[] };
  /** What lies between them; null when nobody asked yet. */
  comparison: MeasureOf<'compare'> | null;
}
