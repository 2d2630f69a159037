import type { Pool, PoolClient } from 'pg';
import type { HandCover } from '../../../core/cover/by-hand';
import type { ProofPlan, ProofWish } from '../../../core/cut/proof-plan';
import type { CoverMeasure, CutMeasure } from '../../../core/report/wipe-types';
import { WORK, type WorkRow } from './claims';

type Db = Pool | PoolClient;

/** An object's edges in each frame at the three places along the breadth, source pixels. */
export interface CoverEdges {
  way: number;
  lead: (number | null)[][];
  trail: (number | null)[][];
}
export interface CoverRow extends WorkRow {
  take_id: string;
  hand: HandCover | null;
  result: (CoverMeasure & { edges: CoverEdges }) | null;
}
export interface CutRow extends WorkRow {
  out_id: string;
  in_id: string;
  result: CutMeasure | null;
}
/** What was made of a proof's wish. */
export type ProofResult = Omit<ProofPlan, 'frames'> & {
  width: number;
  height: number;
  frames: number;
  out: number[];
  in: (number | null)[];
};
export interface ProofRow extends WorkRow {
  id: string;
  out_id: string;
  in_id: string;
  wish: ProofWish;
  result: ProofResult | null;
  asked_at: Date;
}

const COVER = `take_id, hand, ${WORK}, result`;
const PROOF = `id, out_id, in_id, wish, ${WORK}, result, asked_at`;

/** Kinds of requirement that what covers the picture decides. */
const COVER_KINDS = ['covers-frame', 'leaves-frame', 'straight-edge', 'steady-move'];
/** And those that the movement on both sides does. */
const CUT_KINDS = ['same-direction'];

export async function findCover(db: Db, takeId: string): Promise<CoverRow | null> {
  const { rows } = await db.query(`SELECT ${COVER} FROM covers WHERE take_id = $1`, [takeId]);
  return rows[0] ?? null;
}

/** Covers of some takes, without their paths and edges. */
export async function listCovers(
  db: Db,
  takeIds: readonly string[],
): Promise<(WorkRow & { take_id: string; result: Omit<CoverMeasure, 'path'> | null })[]> {
  const { rows } = await db.query(
    `SELECT take_id, ${WORK}, result - 'path' - 'edges' AS result FROM covers WHERE take_id = ANY($1::uuid[])`,
    [takeIds],
  );
  return rows;
}

/** Notes that a take's cover is to be measured; false when that was noted before. */
export async function askCover(db: Db, takeId: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    INSERT INTO covers (take_id) SELECT take_id FROM measurements WHERE take_id = $1 AND state = 'measured'
    ON CONFLICT (take_id) DO UPDATE SET state = 'waiting', failure = NULL, claim = NULL WHERE covers.state = 'failed'`,
    [takeId],
  );
  return rowCount === 1;
}

/** Keeps edges set by hand and has the cover measured anew; null takes them away. */
export async function keepHand(db: Db, takeId: string, hand: HandCover | null): Promise<void> {
  await db.query(
    `
    INSERT INTO covers (take_id, hand) VALUES ($1, $2)
    ON CONFLICT (take_id) DO UPDATE SET hand = $2, state = 'waiting', failure = NULL, claim = NULL, frames_done = 0, frames_total = 0`,
    [takeId, hand && JSON.stringify(hand)],
  );
}

/** Measured takes whose part some requirement wants covered, and that nobody has looked at yet. */
export async function listMissingCovers(db: Db, limit: number): Promise<string[]> {
  const { rows } = await db.query(
    `
    SELECT DISTINCT t.id FROM planned_tricks k
    JOIN setups u ON u.id = k.setup_id AND u.deleted_at IS NULL
    CROSS JOIN LATERAL jsonb_array_elements(k.trick->'requirements') r
    CROSS JOIN LATERAL jsonb_array_elements_text(r->'parts') a(key)
    JOIN planned_parts p ON p.planned_id = k.id AND p.part_key = a.key
    JOIN takes t ON t.part_id = p.part_id JOIN measurements m ON m.take_id = t.id AND m.state = 'measured'
    WHERE k.deleted_at IS NULL AND r->>'kind' = ANY($1) AND NOT EXISTS (SELECT 1 FROM covers c WHERE c.take_id = t.id)
    LIMIT $2`,
    [COVER_KINDS, limit],
  );
  return rows.map((r) => r.id);
}

export async function findCut(db: Db, outId: string, inId: string): Promise<CutRow | null> {
  const { rows } = await db.query(`SELECT out_id, in_id, ${WORK}, result FROM cuts WHERE out_id = $1 AND in_id = $2`, [
    outId,
    inId,
  ]);
  return rows[0] ?? null;
}

export async function listCuts(db: Db, takeIds: readonly string[]): Promise<CutRow[]> {
  const { rows } = await db.query(
    `SELECT out_id, in_id, ${WORK}, result FROM cuts WHERE out_id = ANY($1::uuid[]) AND in_id = ANY($1::uuid[])`,
    [takeIds],
  );
  return rows;
}

/** Notes that two takes are to be held against each other as the sides of a cut; false when that was noted before. */
export async function askCut(db: Db, outId: string, inId: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    INSERT INTO cuts (out_id, in_id) SELECT $1, $2 WHERE (SELECT count(*) FROM measurements
      WHERE take_id IN ($1, $2) AND state = 'measured') = 2
    ON CONFLICT (out_id, in_id) DO UPDATE SET state = 'waiting', failure = NULL, claim = NULL WHERE cuts.state = 'failed'`,
    [outId, inId],
  );
  return rowCount === 1;
}

/** Pairs of measured takes of parts that must move the same way, and that nobody has compared yet. */
export async function listMissingCuts(db: Db, limit: number): Promise<[string, string][]> {
  const { rows } = await db.query(
    `
    SELECT DISTINCT a.id AS out_id, b.id AS in_id FROM planned_tricks k
    JOIN setups u ON u.id = k.setup_id AND u.deleted_at IS NULL
    CROSS JOIN LATERAL jsonb_array_elements(k.trick->'requirements') r
    JOIN planned_parts pa ON pa.planned_id = k.id AND pa.part_key = r->'parts'->>0
    JOIN planned_parts pb ON pb.planned_id = k.id AND pb.part_key = r->'parts'->>1
    JOIN takes a ON a.part_id = pa.part_id JOIN measurements ma ON ma.take_id = a.id AND ma.state = 'measured'
    JOIN takes b ON b.part_id = pb.part_id JOIN measurements mb ON mb.take_id = b.id AND mb.state = 'measured'
    LEFT JOIN covers c ON c.take_id = a.id
    WHERE k.deleted_at IS NULL AND r->>'kind' = ANY($1) AND a.id <> b.id AND NOT EXISTS (SELECT 1 FROM cuts x
      WHERE x.out_id = a.id AND x.in_id = b.id)
      AND (c.state IS NULL OR c.state IN ('done', 'failed'))
    LIMIT $2`,
    [CUT_KINDS, limit],
  );
  return rows.map((r) => [r.out_id, r.in_id]);
}

export async function listProofs(db: Db, outId: string, inId: string): Promise<ProofRow[]> {
  const { rows } = await db.query(
    `SELECT ${PROOF} FROM proofs WHERE out_id = $1 AND in_id = $2 AND deleted_at IS NULL ORDER BY asked_at DESC LIMIT 20`,
    [outId, inId],
  );
  return rows;
}

export async function findProof(db: Db, id: string): Promise<ProofRow | null> {
  const { rows } = await db.query(`SELECT ${PROOF} FROM proofs WHERE id = $1 AND deleted_at IS NULL`, [id]);
  return rows[0] ?? null;
}

/** Notes a proof to be made. */
export async function insertProof(db: Db, outId: string, inId: string, wish: ProofWish): Promise<ProofRow> {
  const { rows } = await db.query(`INSERT INTO proofs (out_id, in_id, wish) VALUES ($1, $2, $3) RETURNING ${PROOF}`, [
    outId,
    inId,
    JSON.stringify(wish),
  ]);
  return rows[0];
}

/** Takes a proof out of sight, or back. */
export async function deleteProof(db: Db, id: string, on: boolean): Promise<void> {
  await db.query('UPDATE proofs SET deleted_at = CASE WHEN $2 THEN now() END WHERE id = $1', [id, on]);
}

/** A measured take that can be a side of a cut. */
export interface SideRow {
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
  cover_state: WorkRow['state'] | null;
  /** As it was noted for the setup, seconds. */
  shutter_s: number | null;
}

/** Measured takes of a shoot, with the role their part has in a trick. */
export async function listSides(db: Db, shootId: string): Promise<SideRow[]> {
  const { rows } = await db.query(
    `
    SELECT t.id, t.part_id, p.name AS part_name, t.number, t.circled, u.id AS setup_id, u.number AS setup_number,
      c.state AS cover_state, (u.camera->>'shutter_s')::float AS shutter_s,
      (SELECT q->>'role' FROM planned_parts pp JOIN planned_tricks k ON k.id = pp.planned_id AND k.deleted_at IS NULL
        CROSS JOIN LATERAL jsonb_array_elements(k.trick->'parts') q WHERE pp.part_id = p.id AND q->>'key' = pp.part_key LIMIT 1) AS role,
      (m.report->'media'->>'frame_count')::int AS frame_count, (m.report->'media'->>'measured_fps')::float AS fps,
      (m.report->'media'->>'width')::int AS width, (m.report->'media'->>'height')::int AS height
    FROM takes t JOIN measurements m ON m.take_id = t.id AND m.state = 'measured' JOIN parts p ON p.id = t.part_id
      JOIN setups u ON u.id = p.setup_id
    LEFT JOIN covers c ON c.take_id = t.id
    WHERE u.shoot_id = $1 AND p.deleted_at IS NULL AND u.deleted_at IS NULL ORDER BY u.number, p.position, t.number`,
    [shootId],
  );
  return rows;
}
