import type { TakeAnalysis } from './analysis';
import { SOUND_RATE } from './source';
import type { MeasuredTake } from './measured-take';
import { motionBeats } from '../measures/beats/measure';
import { LightBeats, type LightStep } from '../measures/beats/light-beats';
import { differenceNoise, paceBetween, type Pace } from '../movers/pace';
import { onsetsOf } from '../measures/beats/sound-beats';
import { boxMean } from '../base/image/regions';
import { median } from '../base/numeric/quantile';
import { kindsIn, maskOf } from '../presence/kinds';
import { BODY } from '../presence/shade';
import type { Beat, BeatsFound } from '../report/moment-types';
import type { Box } from '../report/types';
import { withFineFrames, type FineOutlines, type SteadyFrames } from './fine-outlines';
import { enlarged } from './who-is-in';

export interface BeatsOptions {
  /** The part of the picture to look at, source pixels; all of it when left out. */
  box?: Box;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** So many decibels over the onset's own limit are as clear as can be. */
const CLEAR_DB = 24;

/** Finds what happens in a take on a frame: movement, light and sound. @throws UnusableMedia when a file cannot be used */
export async function findBeats(
  take: MeasuredTake,
  { box, signal, onProgress }: BeatsOptions = {},
): Promise<BeatsFound> {
  const { analysis, source } = take;
  const times = await source.times();
  onProgress?.('listening');
  const sound = await source.sound();
  const start = Number.isFinite(times[0]) ? times[0] : 0;
  const timeOf = (f: number) => (Number.isFinite(times[f]) ? times[f] - start : f / analysis.fps);
  const heard = (sound ? onsetsOf(sound, SOUND_RATE) : []).flatMap(({ time_s, over_db }): Beat[] => {
    const at = time_s - start;
    const frame = frameAt(at, timeOf, analysis.poses.length);
    if (frame === null) return [];
    const strength = Math.min(1, Math.max(0.1, (over_db - 8) / CLEAR_DB));
    return [{ frame, time_s: at, kind: 'sound', strength, x: null, y: null, width: null, height: null }];
  });
  onProgress?.('watching what moves');
  const seen = await withFineFrames(
    source,
    analysis,
    (frames, outlines) => watch(frames, outlines, analysis, box ?? null, signal),
    signal,
  );
  const lit = seen?.lit ?? [];
  const found = [...(seen?.moving ?? []), ...lit.map(asBeat)].map((b) => ({ ...b, time_s: timeOf(b.frame) }));
  const beats = [...found, ...heard].sort((a, b) => a.frame - b.frame || b.strength - a.strength);
  return {
    beats,
    light_steps: lit.map(({ frame, stops, cells }) => ({ frame, stops, cells })),
    sound_offset_frames: soundOffset(beats),
    has_sound: sound !== null,
    known_share: seen?.known ?? 0,
    unjudged: seen ? null : (analysis.unjudged ?? 'Nothing of the picture can be followed.'),
  };
}

async function watch(
  frames: SteadyFrames,
  outlines: FineOutlines,
  { scene, fps, probe }: TakeAnalysis,
  box: Box | null,
  signal?: AbortSignal,
) {
  const { width, height, count, factor } = frames;
  const counts = countsOf(foliage(scene!.background, frames, fps), frames, box);
  const light = new LightBeats(width, height, scene!.curve);
  const before = new Uint8Array(width * height),
    kinds = new Uint8Array(width * height);
  const who = { width, height, frames: outlines.frames, always: null };
  const paces: (Pace | null)[] = [];
  const noises: number[] = [];
  let mover: Uint8Array | null = null;
  let has = false,
    known = 0;
  for (let f = 0; f < count; f++) {
    signal?.throwIfAborted();
    const picture = frames.read(f);
    if (picture) known++;
    const lit = light.frame(picture);
    if (f > 0) {
      if (has && picture) {
        noises.push(differenceNoise(before, picture));
        // Coded films have pictures that are better than their neighbours: what is usual near by counts.
        const noise = Math.max(median(noises.slice(-25)), noises.at(-1)! / 2);
        paces.push(
          paceBetween({ width, height, before, now: picture, counts: unlit(counts, lit, width, light), noise, mover }),
        );
      } else paces.push(null);
    }
    has = picture !== null;
    if (picture) before.set(picture);
    mover = kindsIn(who, f, kinds) === null ? null : maskOf(kinds, BODY);
  }
  const moving = motionBeats({ paces, fps, factor, width: probe.width, grid: frames });
  const lit = light.beats(factor).filter((b) => !box || meets(b as Box, box));
  return { moving, lit, known: known / Math.max(1, count) };
}

const asBeat = ({ frame, kind, strength, x, y, width, height }: LightStep) => {
  return { frame, kind, strength, x, y, width, height };
};

/** Where changes count, but for cells whose light alone changed. */
function unlit(counts: Uint8Array, lit: Uint8Array, width: number, { side, columns }: LightBeats): Uint8Array {
  if (!lit.includes(1)) return counts;
  const out = counts.slice();
  lit.forEach((on, c) => {
    if (!on) return;
    const [x, y] = [(c % columns) * side, Math.floor(c / columns) * side];
    for (let v = y; v < y + side; v++) out.fill(0, v * width + x, v * width + x + side);
  });
  return out;
}

const meets = (a: Box, b: Box) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/**
 * What stirs all the while changes in this share of the frames, or, as leaves do in gusts, now and then in this share of
 * half seconds; an arm that moves a few times does neither.
 */
const STIRS = 0.3;
const IN_GUSTS = 0.8;
const GUST_S = 0.5;
const LEAST_GUSTS = 6;
/** A pixel changes by so many levels, or so many times the picture's own noise. */
const STEP_LEVELS = 6;
const STEP_NOISE = 4.5;

/** 1 for what stirs all the while, on the grid of the frames. */
function foliage({ restless, width, height }: Restless, frames: SteadyFrames, fps: number): Uint8Array {
  const out = enlarged(restless, { width, height }, frames)!;
  const where: number[] = [];
  for (let i = 0; i < out.length; i++) if (out[i]) where.push(i);
  if (where.length === 0) return out;
  const changes = new Uint32Array(where.length),
    gusts = new Uint32Array(where.length),
    lastGust = new Int32Array(where.length).fill(-1),
    before = new Uint8Array(out.length);
  const long = Math.max(2, Math.round(GUST_S * fps));
  let [has, steps] = [false, 0];
  for (let f = 0; f < frames.count; f++) {
    const picture = frames.read(f);
    if (picture && has) {
      steps++;
      const limit = Math.max(STEP_LEVELS, STEP_NOISE * differenceNoise(before, picture));
      const gust = Math.floor(f / long);
      for (let k = 0; k < where.length; k++) {
        if (Math.abs(before[where[k]] - picture[where[k]]) <= limit) continue;
        changes[k]++;
        if (lastGust[k] !== gust) gusts[k]++;
        lastGust[k] = gust;
      }
    }
    has = picture !== null;
    if (picture) before.set(picture);
  }
  // Leaves stir in patches: what lies between two that do is theirs too.
  const stirs = new Uint8Array(out.length);
  const all = Math.ceil(frames.count / long);
  where.forEach((i, k) => {
    stirs[i] = changes[k] > STIRS * steps || (all >= LEAST_GUSTS && gusts[k] > IN_GUSTS * all) ? 1 : 0;
  });
  const near = boxMean(stirs, frames.width, frames.height, 4, new Float32Array(out.length));
  for (const i of where) if (near[i] < 0.05) out[i] = 0;
  return out;
}

interface Restless {
  restless: Uint8Array;
  width: number;
  height: number;
}

/** 1 where changes count: inside the box, and not where something stirs all the while. */
function countsOf(stirs: Uint8Array, fine: SteadyFrames, box: Box | null): Uint8Array {
  const out = stirs.map((r) => (r ? 0 : 1));
  if (box)
    for (let y = 0, i = 0; y < fine.height; y++)
      for (let x = 0; x < fine.width; x++, i++) {
        const [u, v] = [(x + 0.5) * fine.factor, (y + 0.5) * fine.factor];
        if (u < box.x || v < box.y || u > box.x + box.width || v > box.y + box.height) out[i] = 0;
      }
  return out;
}

/** The frame that is shown at a time; null before the first and after the last. */
function frameAt(time: number, timeOf: (f: number) => number, count: number): number | null {
  let [low, high] = [0, count - 1];
  if (time < timeOf(0) - 0.001 || time > timeOf(high) + 0.2) return null;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (timeOf(middle) <= time + 0.001) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Frames by which a sound comes after the strike it lies nearest to; of the nearest pair. */
function soundOffset(beats: readonly Beat[]): number | null {
  let best: number | null = null;
  for (const s of beats)
    if (s.kind === 'sound')
      for (const b of beats)
        if (b.kind === 'strikes' && (best === null || Math.abs(s.frame - b.frame) < Math.abs(best)))
          best = s.frame - b.frame;
  return best;
}
