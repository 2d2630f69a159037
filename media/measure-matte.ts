import { basename } from 'node:path';
import { Matte } from '../core/matte/alpha';
import { fineBackground } from '../core/presence/fine-background';
import { runsOf } from '../core/presence/measure';
import type { MatteFound, MatteReport } from '../core/report/matte-types';
import { UnusableMedia } from './errors';
import { withFineFrames } from './fine-outlines';
import { GreyFilm } from './grey-film';
import { findCover } from './measure-cover';
import { analyseTake, type TakeAnalysis } from './measure-take';
import type { TakeFile } from './plate';
import { whoIsIn } from './who-is-in';

export interface MatteOptions {
  plate?: { path: string; name: string };
  /** Of what covers the picture instead of whoever is in. */
  cover?: boolean;
  /** Where it is written; nothing is written when left out. */
  out?: string;
  /** The 10 to 90 % rise of its edges, source pixels; as soft as they are known when left out. */
  feather?: number;
  /** Whether shadows are in it. */
  shadow?: boolean;
  /** What is known of the take already. */
  analysis?: TakeAnalysis;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** Edges are drawn no harder than this, pixels of the grid they are known on: its steps would show. */
const SOFTEST_GRID = 1.5;

/** Makes the rough matte of a take. @throws UnusableMedia when a file cannot be used, or nothing is known of who is in */
export async function makeMatte(path: string, options: MatteOptions = {}): Promise<MatteReport> {
  const name = basename(path);
  options.onProgress?.(`measuring ${name}`);
  const found = options.cover ? await ofCover(path, name, options) : await ofWhoIsIn(path, name, options);
  return { take: name, ...found, file: options.out ?? null };
}

type Made = Omit<MatteFound, 'file'>;

async function ofWhoIsIn(path: string, name: string, options: MatteOptions): Promise<Made> {
  const { signal, onProgress } = options;
  const analysis = options.analysis ?? (await analyseTake(path, { name, signal }));
  const take: TakeFile = { path, name, analysis };
  const { probe, scene, figures, poses, media } = analysis;
  onProgress?.('outlining who is in');
  const made = await withFineFrames(
    path,
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

async function ofCover(path: string, name: string, options: MatteOptions): Promise<Made> {
  const { measure, shape, media } = await findCover(path, { name, signal: options.signal });
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
  { out, feather, signal }: MatteOptions,
  from: { width: number; height: number },
  probe: { width: number; height: number },
  rate: string,
  factor: number,
): Promise<GreyFilm | null> {
  if (out === undefined) return null;
  const size = { width: probe.width, height: probe.height };
  return GreyFilm.open(out, { from, size, rate, feather: Math.max(SOFTEST_GRID * factor, feather ?? 0), signal });
}

async function written(
  film: GreyFilm | null,
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
