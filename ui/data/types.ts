import type { Gate } from '../../core/judge/gate';
import type { VerdictWord } from '../../core/report/types';

/** What the server sends. Dates come as ISO text. */
export interface Shoot {
  id: string; name: string; place: string; delivery_width: number; delivery_height: number; delivery_fps: number; demo: boolean;
}
export interface ShootInList extends Shoot { setups: number; takes: number }

export interface Take {
  id: string; part_id: string; number: number; name: string; source: 'file' | 'stand-in'; circled: boolean; rolled_at: string;
  state: 'waiting' | 'measuring' | 'measured' | 'failed'; frames_done: number; frames_total: number; failure: string | null;
  verdict: VerdictWord | null; text: string | null; fix: string | null; frame_count: number | null;
}
export interface TakeInList extends Take { shoot_name: string; setup_id: string; setup_number: number; setup_name: string; part_name: string }

export interface Part { id: string; setup_id: string; position: number; name: string; what: string; optional: boolean }
export interface PartWithTakes extends Part { takes: Take[] }

export interface Setup { id: string; shoot_id: string; number: number; name: string; notes: string; scene: string }
export interface SetupBoard extends Setup { parts: PartWithTakes[]; gate: Gate }
export interface SetupPage extends SetupBoard { shoot: Shoot; rolls: Roll[] }
export interface ShootPage extends Shoot { setups: SetupBoard[] }
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
