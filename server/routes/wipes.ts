import { Router } from 'express';
import type { Pool } from 'pg';
import type PgBoss from 'pg-boss';
import { edgesToSet, type HandCover } from '../../core/cover/by-hand';
import { answer, checked, Refusal } from '../http';
import { sendCover, sendCut, sendProof } from '../jobs/queue';
import { frameParams, idParams, marked } from '../schemas';
import { findSetup, findShoot } from '../sql/queries/shoots';
import { findTake, type TakeRow } from '../sql/queries/takes';
import {
  askCover,
  askCut,
  deleteProof,
  findCover,
  findCut,
  findProof,
  insertProof,
  keepHand,
  type ProofRow,
} from '../sql/queries/wipes';
import { proxyPicture, type Storage } from '../storage';
import { handEdges, newProof, proofFile, sidesQuery, twoSides } from '../wipe-schemas';
import { readWipeBench } from '../wipe-bench';

/** What covers a take's picture, the two sides of a cut, and proofs of it. */
export function wipeRoutes(pool: Pool, storage: Storage, boss: PgBoss): Router {
  const router = Router();
  const needTake = async (id: string): Promise<TakeRow> => {
    const take = await findTake(pool, id);
    if (!take) throw new Refusal(404, 'This take is not here any more. Go back to the setup.', 'missing');
    if (take.state !== 'measured') throw new Refusal(409, 'This take is not measured yet. Wait until it is.', 'busy');
    return take;
  };
  const needProof = async (params: unknown): Promise<ProofRow> => {
    const proof = await findProof(pool, checked(idParams, params).id);
    if (!proof) throw new Refusal(404, 'This proof is not here any more. Make it again on the wipe bench.', 'missing');
    return proof;
  };
  const needMade = async (params: unknown): Promise<ProofRow> => {
    const proof = await needProof(params);
    if (proof.state !== 'done') throw new Refusal(409, 'This proof is not made yet. Wait until it is.', 'busy');
    return proof;
  };

  router.get(
    '/setups/:id/wipes',
    answer(async (req) => {
      const setup = await findSetup(pool, checked(idParams, req.params).id);
      const shoot = setup && (await findShoot(pool, setup.shoot_id));
      if (!setup || !shoot) throw new Refusal(404, 'This setup is not here any more. Go back to the plan.', 'missing');
      return { setup, shoot, ...(await readWipeBench(pool, setup, checked(sidesQuery, req.query))) };
    }),
  );

  router.post(
    '/takes/:id/cover',
    answer(async (req, res) => {
      const take = await needTake(checked(idParams, req.params).id);
      const isNew = await askCover(pool, take.id);
      if (isNew) await sendCover(boss, take.id);
      res.status(isNew ? 201 : 200);
      return findCover(pool, take.id);
    }),
  );

  router.put(
    '/takes/:id/cover/edges',
    answer(async (req) => {
      const take = await needTake(checked(idParams, req.params).id);
      const { hand } = checked(handEdges, req.body) as { hand: HandCover | null };
      const most = (take.frame_count ?? 1) - 1;
      if (hand && hand.keys.some((k) => k.frame > most))
        throw new Refusal(422, `The take has frames 0 to ${most}; set the edge in one of them.`, 'invalid');
      if (hand && hand.keys.some((k) => !edgesToSet(hand.kind).includes(k.edge)))
        throw new Refusal(422, `For this kind of cover set: ${edgesToSet(hand.kind).join(', ')}.`, 'invalid');
      await keepHand(pool, take.id, hand);
      await sendCover(boss, take.id);
      return findCover(pool, take.id);
    }),
  );

  router.post(
    '/cuts',
    answer(async (req, res) => {
      const { out_id: outId, in_id: inId } = checked(twoSides, req.body);
      await needTake(outId);
      await needTake(inId);
      const isNew = await askCut(pool, outId, inId);
      if (isNew) await sendCut(boss, [outId, inId]);
      res.status(isNew ? 201 : 200);
      return findCut(pool, outId, inId);
    }),
  );

  router.post(
    '/proofs',
    answer(async (req, res) => {
      const { out_id: outId, in_id: inId, ...wish } = checked(newProof, req.body);
      const out = await needTake(outId),
        into = await needTake(inId);
      if (wish.at !== null && wish.at >= (out.frame_count ?? 0))
        throw new Refusal(
          422,
          `The out side has frames 0 to ${(out.frame_count ?? 1) - 1}; cut at one of them.`,
          'invalid',
        );
      if (wish.in_start >= (into.frame_count ?? 0))
        throw new Refusal(
          422,
          `The in side has frames 0 to ${(into.frame_count ?? 1) - 1}; begin with one of them.`,
          'invalid',
        );
      if ((await findCover(pool, outId))?.state !== 'done')
        throw new Refusal(409, 'What covers the out side is not measured yet. Wait until it is.', 'busy');
      const proof = await insertProof(pool, outId, inId, wish);
      await sendProof(boss, proof.id);
      res.status(201);
      return proof;
    }),
  );

  router.get(
    '/proofs/:id',
    answer((req) => needProof(req.params)),
  );

  router.get(
    '/proofs/:id/film',
    answer(async (req, res) => {
      const proof = await needMade(req.params);
      const { as, save } = checked(proofFile, req.query) as { as: 'mp4' | 'webm'; save: boolean };
      const path = storage.proof(proof.id)[as];
      const name = `proof-${proof.id.slice(0, 8)}.${as}`;
      await new Promise<void>((resolve, reject) => {
        const done = (error?: Error) =>
          error && !res.headersSent
            ? reject(new Refusal(404, 'The film of this proof is gone. Make it again.', 'missing'))
            : resolve();
        res.set('Cache-Control', 'private, max-age=31536000, immutable').type(as);
        if (save) res.download(path, name, done);
        else res.sendFile(path, done);
      });
      return undefined;
    }),
  );

  router.get(
    '/proofs/:id/frames/:frame',
    answer(async (req, res) => {
      const proof = await needMade({ id: req.params.id });
      const { frame } = checked(frameParams, req.params);
      const picture = await proxyPicture(storage.proof(proof.id).jpegs, frame);
      if (!picture) throw new Refusal(404, `Frame ${frame} is not there.`, 'missing');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('jpeg').send(picture);
      return undefined;
    }),
  );

  router.put(
    '/proofs/:id/deleted',
    answer(async (req) => {
      await deleteProof(pool, checked(idParams, req.params).id, checked(marked, req.body).on);
      return { ok: true };
    }),
  );

  return router;
}
