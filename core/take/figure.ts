import { UnusableMedia } from './unusable';
import type { FullPicture } from './source';
import type { Against, MeasuredTake } from './measured-take';
import { follow } from '../movers/follow';
import { driftOf, heightsOf, liftedRuns, nearestOf, type PlacePath } from '../measures/figure/hold';
import { standOut, type Coloured } from '../measures/figure/stand-out';
import { trackOf, type Placed } from '../movers/track';
import { median } from '../base/numeric/quantile';
import type { ColourPicture } from '../measures/plate/stitch';
import { kindsIn, maskOf, steadied } from '../presence/kinds';
import { runsOf } from '../presence/measure';
import { BODY } from '../presence/shade';
import type { FigureFound, OutlineRead } from '../report/figure-types';
import type { Run } from '../report/types';
import { LIMITS } from '../judge/limits';
import { insideOf, type ZoneOutline } from '../base/geometry/outline';
import { withFineFrames, type SteadyFrames } from './fine-outlines';
import { behindFrame, eachFull, emptyPicture, laidOnFrame } from './full-frames';
import { whoIsIn, type WhoIsIn } from './who-is-in';

export interface FigureOptions {
  /** Round the thing, source pixels of the reference frame; whoever is in when left out. */
  outline?: ZoneOutline;
  /** Speed in the edit, per cent, for the verdict. */
  speedPct?: number;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** Outlines are read in so many frames at most. */
const LOOKED_AT = 24;
/** What somebody drew round is the figure in it, where that fills so much of it. */
const FILLS = 0.2;
/** A thing is followed by its look where so many of its frames can be. */
const FOLLOWED = 0.8;

/**
 * How far a held or hung thing drifts and turns, when somebody who jumps is off the ground, and how clearly they stand
 * out there. @throws UnusableMedia when a file cannot be used, or nothing lies in what was drawn
 */
export async function findFigure(
  take: MeasuredTake,
  plate: Against | null,
  { outline, signal, onProgress }: FigureOptions = {},
): Promise<FigureFound> {
  const { analysis, source, name } = take;
  onProgress?.('outlining who is in');
  const seen = await withFineFrames(
    source,
    analysis,
    async (frames, fine) => {
      const own = { ...take, analysis: { ...analysis, fine } };
      const who = await whoIsIn(own, plate, signal);
      const { width, height, factor } = frames;
      const drawn =
        outline &&
        insideOf(
          outline.map(([x, y]): [number, number] => [x / factor, y / factor]),
          width,
          height,
        );
      if (drawn && !drawn.includes(1))
        throw new UnusableMedia(`What was drawn lies outside the picture of "${name}". Draw it again.`, 'zone');
      const track = trackOf(who, factor);
      const heights = drawn ? track.map(() => null) : heightsOf(track, analysis.fps, factor);
      const lifted = drawn ? [] : liftedRuns(track, heights, analysis.fps);
      onProgress?.('following it');
      return { who, track, heights, lifted, held: heldThing({ take, who, frames, track, drawn, lifted, signal }) };
    },
    signal,
  );
  const unjudged = analysis.unjudged;
  if (!seen) {
    const none = analysis.figures.map(() => null);
    const nothing = {
      run: null,
      run_share: 0,
      size_px: null,
      drift: null,
      lifted_runs: [],
      clear_runs: [],
      outline: [],
    };
    return {
      ...nothing,
      known_share: 0,
      unjudged: unjudged ?? 'Nothing of the picture can be followed.',
      path: { x_px: none, y_px: none, turn_deg: none, height_px: none },
    };
  }
  const { who, track, heights, lifted, held } = seen;
  const known = track.filter((p) => p !== null).length / Math.max(1, track.length);
  const { run, size, path: places } = held;
  onProgress?.('looking at the outline');
  const looked = outline ? [] : await outlinesOf(take, who, plate, lifted.length ? lifted : run ? [run] : [], signal);
  const shares = steadied(looked.map((o) => o.share));
  const clear = looked.map(({ frame }, k) => ({ frame, ok: shares[k]! >= LIMITS.figure.outline_share }));
  const { start, end } = analysis.lock.usable_run ?? { start: 0, end: track.length - 1 };
  return {
    run,
    run_share: run ? (run.end - run.start + 1) / Math.max(1, end - start + 1) : 0,
    size_px: size,
    drift: run && size !== null ? driftOf(places, run, size, analysis.fps) : null,
    lifted_runs: lifted,
    clear_runs: nearestOf(lifted, clear),
    outline: looked,
    known_share: known,
    unjudged,
    path: { x_px: places.x, y_px: places.y, turn_deg: places.turn, height_px: heights },
  };
}

type Track = readonly (Placed | null | undefined)[];

interface HeldInput {
  take: MeasuredTake;
  who: WhoIsIn;
  frames: SteadyFrames;
  track: Track;
  drawn: Uint8Array | null | undefined;
  lifted: readonly Run[];
  signal?: AbortSignal;
}

/** Where the thing is, frame by frame: by its look where it can be followed, else by its outline. */
function heldThing(input: HeldInput): { run: Run | null; size: number | null; path: PlacePath } {
  const { take, who, frames, track, drawn, lifted, signal } = input;
  const { width, height, factor, count } = frames;
  const { usable_run: usable } = take.analysis.lock;
  const within = (runs: readonly Run[]) => longestOf(runs, usable ?? { start: 0, end: count - 1 });
  const byOutline = (): ReturnType<typeof heldThing> => {
    const run = within(runsOf(track.map((p) => !!p && p.touches.length === 0)));
    const areas = run ? track.slice(run.start, run.end + 1).flatMap((p) => (p ? [p.area] : [])) : [];
    const path = {
      x: track.map((p) => p?.x ?? null),
      y: track.map((p) => p?.y ?? null),
      turn: unwound(track.map((p) => p?.angle ?? null)),
    };
    return { run, size: areas.length ? Math.sqrt(median(areas)) : null, path };
  };
  const outlined = byOutline();
  if (!drawn && (lifted.length > 0 || !outlined.run)) return outlined;
  const reference = drawn ? Math.floor(count / 2) : typicalFrame(track, outlined.run!);
  const kinds = new Uint8Array(width * height);
  kindsIn(who, reference, kinds);
  const bodies = maskOf(kinds, BODY);
  const mask = drawn ? withinDrawn(drawn, bodies) : bodies;
  const from = track[reference];
  const followed = follow({
    ...{ width, height, count, mask, reference, signal },
    read: frames.read,
    hint: (f) => {
      const p = track[f];
      return !drawn && p && from ? [(p.x - from.x) / factor, (p.y - from.y) / factor] : null;
    },
  });
  if (!followed) return outlined;
  const { poses, x, y } = followed;
  const path = {
    x: poses.map((p) => p && (x + p.dx) * factor),
    y: poses.map((p) => p && (y + p.dy) * factor),
    turn: poses.map((p) => p && (p.rotation * 180) / Math.PI),
  };
  const size = Math.sqrt(mask.reduce((n, m) => n + m, 0)) * factor;
  if (drawn) return { run: within(runsOf(poses.map((p) => p !== null))), size, path };
  const { run } = outlined;
  const ok = poses.slice(run!.start, run!.end + 1).filter((p) => p !== null).length;
  return ok >= FOLLOWED * (run!.end - run!.start + 1) ? { run, size, path } : outlined;
}

function withinDrawn(drawn: Uint8Array, bodies: Uint8Array): Uint8Array {
  const both = drawn.map((d, i) => d & bodies[i]);
  const size = (mask: Uint8Array) => mask.reduce((n, m) => n + m, 0);
  return size(both) >= FILLS * size(drawn) ? both : drawn;
}

/** The longest of some runs within another. */
function longestOf(runs: readonly Run[], within: Run): Run | null {
  let best: Run | null = null;
  for (const r of runs) {
    const own = { start: Math.max(r.start, within.start), end: Math.min(r.end, within.end) };
    if (own.end >= own.start && (!best || own.end - own.start > best.end - best.start)) best = own;
  }
  return best;
}

/** The frame of a run whose area is the middle one. */
function typicalFrame(track: Track, run: Run): number {
  const all = Array.from({ length: run.end - run.start + 1 }, (_, k) => run.start + k).filter((f) => track[f]);
  all.sort((a, b) => track[a]!.area - track[b]!.area);
  return all[all.length >> 1];
}

/** Angles of an axis, which has no head and no foot, without jumps of half a turn. */
function unwound(angles: readonly (number | null)[]): (number | null)[] {
  let last: number | null = null;
  return angles.map((a) => {
    if (a === null) return null;
    const own: number = last === null ? a : a + 180 * Math.round((last - a) / 180);
    last = own;
    return own;
  });
}

/** How clearly whoever is in stands out, in some frames of these runs. */
async function outlinesOf(
  take: MeasuredTake,
  who: WhoIsIn,
  plate: Against | null,
  runs: readonly Run[],
  signal?: AbortSignal,
): Promise<OutlineRead[]> {
  const all = runs.flatMap((r) => Array.from({ length: r.end - r.start + 1 }, (_, k) => r.start + k));
  if (all.length === 0) return [];
  const step = Math.max(1, all.length / LOOKED_AT);
  const frames = Array.from({ length: Math.min(LOOKED_AT, all.length) }, (_, k) => all[Math.floor((k + 0.5) * step)]);
  const empty = await emptyPicture(take, plate, signal);
  const out: OutlineRead[] = [];
  const kinds = new Uint8Array(who.width * who.height);
  const look = (picture: FullPicture, frame: number) => {
    kindsIn(who, frame, kinds);
    const laid = laidOnFrame(kinds, who, take, frame);
    const read = standOut({
      picture,
      behind: empty && colourBehind(empty, picture, take, frame),
      mask: maskOf(laid, BODY),
      kinds: laid,
      gridWidth: who.width,
      factor: who.factor,
    });
    if (read) out.push({ frame, ...read });
  };
  await eachFull(take, [...new Set(frames)], look, signal);
  return out;
}

/** The empty picture as it lies in a frame, each colour in that frame's light. */
function colourBehind(empty: ColourPicture, picture: FullPicture, take: MeasuredTake, frame: number): Coloured {
  const { width, height } = picture;
  const data = new Float32Array(3 * width * height);
  for (let c = 0; c < 3; c++) {
    const behind = behindFrame(channelOf(empty, c), channelOf(picture, c), take, frame);
    for (let i = 0, k = c; i < behind.length; i++, k += 3) data[k] = behind[i];
  }
  return { data, most: 255, width, height };
}

function channelOf({ data, most }: ColourPicture | FullPicture, c: number): Float32Array {
  const out = new Float32Array(data.length / 3);
  const by = 255 / most;
  for (let i = 0, k = c; i < out.length; i++, k += 3) out[i] = data[k] * by;
  return out;
}
