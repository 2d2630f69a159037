import type { Missing, PackWish } from '../core/packs/types';
import type { Differing, TakeInChange } from '../core/packs/take-in';
import type { VerdictWord } from '../core/report/types';
import type { WorkSent } from './work';

/** What a pack is of: a whole shoot, a setup of it, or a trick of that. */
export interface PackScope {
  setup_id: string | null;
  planned_id: string | null;
}

/** What is asked for. */
export type NewPack = PackScope & PackWish;

/** A pack that was made or is being made. */
export interface Pack extends PackScope, WorkSent {
  id: string;
  shoot_id: string;
  /** "Night Ferry, setup 2". */
  of: string;
  wish: PackWish;
  finished_at: string | null;
  /** Null until it is made. */
  made: {
    /** The name of its file. */
    name: string;
    /** Length of the ZIP, bytes, and how many files are in it. */
    bytes: number;
    files: number;
    /** xxHash of 64 bits of its own list of hashes: two packs with the same are the same. */
    hash: string;
    /** What of the shoot is not in it; and recordings in it of which nothing is known. A sentence each. */
    left_behind: string[];
    unmeasured: string[];
  } | null;
}

/** A trick on the place of handing off. */
export interface TrickToHandOff {
  id: string;
  name: string;
  verdict: VerdictWord;
  /** Rough time in the edit, minutes, from and to; null where nothing is laid together yet. */
  minutes: [number, number] | null;
  takes: number;
  missing: Missing[];
}

/** A shoot on the place of handing off: what is ready, what is missing, and the packs made of it last. */
export interface HandOff {
  shoot_id: string;
  setups: {
    id: string;
    number: number;
    name: string;
    headline: string;
    tricks: TrickToHandOff[];
    missing: Missing[];
  }[];
  /** Bytes of the recordings that would go along; and of those of all takes. */
  recordings_bytes: number;
  all_recordings_bytes: number;
  /** What would not go along although all takes and recordings did, a sentence each. */
  left_behind_by_all: string[];
  packs: Pack[];
}

/** A file of a pack. */
export interface PackedFile {
  path: string;
  bytes: number;
}

/** A pack that was uploaded, to be looked into or taken in. */
export interface TakenInAsked {
  upload_id: string;
  apply: boolean;
  /** What becomes of what says something else here. */
  differing: Differing;
}

/** What taking a pack in would do, or did. */
export interface TakenInPack {
  /** Null where the file is not understood. */
  shoot: { id: string; name: string } | null;
  errors: { line: number; text: string }[];
  changes: TakeInChange[];
  recordings: { count: number; bytes: number };
  applied: boolean;
}
