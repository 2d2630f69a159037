import type { PictureSource } from './source';
import { UnusableMedia } from './unusable';
import type { MeasuredTake, Against } from './measured-take';
import { Matte } from '../measures/matte/alpha';
import { fineBackground } from '../presence/fine-background';
import { runsOf } from '../presence/measure';
import type { MatteFound } from '../report/matte-types';
import { withFineFrames } from './fine-outlines';
import { findCover } from './cover';
import { whoIsIn } from './who-is-in';

/** What is written of a matte: pictures of one size, a byte a pixel, one after the other. */
export interface MatteWriter {
  write: (picture: Uint8Array) => Promise<void>;
  /** Ends it, or gives it up: then nothing of it is left. */
  end: () => Promise<void>;
  drop: () => Promise<void>;
}

/** What is to be written, before its first picture. */
export interface MatteSpec {
  /** Size of the pictures that come, and of those that are written. */
  from: { width: number; height: number };
  size: { width: number; height: number };
  /** Pictures a second, as the container says it: "30000/1001". */
  rate: string;
  /** The 10 to 90 % rise of its edges, pixels of what is written. */
  feather: number;
}

export interface MatteOptions {
  plate?: Against | null;
  /** Opens what it is written to; nothing is written when left out. */
  open?: (spec: MatteSpec) => Promise<MatteWriter>;
  /** The 10 to 90 % rise of its edges, source pixels; as soft as they are known when left out. */
  feather?: number;
  /** Whether shadows are in it. */
  shadow?: boolean;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** Edges are drawn no harder than this, pixels of the grid they are known on: its steps would show. */
const SOFTEST_GRID = 1.5;

/** What was found while a matte was made. */
export type MatteMade = Omit<MatteFound, 'file'>;

/** Makes the rough matte of whoever is in a take. @throws UnusableMedia when nothing is known of who is in */
export async function matteOfWho(take: MeasuredTake, options: MatteOptions = {}): Promise<MatteMade> {
  const { signal, onProgress } = options;
  const { name, analysis } = take;
  const { probe, scene, figures, poses, media } = analysis;
  onProgress?.('outlining who is in');
  const made = await withFineFrames(
    take.source,
    analysis,
    async (frames, fine) => {
      const { width, height, factor, count } = frames;
      const who = await whoIsIn({ ...take, analysis: { ...analysis, fine } }, options.plate ?? null, signal);
      const light = scene!.light.stops;
      const behind = fineBackground(frames, figures, light, scene!.background, scene!.curve);
      const matte = new Matte({
        ...{ frames, who, behind, curve: scene!.curve, light, poses, factor },
        shadow: options.shadow ?? true,
      });
      const film = await opened(options, { width, height }, probe, media.container_fps, factor);
      const out = new Uint8Array(width * height);
      await written(film, async (write) => {
        for (let f = 0; f < count; f++) {
          signal?.throwIfAborted();
          matte.frame(f, out);
          await write(out);
        }
      });
      return { frames: count, edge_error_px: matte.edgeError, unsure_runs: runsOf(matte.unsure) };
    },
    signal,
  );
  if (!made)
    throw new UnusableMedia(
      `Nothing is known of who stands where in "${name}" (${analysis.unjudged ?? 'too little of it stays'}), so no matte ` +
        `can be made of it. Lock the camera and roll it again.`,
      'no-matte',
    );
  return { ...made, width: probe.width, height: probe.height };
}

/** Makes the matte of what covers the picture of a recording. @throws UnusableMedia when it cannot be used */
export async function matteOfCover(
  source: Pick<PictureSource, 'read' | 'keep'>,
  options: MatteOptions = {},
): Promise<MatteMade> {
  const { measure, shape, media } = await findCover(source, { signal: options.signal });
  const { width, height, masks } = shape;
  const factor = media.width / width;
  const film = await opened(options, { width, height }, media, media.container_fps, factor);
  const out = new Uint8Array(width * height);
  await written(film, async (write) => {
    for (const mask of masks) {
      for (let i = 0; i < out.length; i++) out[i] = mask[i] ? 255 : 0;
      await write(out);
    }
  });
  const share = measure.path.cover_share;
  return {
    frames: masks.length,
    width: media.width,
    height: media.height,
    // An edge lies anywhere within a pixel of the grid, and is known to half of its own softness.
    edge_error_px: masks.some((m) => m.includes(1))
      ? Math.hypot(0.29 * factor, (measure.edge?.softness_px ?? 0) / 4)
      : null,
    unsure_runs: runsOf(masks.map((_, f) => share[f] === null)),
  };
}

async function opened(
  { open, feather }: MatteOptions,
  from: { width: number; height: number },
  probe: { width: number; height: number },
  rate: string,
  factor: number,
): Promise<MatteWriter | null> {
  if (!open) return null;
  const size = { width: probe.width, height: probe.height };
  return open({ from, size, rate, feather: Math.max(SOFTEST_GRID * factor, feather ?? 0) });
}

async function written(
  film: MatteWriter | null,
  all: (write: (picture: Uint8Array) => Promise<void>) => Promise<void>,
): Promise<void> {
  try {
    await all((picture) => film?.write(picture) ?? Promise.resolve());
  } catch (error) {
    await film?.drop();
    throw error;
  }
  await film?.end();
}
