import type { Gate } from '../../core/judge/gate';
import type { JudgedRequirement } from '../../core/judge/requirements';
import type { CameraNotes, Contradiction, PlannedTrick, RollStep } from '../../core/plan/types';
import type { VerdictWord } from '../../core/report/types';
import type { SumKind, SumValues } from '../../core/sums/kinds';
import type { Sensor } from '../../core/sums/sensors';

/** What the server sends. Dates come as ISO text. */
export interface ShootFields {
  name: string; place: string; delivery_width: number; delivery_height: number; delivery_fps: number;
  latitude: number | null; longitude: number | null; time_zone: string; days: string[];
}
export interface Shoot extends ShootFields { id: string; demo: boolean; archived: boolean; deleted: boolean }
export interface ShootInList extends Shoot { setups: number; takes: number; tricks: number }

export interface Take {
  id: string; part_id: string; number: number; name: string; source: 'file' | 'stand-in'; circled: boolean; rolled_at: string;
  state: 'waiting' | 'measuring' | 'measured' | 'failed'; frames_done: number; frames_total: number; failure: string | null;
  verdict: VerdictWord | null; text: string | null; fix: string | null; frame_count: number | null;
}
export interface TakeInList extends Take { shoot_name: string; setup_id: string; setup_number: number; setup_name: string; part_name: string }

export interface Part { id: string; setup_id: string; position: number; name: string; what: string; optional: boolean; seconds: number }
export interface PartWithTakes extends Part { takes: Take[] }

export interface Setup { id: string; shoot_id: string; number: number; name: string; notes: string; scene: string; place: string; camera: CameraNotes; archived: boolean; deleted: boolean }
export interface KeptSum { id: string; planned_id: string; kind: SumKind; inputs: SumValues }
export interface Planned extends PlannedTrick { setup_id: string; sums: KeptSum[] }
export interface PlannedPage extends Planned { setup: Setup; shoot: Shoot; judged: JudgedRequirement[]; contradictions: Contradiction[]; deleted: boolean }
export interface SetupBoard extends Setup { parts: PartWithTakes[]; planned: Planned[]; contradictions: Contradiction[]; gate: Gate }
export interface SetupPage extends SetupBoard { shoot: Shoot; rolls: Roll[]; removed: { parts: { id: string; name: string }[]; tricks: { id: string; name: string }[] } }
export interface ShootPage extends Shoot { setups: SetupBoard[]; removed: Setup[] }

export interface Tick { line: string; done: boolean; ticked_by: string; ticked_at: string }
export interface Sheet {
  setup: Setup; shoot: Shoot; steps: RollStep[]; orders: string[]; tricks: { id: string; name: string }[]; contradictions: Contradiction[]; ticks: Tick[];
}
export interface SensorInTable extends Sensor { built_in: boolean; changed: boolean }
export interface ImportPreview { changes: { kind: string; text: string }[]; errors: { line: number; text: string }[]; applied: boolean }
export interface TakePage extends Take { part: Part; setup: Setup; shoot: Shoot }

export interface RollSettings {
  tripod: 'still' | 'drift' | 'knock' | 'handheld' | 'breathing';
  crossing: 'nobody' | 'left-to-right' | 'right-to-left' | 'stands';
  seconds: number; fps: number; width: number; grain: number; seed: number;
}
export interface Roll {
  id: string; part_id: string; state: 'waiting' | 'rolling' | 'rolled' | 'failed'; frames_done: number; frames_total: number;
  take_id: string | null; failure: string | null;
}
