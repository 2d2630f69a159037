import type { JoinedPlan } from '../../core/measures/joined/plan-joined';
import { matteAt } from '../../core/measures/joined/changeover';
import { glideAt } from '../../core/movers/glides';
import { laidOnFirst, lifted, type Evening } from '../../core/measures/pair/even';
import { lineMatte, openingMatte, type GlidingLine, type JoinedWish } from '../../core/measures/joined/joined';
import { JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import { probeFile } from '../ffmpeg/probe';
import { mix, type ProofFile } from './proof';
import { FrameRow, ProofFilm, proofSize, type ProofPaths } from './proof-film';
import type { JoinedParts, PictureSize } from '../../core/take/joined-parts';

export interface JoinedOptions {
  fps: number;
  parts?: JoinedParts;
  /** Makes the second lie on the first, in its light; it is shown as shot when left out. */
  even?: Evening | null;
  signal?: AbortSignal;
  onProgress?: (done: number, total: number) => void;
}

/**
 * Renders two takes joined in one picture, with the frame numbers of both and the word PROOF under it.
 * @throws UnusableMedia when a file cannot be used; Error when the films cannot be written
 */
export async function renderJoined(
  first: ProofFile,
  second: ProofFile,
  wish: JoinedWish,
  plan: JoinedPlan,
  paths: ProofPaths,
  { fps, parts = {}, even = null, signal, onProgress }: JoinedOptions,
): Promise<PictureSize & { frames: number }> {
  const probes = [await probeFile(first.path, first.name), await probeFile(second.path, second.name)];
  const size = proofSize(probes[0].width, probes[0].height);
  const scale = size.width / probes[0].width;
  const way = JOINING_WAYS[wish.how];
  const matte = matteOf(wish, size, scale);
  const moves = wish.moves.map(({ start, end, ease_in, ease_out, ...line }) => ({
    ...{ start, end, ease_in, ease_out },
    matte: lineMatte(line, wish.feather_px, size.width, size.height, scale),
  }));
  const stops = (even?.stops ?? 0) + (way.parts === 'opening' ? wish.lift_stops : 0);
  const table = stops === 0 ? null : lifted(stops);
  const film = new ProofFilm(paths, size, fps);
  const rows = [
    new FrameRow(first.path, probes[0], size, plan.first, false, signal),
    new FrameRow(second.path, probes[1], size, plan.second, false, signal),
  ];
  const held = parts.figure?.(size) ?? null;
  const strength = new Uint8Array(size.width * size.height),
    mixed = new Uint8ClampedArray(4 * strength.length).fill(255),
    lit = new Uint8Array(3 * strength.length),
    moved = new Uint8Array(lit.length);
  try {
    for (const [n, frame] of plan.first.entries()) {
      signal?.throwIfAborted();
      const a = await rows[0].get(frame);
      let b = await rows[1].get(plan.second[n]);
      if (even?.place) b = laidOnFirst(b, size, even.place, scale, moved);
      if (table) {
        for (let i = 0; i < b.length; i++) lit[i] = table[b[i]];
        b = lit;
      }
      // Of a held figure the second is the picture, and the figure lies over it.
      const laid = held ? { a: b, b: held.rgb, strength: held.alpha } : { a, b, strength };
      const own = held ? null : parts.strength?.(n, size);
      // The first may have ended, and its last frame stand.
      const evenly = way.evenly(wish, n + plan.first[0]);
      if (own) strength.set(own);
      else if (parts.strength) strength.fill(255);
      else if (evenly !== null) strength.fill(Math.round(255 * evenly));
      else {
        const onItsWay = wish.glides?.find((g) => g.start <= frame && frame <= g.end);
        const { from, to, share } = onItsWay
          ? { from: glideMatte(onItsWay, frame, wish.feather_px, size, scale), to: null, share: 0 }
          : matteAt(matte, moves, frame);
        strength.set(from);
        if (to) for (let i = 0; i < strength.length; i++) strength[i] += share * (to[i] - from[i]);
      }
      mix(laid.a, laid.b, laid.strength, mixed);
      await film.add(mixed, `PROOF   first ${frame}   second ${plan.second[n]}`);
      onProgress?.(n + 1, plan.first.length);
    }
    return await film.end();
  } catch (error) {
    await film.drop();
    throw error;
  } finally {
    await Promise.all(rows.map((r) => r.close()));
  }
}

/** How strongly the second shows while the line is on its way. */
function glideMatte(
  { first_side, feather_px, ...glide }: GlidingLine,
  frame: number,
  feather: number,
  { width, height }: PictureSize,
  scale: number,
): Uint8Array {
  return lineMatte({ points: glideAt(glide, frame), first_side }, Math.min(feather, feather_px), width, height, scale);
}

/** How strongly the second shows, as far as that is the same in all frames. */
function matteOf(wish: JoinedWish, { width, height }: PictureSize, scale: number): Uint8Array {
  const { parts } = JOINING_WAYS[wish.how];
  if (parts === 'opening' && wish.outline) return openingMatte(wish.outline, wish.feather_px, width, height, scale);
  if (parts === 'line' && wish.line) return lineMatte(wish.line, wish.feather_px, width, height, scale);
  return new Uint8Array(width * height);
}
