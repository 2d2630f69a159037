import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { HandCover } from '../../core/cover/by-hand';
import { planProof, type ProofWish } from '../../core/cut/proof-plan';
import { UnusableMedia } from '../../media/errors';
import { unpackShape } from '../../media/kept-shape';
import { findCover } from '../../media/measure-cover';
import { findCut } from '../../media/measure-cut';
import { renderProof } from '../../media/proof';
import { claimWork, type Claim } from '../sql/queries/claims';
import { findPart, findSetup, findShoot } from '../sql/queries/shoots';
import { findReport, findTake } from '../sql/queries/takes';
import { findCover as keptCover, type ProofResult } from '../sql/queries/wipes';
import { indexProxy, type Storage } from '../storage';
import { doClaimed } from './claimed';

/** What wipe work rests on: the database, the files, and when to give up. */
export interface WipeWork {
  pool: Pool;
  storage: Storage;
  log: Logger;
  ending: AbortSignal;
}

async function held(
  work: WipeWork,
  claim: Claim,
  sorry: string,
  task: (signal: AbortSignal, progress: (done: number, total: number) => void) => Promise<void>,
): Promise<void> {
  let done = 0,
    total = 0;
  await doClaimed(
    {
      note: () => claim.note(done, total),
      release: () => claim.release(),
      fail: (sentence) => claim.fail(sentence),
      sorry,
    },
    work.log,
    work.ending,
    (signal) =>
      task(signal, (d, t) => {
        done = d;
        total = t;
      }),
  );
}

/** A take with its shoot and its file's facts. */
async function needTake(pool: Pool, id: string) {
  const take = await findTake(pool, id),
    report = await findReport(pool, id);
  const part = take && (await findPart(pool, take.part_id));
  const setup = part && (await findSetup(pool, part.setup_id));
  const shoot = setup && (await findShoot(pool, setup.shoot_id));
  if (!take || !report || !shoot) throw new UnusableMedia('The take is not here any more.', 'missing');
  return { take, media: report.media, shoot };
}

/** Measures what covers the picture in a take. Does nothing when another worker has it. */
export async function coverJob(work: WipeWork, takeId: string): Promise<void> {
  const { pool, storage } = work;
  const found = await claimWork<{ hand: HandCover | null }>(pool, 'covers', [takeId], randomUUID(), 'hand');
  if (!found) return;
  await held(
    work,
    found.claim,
    'Looking for what covers the picture broke off for a reason inside the app. Ask for it again.',
    async (signal, progress) => {
      const { take, media, shoot } = await needTake(pool, takeId);
      const { measure, shape } = await findCover(storage.file(take.file_hash), {
        name: take.name,
        signal,
        hand: found.row.hand,
        delivery: { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps },
        onProgress: (done) => progress(done, media.frame_count),
      });
      await storage.keepShape(takeId, shape);
      await found.claim.finish({ ...measure, edges: { way: shape.way, lead: shape.lead, trail: shape.trail } });
    },
  );
}

/** Holds the movement of two sides of a cut against each other. Does nothing when another worker has it. */
export async function cutJob(work: WipeWork, [outId, inId]: [string, string]): Promise<void> {
  const { pool, storage } = work;
  const found = await claimWork(pool, 'cuts', [outId, inId], randomUUID(), 'out_id');
  if (!found) return;
  await held(
    work,
    found.claim,
    'Holding the two sides against each other broke off for a reason inside the app. Ask for it again.',
    async (signal) => {
      const out = await needTake(pool, outId),
        into = await needTake(pool, inId);
      const cover = await keptCover(pool, outId);
      const { shoot } = out;
      const at = cover?.result?.cut.out_last_frame ?? undefined;
      const { measure } = await findCut(storage.file(out.take.file_hash), storage.file(into.take.file_hash), {
        signal,
        at,
        delivery: { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps },
      });
      await found.claim.finish(measure);
    },
  );
}

/** Renders a proof. Does nothing when another worker has it. */
export async function proofJob(work: WipeWork, proofId: string): Promise<void> {
  const { pool, storage } = work;
  const found = await claimWork<{ out_id: string; in_id: string; wish: ProofWish }>(
    pool,
    'proofs',
    [proofId],
    randomUUID(),
    'out_id, in_id, wish',
  );
  if (!found) return;
  const { out_id: outId, in_id: inId, wish } = found.row;
  await held(
    work,
    found.claim,
    'The proof broke off for a reason inside the app. The takes are kept; make it again.',
    async (signal, progress) => {
      const out = await needTake(pool, outId),
        into = await needTake(pool, inId);
      const cover = await keptCover(pool, outId);
      const bytes = await readFile(storage.shape(outId)).catch(() => null);
      const shape = bytes && unpackShape(bytes);
      if (!cover?.result || !shape)
        throw new UnusableMedia(
          'What covers the out side is not measured yet. Wait until it is, and make the proof again.',
          'missing',
        );
      const fps = Math.min(60, out.shoot.delivery_fps);
      const plan = planProof(cover.result, wish, {
        outCount: out.media.frame_count,
        outFps: out.media.measured_fps ?? fps,
        inCount: into.media.frame_count,
        inFps: into.media.measured_fps ?? fps,
        fps,
      });
      if (!plan)
        throw new UnusableMedia(
          'Nothing covers the out side far enough for a cut. Choose the frame to cut at, or another take.',
          'no-cut',
        );
      const path = storage.proof(proofId);
      const made = await renderProof(
        { path: storage.file(out.take.file_hash), name: out.take.name },
        { path: storage.file(into.take.file_hash), name: into.take.name },
        shape,
        plan,
        path,
        { mirror: wish.mirror, signal, onProgress: progress },
      );
      await indexProxy(path.jpegs);
      const { frames, ...rest } = plan;
      await found.claim.finish({
        ...rest,
        ...made,
        out: frames.map((f) => f.out),
        in: frames.map((f) => f.in),
      } satisfies ProofResult);
    },
  );
}
