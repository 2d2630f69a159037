import type { ObjectSchema, Root } from 'joi';
import type { TakeFacts } from '../report/summaries';
import type { Mark } from '../plan/marks';
import type { Delivery } from '../plan/types';
import type { Verdict, VerdictWord } from '../report/types';
import type { Requirement, RequirementKind } from '../tricks/types';

/** Where work on a measure stands. */
export type WorkState = 'waiting' | 'working' | 'done' | 'failed';

/** What is known of a measure of some takes, without its paths. */
export interface Outcome<Summary = object> {
  /** The measure's key. */
  measure: string;
  /** Ids of the takes it was made of, in its order. */
  takes: readonly string[];
  /** What was wished of it, where there may be several of the same takes. */
  wish?: object;
  state: WorkState;
  /** A sentence, when it failed. */
  failure: string | null;
  /** Null until it is done. */
  result: Summary | null;
}

/** A take that a part stands on, as judges see it. */
export interface JudgedTake {
  id: string;
  number: number;
  /** The part's name. */
  name: string;
  /** Its name is left out where sentences speak of this take alone. */
  unnamed?: boolean;
  /** Whether it is a plate in a trick, or meant as one: any good run of it will do. */
  isPlate: boolean;
  /** What measuring it by itself found. */
  facts: TakeFacts;
  /** Frames that somebody marked in it; none when left out. */
  marks?: readonly Mark[];
}

/** What a requirement is decided from. */
export interface Asked {
  requirement: Requirement;
  /** The takes that its parts stand on, in the parts' order. */
  takes: readonly JudgedTake[];
  /** All takes that the trick's parts stand on. */
  among: readonly JudgedTake[];
  delivery: Delivery;
  /** What is known of these takes. */
  outcomes: readonly Outcome[];
  /** Speed of the trick in the edit, per cent, where one is wished. */
  speedPct?: number | null;
  /** How long the parts must be, seconds, where somebody asks for that. */
  length_s?: number | null;
}

export interface Finding {
  verdict: VerdictWord;
  text: string;
  /** What to do now; null when nothing needs doing. */
  fix: string | null;
}

/** Decides one requirement; 'pending' while something it needs is being measured. */
export type Decide = (asked: Asked) => Finding | 'pending';

/** What is noted of the camera of a take: focal length and sensor, millimetres; what it is focused on, metres. */
export interface NotedCamera {
  focalMm: number | null;
  focusM: number | null;
  sensorMm: number | null;
}

/** What a whole measure is judged with. */
export interface JudgedWith {
  /** The takes it was made of, in its order. */
  takes: readonly { facts: TakeFacts; shutterS: number | null; camera?: NotedCamera }[];
  delivery: Delivery;
}

/** Everything that must be said of a measure for it to be asked for, done, kept, sent and judged. */
export interface Measure<Wish extends object = object, Result extends object = object, Summary = object> {
  /** Its name in addresses, tables and on the command line. */
  readonly key: string;
  /** What it finds, for a sentence: "what covers the picture". */
  readonly finds: string;
  /** Raised whenever the meaning of its result changes; older ones are measured again. */
  readonly version: number;
  /** The oldest version that can be read until it is measured again. */
  readonly reads: number;
  /** How many takes it is made of. */
  readonly takes: 1 | 2;
  /** Of two takes: whether each has its own part, so that the other way round is another measure. */
  readonly ordered: boolean;
  /** Of two takes: whether both may be one take, and whether both must come from one setup. */
  readonly alone?: boolean;
  readonly oneSetup?: boolean;
  /** Whether the setup's empty frame tells it who stands in a take from first to last; with `once`, it is not made anew for another. */
  readonly byPlate?: boolean | 'once';
  /** Whether it tells by the fine outlines of its takes: they are made first, each once. */
  readonly byOutlines?: boolean;
  /** Whether it is judged with what is noted of lens and sensor. */
  readonly byLens?: boolean;
  /** Whether every wish makes one more, or a new wish takes the place of the one before. */
  readonly many: boolean;
  /** Keys of measures of its takes without which it cannot be made. */
  readonly needs: readonly string[];
  /** Keys of measures of its takes that it uses when they are there, and waits for while they are under way. */
  readonly uses: readonly string[];
  /** The kinds of requirement that it decides. */
  readonly decides: Partial<Record<RequirementKind, Decide>>;
  /** What a requirement that it decides wishes of it; null while that is not known. Left out where it wishes nothing. */
  readonly wishFor?: (requirement: Pick<Requirement, 'kind' | 'zone'>) => Wish | null;
  /** What may be wished of it. */
  readonly wish: (joi: Root) => ObjectSchema<Wish>;
  /** Why a wish does not fit the takes, as a sentence; null when it does. */
  readonly misfit?: (wish: Wish, takes: readonly TakeFacts[]) => string | null;
  /** Fields of the result that only its own page reads ("lock.path"); they are kept apart from what lists read. */
  readonly apart: readonly string[];
  /** Where its files lie below the data folder, and by what they are named: the recording's hash, its first take, itself. */
  readonly files: { folder: string; by: 'recording' | 'take' | 'itself' };
  /** What to say when it broke off for a reason inside the app. */
  readonly sorry: string;
  /** The result as it stands at this delivery, where that matters. */
  readonly atDelivery?: (result: Summary, by: JudgedWith) => Summary;
  /** The verdict on it by itself; left out where only requirements judge it. */
  readonly judge?: (result: Summary, by: JudgedWith) => Verdict;
  /** For types only. */
  readonly types?: { wish: Wish; result: Result; summary: Summary };
}

/** The outcomes of one measure, typed as what it finds. */
export function outcomesOf<S>(
  outcomes: readonly Outcome[],
  { key }: { key: string; types?: { summary: S } },
): Outcome<S>[] {
  return outcomes.filter((o) => o.measure === key) as Outcome<S>[];
}
