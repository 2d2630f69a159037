import type { Pool } from 'pg';
import type { HandCover } from '../core/cover/by-hand';
import { judgeCover } from '../core/judge/cover';
import { judgeCut } from '../core/judge/cut';
import type { Verdict } from '../core/report/types';
import type { CoverMeasure, CutMeasure } from '../core/report/wipe-types';
import type { WorkRow } from './sql/queries/claims';
import type { SetupRow } from './sql/queries/shoots';
import {
  findCover,
  findCut,
  listProofs,
  listSides,
  type CoverEdges,
  type ProofRow,
  type SideRow,
} from './sql/queries/wipes';

/** What covers a take's picture, judged afresh, with its edges at a quarter, half and three quarters of the breadth in each frame. */
export interface JudgedCover extends WorkRow {
  hand: HandCover | null;
  measure: CoverMeasure | null;
  verdict: Verdict | null;
  edges: CoverEdges | null;
}

export interface JudgedCut extends WorkRow {
  measure: CutMeasure | null;
  verdict: Verdict | null;
}

export interface WipeSide extends SideRow {
  label: string;
}

/** Both sides of a wipe: which takes can be them, which are, and what is known of them. */
export interface WipeBench {
  sides: WipeSide[];
  outId: string | null;
  inId: string | null;
  cover: JudgedCover | null;
  cut: JudgedCut | null;
  proofs: ProofRow[];
}

export async function readCover(
  pool: Pool,
  take: Pick<SideRow, 'id' | 'width' | 'frame_count'>,
): Promise<JudgedCover | null> {
  const row = await findCover(pool, take.id);
  if (!row) return null;
  const { result, hand, state, frames_done, frames_total, failure } = row;
  const { edges, ...measure } = result ?? { edges: null };
  const known = result && (measure as CoverMeasure);
  return {
    state,
    frames_done,
    frames_total,
    failure,
    hand,
    measure: known,
    verdict: known && judgeCover(known, take.width, take.frame_count),
    edges,
  };
}

/** What the wipe bench of a setup shows. @param wished the takes for both sides; the best known ones when null */
export async function readWipeBench(
  pool: Pool,
  setup: SetupRow,
  wished: { out: string | null; in: string | null },
): Promise<WipeBench> {
  const rows = await listSides(pool, setup.shoot_id);
  const own = rows.filter((r) => r.setup_id === setup.id);
  const out =
    rows.find((r) => r.id === wished.out) ??
    standing(own.filter((r) => r.role === 'out-side')) ??
    standing(own.filter((r) => r.role !== 'in-side')) ??
    standing(own);
  const others = rows.filter((r) => r.id !== out?.id);
  const into =
    others.find((r) => r.id === wished.in) ??
    standing(others.filter((r) => r.role === 'in-side' && r.setup_id === setup.id)) ??
    standing(others.filter((r) => r.role === 'in-side')) ??
    standing(others);
  const [cover, cut, proofs] = await Promise.all([
    out ? readCover(pool, out) : null,
    out && into ? findCut(pool, out.id, into.id) : null,
    out && into ? listProofs(pool, out.id, into.id) : [],
  ]);
  return {
    sides: rows.map((r) => ({
      ...r,
      label: `${r.setup_id === setup.id ? '' : `setup ${r.setup_number}: `}${r.part_name} ${r.number}`,
    })),
    outId: out?.id ?? null,
    inId: into?.id ?? null,
    cover,
    proofs,
    cut: cut && {
      state: cut.state,
      frames_done: cut.frames_done,
      frames_total: cut.frames_total,
      failure: cut.failure,
      measure: cut.result,
      verdict: cut.result && judgeCut(cut.result, { out: out?.shutter_s ?? null, in: into?.shutter_s ?? null }),
    },
  };
}

/** The circled take, else the newest. */
function standing(rows: readonly SideRow[]): SideRow | undefined {
  return rows.find((r) => r.circled) ?? rows[rows.length - 1];
}
