import { type PictureFacts, measureSize, type PictureSource } from './source';
import type { Similarity } from '../base/geometry/similarity';
import { fineOutlines } from '../presence/fine';
import type { FineFrames, Outline, SteadyFine } from '../presence/fine-background';
import { FineStack } from '../presence/fine-stack';
import type { PixelBox } from '../base/image/regions';
import type { Figure } from '../presence/figures';
import type { SceneAnalysis } from './analyse-scene';
import { layPlane } from '../scene/steady-reader';

/** Who is where in each frame, finely, on the take's reference frame. */
export interface FineOutlines {
  width: number;
  height: number;
  /** Source pixels for one fine pixel. */
  factor: number;
  frames: (Outline[] | null)[];
}

/** What must be known of a take to outline it finely. */
interface Known {
  scene: SceneAnalysis | null;
  figures: readonly (Figure[] | null)[];
  poses: readonly (Similarity | null)[];
  /** Source pixels for one measuring pixel. */
  factorX: number;
}

/** Pictures moved by less than this, fine pixels, are taken as they are. */
const LEAST_MOVE = 0.25;

/** A take's pictures, half as fine as they are measured, as they lie on its reference frame. */
export type SteadyFrames = FineFrames & {
  /** Source pixels for one fine pixel. */
  factor: number;
};

function steadyFrames(stack: FineStack, { poses, factorX }: Pick<Known, 'poses' | 'factorX'>): SteadyFrames {
  const { width, height, count } = stack;
  const factor = stack.factor * factorX;
  const bytes = () => new Uint8Array(width * height);
  const laid = { luma: bytes(), blue: bytes(), red: bytes() },
    seen = bytes();
  const goes = ({ dx, dy, rotation, scale }: Similarity) =>
    Math.max(Math.hypot(dx, dy) / factor, (width / 2) * (Math.abs(rotation) + Math.abs(scale - 1))) >= LEAST_MOVE;
  const shape = { width, height };
  const lay = (name: keyof typeof laid, data: Uint8Array, pose: Similarity, part?: PixelBox) =>
    layPlane({ ...shape, data }, pose, 1 / factor, laid[name], name === 'luma' ? seen : null, shape, part);
  const read = (frame: number) => {
    const pose = poses[frame];
    if (!pose) return null;
    const picture = stack.read(frame);
    if (!goes(pose)) return picture;
    lay('luma', picture, pose);
    return laid.luma;
  };
  const look = (frame: number, part?: PixelBox): SteadyFine | null => {
    const pose = poses[frame];
    if (!pose) return null;
    const picture = stack.look(frame);
    if (!goes(pose)) return { ...picture, seen: null };
    for (const name of ['luma', 'blue', 'red'] as const) lay(name, picture[name], pose, part);
    return { ...laid, seen };
  };
  return { width, height, count, factor, ratio: stack.smallFactor / stack.factor, read, look };
}

/** Outlines whoever is in from pictures that were kept; null where nothing is known of who is in. */
export function outlineFinely(stack: FineStack, known: Known): FineOutlines | null {
  return known.scene && outlined(steadyFrames(stack, known), known, known.scene);
}

function outlined(all: SteadyFrames, { figures }: Pick<Known, 'figures'>, scene: SceneAnalysis): FineOutlines {
  const { width, height, factor } = all;
  const light = scene.light.stops;
  const frames = fineOutlines({ frames: all, figures, light, background: scene.background, curve: scene.curve });
  return { width, height, factor, frames };
}

type Measured = Omit<Known, 'factorX'> & { probe: PictureFacts; fine: FineOutlines | null };

/** The same of a take whose pictures were not kept: they are decoded once more. */
export async function decodeFinely(
  source: PictureSource,
  take: Measured,
  signal?: AbortSignal,
): Promise<FineOutlines | null> {
  return withFineFrames(source, take, (_, outlines) => outlines, signal);
}

/**
 * Decodes a take's pictures finely and outlines whoever is in, unless that is known; gives what is made of both. Null where
 * nothing is known of who is in.
 */
export async function withFineFrames<T>(
  source: PictureSource,
  { scene, figures, poses, probe, fine }: Measured,
  use: (frames: SteadyFrames, outlines: FineOutlines) => T | Promise<T>,
  signal?: AbortSignal,
): Promise<T | null> {
  if (!scene) return null;
  const store = source.keep();
  try {
    const stack = new FineStack(store);
    // Colours tell who is in; where that is known luma is enough.
    for await (const { luma, fineColour } of source.pictures({ signal, fineColour: !fine }))
      stack.frame(luma, fineColour);
    const { factorX } = measureSize(probe.width, probe.height);
    const frames = steadyFrames(stack, { poses, factorX });
    return await use(frames, fine ?? outlined(frames, { figures }, scene));
  } finally {
    store.close();
  }
}
