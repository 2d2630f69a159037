import type { Gate } from '../core/gate/gate';
import type { RateRow } from '../core/judge/rates';
import type { JudgedRequirement } from '../core/gate/requirements';
import type { Purpose } from '../core/tricks/types';
import type { Contradiction } from '../core/plan/types';
import type { Part, PlannedWithSums, Removed, Setup, Shoot } from './plan';
import type { Roll } from './rolls';
import type { Take } from './takes';

/** A setup with its parts, their takes, its tricks, what the plan contradicts and what the gate says. */
export interface SetupBoard extends Setup {
  parts: (Part & {
    takes: Take[];
    /** What its takes are judged for: "pass A of Double"; and its purpose where no trick says it. */
    judged_for: string;
    for: Purpose | null;
  })[];
  planned: PlannedWithSums[];
  contradictions: Contradiction[];
  gate: Gate;
  /** Rates of the parts that were rolled, against each other and the plan. */
  rates: RateRow[];
}

export type PartWithTakes = SetupBoard['parts'][number];

export interface SetupPage extends SetupBoard {
  shoot: Shoot;
  rolls: Roll[];
  removed: { parts: Removed[]; tricks: Removed[] };
}

export interface ShootPage extends Shoot {
  setups: SetupBoard[];
  removed: Setup[];
}

export interface PlannedPage extends PlannedWithSums {
  setup: Setup;
  shoot: Shoot;
  judged: JudgedRequirement[];
  contradictions: Contradiction[];
}
