import type { JudgedRequirement } from '../gate/requirements';
import type { Mark } from '../plan/marks';
import type { Delivery } from '../plan/types';
import type { MediaFacts, Run, TakeReport, VerdictWord } from '../report/types';
import type { PartRole, TrickWishes } from '../tricks/types';
import type { Zone } from '../tricks/zones';
import type { Assembly, Cue, Rate } from '../formats/assembly';
import type { Step } from './steps';

/** What goes along in a pack. */
export interface PackWish {
  /** The recordings themselves. */
  recordings: boolean;
  /** Rough mattes of whoever is in, and of what covers the picture. */
  mattes: boolean;
  /** Empty pictures and cut-outs as files of their own. */
  plates: boolean;
  /** Of each part the take that is circled; the one it stands on; or, as a backup, every take there is. */
  takes: 'circled' | 'standing' | 'all';
}

/** A file of a pack, by what it is. */
export interface PackFile {
  /** From the pack's own folder, with "/" between folders. */
  path: string;
  kind: PackFileKind;
  /** What it shows, for whoever reads it. */
  says: string;
}

export type PackFileKind =
  | 'page'
  | 'timeline'
  | 'list'
  | 'marks'
  | 'plate'
  | 'still'
  | 'cutout'
  | 'matte'
  | 'line'
  | 'mask'
  | 'edges'
  | 'camera-path'
  | 'recording';

/** A measure of some takes, whole, as it was found. */
export interface PackFound {
  measure: string;
  takes: string[];
  wish: object;
  result: object;
  /** The verdict on it by itself; null where only requirements judge it. */
  verdict: VerdictWord | null;
}

export interface PackTake {
  id: string;
  setup_id: string;
  part_id: string;
  part: string;
  number: number;
  /** "Pass A, take 2". */
  label: string;
  circled: boolean;
  /** Where its recording came from, and its name then. */
  source: 'file' | 'stand-in' | 'plate';
  name: string;
  rolled_at: string;
  /** The name under which edit decision lists know it. */
  reel: string;
  recording: { path: string; in_pack: boolean; bytes: number; sha256: string; xxh64: string | null };
  rate: Rate;
  media: MediaFacts;
  report: TakeReport;
  /** The frame to look at first; null where nothing is wrong. */
  worst_frame: number | null;
  clear_runs: Run[];
  marks: Mark[];
  files: PackFile[];
}

/** A take of which nothing is known: its recording goes along all the same. */
export interface UnmeasuredTake extends Pick<
  PackTake,
  'id' | 'setup_id' | 'part_id' | 'part' | 'number' | 'label' | 'circled' | 'name' | 'rolled_at' | 'recording'
> {
  /** Why nothing is known of it, as a sentence. */
  why: string;
}

export interface PackTrick {
  id: string;
  setup_id: string;
  /** Of the library; "own" for one composed by hand. */
  key: string;
  name: string;
  summary: string;
  wishes: TrickWishes;
  parts: { key: string; name: string; role: PartRole; what: string; optional: boolean; take_id: string | null }[];
  requirements: JudgedRequirement[];
  zone: Zone | null;
  /** The whole trick in one word: the worst of what is asked of it. */
  verdict: VerdictWord;
  found: PackFound[];
  /** How it is finished; null, and why in words, where that is not known yet. */
  assembly: Assembly | null;
  not_assembled: string | null;
  /** Parts that are not laid into it. */
  left_out: string[];
  cues: Cue[];
  steps: Step[];
  files: PackFile[];
}

export interface PackSetup {
  id: string;
  number: number;
  name: string;
  place: string;
  notes: string;
  camera: object;
  headline: string;
}

/** Something that whoever gets the pack will miss. */
export interface Missing {
  setup: number;
  /** The trick's name; null for the setup as a whole. */
  trick: string | null;
  text: string;
  /** Who can mend it: on set while the setup stands, at the bench, or whoever chooses what goes along. */
  by: 'set' | 'bench' | 'choice';
  fix: string;
}

/** Everything in a pack: `report.json`. */
export interface PackReport {
  format: 'umbrastat-pack';
  version: 1;
  made_at: string;
  wish: PackWish;
  shoot: { id: string; name: string; place: string; days: string[]; delivery: Delivery };
  setups: PackSetup[];
  tricks: PackTrick[];
  takes: PackTake[];
  /** Takes that are not measured, or could not be. */
  unmeasured: UnmeasuredTake[];
  /** What of the shoot is not in the pack, a sentence each. */
  left_behind: string[];
  missing: Missing[];
  /** Files that belong to no take or trick. */
  files: PackFile[];
}

/** The version of `report.json` that is written, and read. */
export const PACK_VERSION = 1;
