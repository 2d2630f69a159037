import type { CoverShape } from '../../core/measures/cover/measure';
import { RevealMatte } from '../../core/measures/cover/reveal';
import type { ProofPlan } from '../../core/measures/cut/proof-plan';
import { probeFile } from '../ffmpeg/probe';
import { FrameRow, ProofFilm, proofSize, type ProofPaths } from './proof-film';

export interface ProofFile {
  path: string;
  name: string;
}

export interface ProofOptions {
  mirror: boolean;
  signal?: AbortSignal;
  onProgress?: (done: number, total: number) => void;
}

/**
 * Renders the in side appearing behind the object's edge, with the frame numbers of both sides and the word PROOF under the picture.
 * @throws UnusableMedia when a file cannot be used; Error when the films cannot be written
 */
export async function renderProof(
  out: ProofFile,
  into: ProofFile,
  shape: CoverShape,
  plan: ProofPlan,
  paths: ProofPaths,
  options: ProofOptions,
): Promise<{ width: number; height: number; frames: number }> {
  const outProbe = await probeFile(out.path, out.name),
    inProbe = await probeFile(into.path, into.name);
  const size = proofSize(outProbe.width, outProbe.height);
  const matte = new RevealMatte(
    shape,
    {
      mode: plan.mode,
      from: plan.from,
      done: plan.done,
      feather_px: plan.feather_px,
      width: outProbe.width,
      height: outProbe.height,
    },
    size.width,
    size.height,
  );
  const film = new ProofFilm(paths, size, plan.fps);
  const outFrames = new FrameRow(
    out.path,
    outProbe,
    size,
    plan.frames.map((f) => f.out),
    false,
    options.signal,
  );
  const inFrames = new FrameRow(
    into.path,
    inProbe,
    size,
    plan.frames.flatMap((f) => (f.in === null ? [] : [f.in])),
    options.mirror,
    options.signal,
  );
  const strength = new Uint8Array(size.width * size.height),
    mixed = new Uint8ClampedArray(4 * strength.length).fill(255);
  try {
    for (const [n, frame] of plan.frames.entries()) {
      options.signal?.throwIfAborted();
      const a = await outFrames.get(frame.out);
      const b = frame.in === null ? null : await inFrames.get(frame.in);
      if (b) matte.frame(frame.out, strength);
      mix(a, b, strength, mixed);
      await film.add(mixed, `PROOF   out ${frame.out}   in ${frame.in ?? '-'}`);
      options.onProgress?.(n + 1, plan.frames.length);
    }
    return await film.end();
  } catch (error) {
    await film.drop();
    throw error;
  } finally {
    await outFrames.close();
    await inFrames.close();
  }
}

/** Lays one picture over another. @param strength how strongly the second shows at each pixel, 0 to 255 */
export function mix(a: Uint8Array, b: Uint8Array | null, strength: Uint8Array, out: Uint8ClampedArray): void {
  for (let i = 0, p = 0, o = 0; i < strength.length; i++, p += 3, o += 4) {
    const s = b ? strength[i] / 255 : 0;
    for (let c = 0; c < 3; c++) out[o + c] = b ? a[p + c] + s * (b[p + c] - a[p + c]) : a[p + c];
  }
}
