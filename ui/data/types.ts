import type { Gate } from '../../core/judge/gate';
import type { JudgedRequirement } from '../../core/judge/requirements';
import type { CameraNotes, Contradiction, PlannedTrick, RollStep } from '../../core/plan/types';
import type { MeterReading } from '../../core/judge/meter';
import type { RateRow } from '../../core/judge/rates';
import type { SettingRow } from '../../core/judge/side-by-side';
import type { HandCover } from '../../core/cover/by-hand';
import type { ProofPlan, ProofWish } from '../../core/cut/proof-plan';
import type { PlateComparison, PlateSource, Run, Verdict, VerdictWord } from '../../core/report/types';
import type { CoverMeasure, CutMeasure } from '../../core/report/wipe-types';
import type { SumKind, SumValues } from '../../core/sums/kinds';
import type { Sensor } from '../../core/sums/sensors';

/** What the server sends. Dates come as ISO text. */
export interface ShootFields {
  name: string;
  place: string;
  delivery_width: number;
  delivery_height: number;
  delivery_fps: number;
  latitude: number | null;
  longitude: number | null;
  time_zone: string;
  days: string[];
}
export interface Shoot extends ShootFields {
  id: string;
  demo: boolean;
  archived: boolean;
  deleted: boolean;
}
export interface ShootInList extends Shoot {
  setups: number;
  takes: number;
  tricks: number;
}

export interface Take {
  id: string;
  part_id: string;
  number: number;
  name: string;
  source: 'file' | 'stand-in' | 'plate';
  meter: MeterReading[] | null;
  circled: boolean;
  rolled_at: string;
  state: 'waiting' | 'measuring' | 'measured' | 'failed';
  frames_done: number;
  frames_total: number;
  failure: string | null;
  verdict: VerdictWord | null;
  text: string | null;
  fix: string | null;
  line: string | null;
  frame_count: number | null;
}
export interface TakeInList extends Take {
  shoot_name: string;
  setup_id: string;
  setup_number: number;
  setup_name: string;
  part_name: string;
}

export interface Part {
  id: string;
  setup_id: string;
  position: number;
  name: string;
  what: string;
  optional: boolean;
  seconds: number;
}
export interface PartWithTakes extends Part {
  takes: Take[];
}

export interface Setup {
  id: string;
  shoot_id: string;
  number: number;
  name: string;
  notes: string;
  scene: string;
  place: string;
  camera: CameraNotes;
  archived: boolean;
  deleted: boolean;
}
export interface KeptSum {
  id: string;
  planned_id: string;
  kind: SumKind;
  inputs: SumValues;
}
export interface Planned extends PlannedTrick {
  setup_id: string;
  sums: KeptSum[];
}
export interface PlannedPage extends Planned {
  setup: Setup;
  shoot: Shoot;
  judged: JudgedRequirement[];
  contradictions: Contradiction[];
  deleted: boolean;
}
export interface SetupBoard extends Setup {
  parts: PartWithTakes[];
  planned: Planned[];
  contradictions: Contradiction[];
  gate: Gate;
  rates: RateRow[];
}
export interface SetupPage extends SetupBoard {
  shoot: Shoot;
  rolls: Roll[];
  removed: { parts: { id: string; name: string }[]; tricks: { id: string; name: string }[] };
}
export interface ShootPage extends Shoot {
  setups: SetupBoard[];
  removed: Setup[];
}

export interface Tick {
  line: string;
  done: boolean;
  ticked_by: string;
  ticked_at: string;
}
export interface Sheet {
  setup: Setup;
  shoot: Shoot;
  steps: RollStep[];
  orders: string[];
  tricks: { id: string; name: string }[];
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
export interface TakePage extends Take {
  part: Part;
  setup: Setup;
  shoot: Shoot;
}

export interface RollSettings {
  tripod: 'still' | 'drift' | 'knock' | 'handheld' | 'breathing';
  crossing: 'nobody' | 'left-to-right' | 'right-to-left' | 'stands' | 'comes-and-stays' | 'shadow-only';
  light: 'steady' | 'drift' | 'step' | 'cloud' | 'flicker' | 'brighter';
  white: 'steady' | 'shift';
  focus: 'held' | 'hunt' | 'soft';
  prop: 'none' | 'crate' | 'crate-off';
  tree: boolean;
  rate: 'steady' | 'wandering';
  wipe: 'none' | 'cart' | 'coat' | 'pan' | 'walk-in' | 'lid';
  wipe_way: 'left-to-right' | 'right-to-left';
  wipe_fault: 'none' | 'misses-corner' | 'stays-in' | 'uneven' | 'soft';
  wipe_side: 'out' | 'in';
  /** The made-up place to record; the setup's own when left out. */
  scene?: 'kiosk' | 'pillar' | 'bench';
  seconds: number;
  fps: number;
  width: number;
  grain: number;
  seed: number;
}
export interface Roll {
  id: string;
  part_id: string;
  state: 'waiting' | 'rolling' | 'rolled' | 'failed';
  frames_done: number;
  frames_total: number;
  take_id: string | null;
  failure: string | null;
}

/** An empty picture that a take offers. */
export interface PlateOffer {
  takeId: string;
  partName: string;
  takeNumber: number;
  kind: 'clear_run' | 'stitched';
  run: Run | null;
  seconds: number;
  stops: number | null;
  minutes: number;
  grain: number | null;
  occupied: boolean;
  frame: number;
}
export interface BenchTake {
  id: string;
  partName: string;
  number: number;
  width: number;
  height: number;
  frameCount: number;
  fps: number | null;
  clear: Run[];
}
export interface Plate {
  id: string;
  setup_id: string;
  take_id: string;
  against_id: string;
  run_start: number | null;
  run_end: number | null;
  keep_grain: boolean;
  state: 'waiting' | 'making' | 'made' | 'failed';
  doing: string;
  failure: string | null;
  source: PlateSource | null;
  comparison: PlateComparison | null;
  width: number | null;
  height: number | null;
  bit_depth: number | null;
  asked_at: string;
  kept_as: string | null;
}
export interface PlateBenchPage {
  setup: Setup;
  shoot: Shoot;
  takes: BenchTake[];
  forId: string | null;
  offers: PlateOffer[];
  plates: Plate[];
  parts: { id: string; name: string }[];
  without: { takeId: string; partName: string; takeNumber: number; why: string }[];
}
export interface TakesCompared {
  take: Take & { part: Part };
  against: Take & { part: Part };
  settings: SettingRow[];
  comparison: {
    takeId: string;
    againstId: string;
    state: 'waiting' | 'comparing' | 'compared' | 'failed';
    failure: string | null;
    gap: PlateComparison | null;
  } | null;
}

interface Work {
  state: 'waiting' | 'working' | 'done' | 'failed';
  frames_done: number;
  frames_total: number;
  failure: string | null;
}
export interface CoverEdges {
  way: number;
  lead: (number | null)[][];
  trail: (number | null)[][];
}
export interface Cover extends Work {
  hand: HandCover | null;
  measure: CoverMeasure | null;
  verdict: Verdict | null;
  edges: CoverEdges | null;
}
export interface Cut extends Work {
  measure: CutMeasure | null;
  verdict: Verdict | null;
}
export interface WipeSide {
  id: string;
  part_id: string;
  part_name: string;
  role: string | null;
  number: number;
  circled: boolean;
  setup_id: string;
  setup_number: number;
  frame_count: number;
  fps: number | null;
  width: number;
  height: number;
  cover_state: Work['state'] | null;
  label: string;
  shutter_s: number | null;
}
export interface Proof extends Work {
  id: string;
  out_id: string;
  in_id: string;
  asked_at: string;
  wish: Required<ProofWish>;
  result:
    | (Omit<ProofPlan, 'frames'> & {
        width: number;
        height: number;
        frames: number;
        out: number[];
        in: (number | null)[];
      })
    | null;
}
export interface WipeBenchPage {
  setup: Setup;
  shoot: Shoot;
  sides: WipeSide[];
  outId: string | null;
  inId: string | null;
  cover: Cover | null;
  cut: Cut | null;
  proofs: Proof[];
}
