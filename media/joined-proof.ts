import { toCode, toLight } from '../core/image/transfer';
import { lineMatte, openingMatte, strengthAt, type JoinedPlan, type JoinedWish } from '../core/pair/joined';
import { probeFile } from './probe';
import { mix, type ProofFile } from './proof';
import { FrameRow, ProofFilm, proofSize, type PictureSize, type ProofPaths } from './proof-film';

export interface JoinedOptions {
  fps: number;
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
  { fps, signal, onProgress }: JoinedOptions,
): Promise<PictureSize & { frames: number }> {
  const probes = [await probeFile(first.path, first.name), await probeFile(second.path, second.name)];
  const size = proofSize(probes[0].width, probes[0].height);
  const scale = size.width / probes[0].width;
  const matte = matteOf(wish, size, scale);
  const moves = wish.moves.map(({ start, end, ...line }) => ({
    start,
    end,
    matte: lineMatte(line, wish.feather_px, size.width, size.height, scale),
  }));
  const lifted = wish.how === 'opening' && wish.lift_stops !== 0 ? liftTable(wish.lift_stops) : null;
  const film = new ProofFilm(paths, size, fps);
  const rows = [
    new FrameRow(first.path, probes[0], size, plan.first, false, signal),
    new FrameRow(second.path, probes[1], size, plan.second, false, signal),
  ];
  const strength = new Uint8Array(size.width * size.height),
    mixed = new Uint8ClampedArray(4 * strength.length).fill(255),
    lit = new Uint8Array(3 * strength.length);
  try {
    for (const [n, frame] of plan.first.entries()) {
      signal?.throwIfAborted();
      const a = await rows[0].get(frame);
      let b = await rows[1].get(plan.second[n]);
      if (lifted) {
        for (let i = 0; i < b.length; i++) lit[i] = lifted[b[i]];
        b = lit;
      }
      if (wish.how === 'through') strength.fill(Math.round(255 * (1 - strengthAt(wish.strength, frame))));
      else if (wish.how === 'switch' && wish.at !== null && frame >= wish.at) strength.fill(255);
      else strength.set(moves.find((m) => m.start <= frame && frame <= m.end)?.matte ?? matte);
      mix(a, b, strength, mixed);
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

/** How strongly the second shows, as far as that is the same in all frames. */
function matteOf(wish: JoinedWish, { width, height }: PictureSize, scale: number): Uint8Array {
  if (wish.how === 'opening' && wish.outline) return openingMatte(wish.outline, wish.feather_px, width, height, scale);
  if (wish.how !== 'through' && wish.line) return lineMatte(wish.line, wish.feather_px, width, height, scale);
  return new Uint8Array(width * height);
}

/** What each code value becomes when light is lifted. */
const liftTable = (stops: number) =>
  Uint8Array.from({ length: 256 }, (_, v) =>
    Math.round(255 * toCode('bt709', Math.min(1, toLight('bt709', v / 255) * 2 ** stops))),
  );
