import type { FullPicture } from './source';
import type { Against, MeasuredTake } from './measured-take';
import { sharedOf } from '../base/geometry/boxes';
import { holdOf } from '../measures/stills/judge';
import { cutOut } from '../movers/cutout';
import { byOneShutter, type Smeared } from '../movers/one-shutter';
import { detailOf, smearOf, type SmearInput } from '../movers/smear';
import { apartFrames, crossedRuns, isWhole, stillCandidates, wholeRuns } from '../measures/stills/measure';
import { steadyPaceAt, trackOf } from '../movers/track';
import { kindsIn, maskOf } from '../presence/kinds';
import { BODY } from '../presence/shade';
import type { StillsFound } from '../report/moment-types';
import type { ColourPicture } from '../measures/plate/stitch';
import { behindFrame, eachFull, emptyPicture, grainOf, laidOnFrame, lumaOf } from './full-frames';
import { whoIsIn } from './who-is-in';

export interface StillsOptions {
  /** How many are wanted. */
  count?: number;
  /** Given each of them, with its full picture and its cut-out; gives the names of the files it wrote, if any. */
  onStill?: (
    frame: number,
    picture: ColourPicture,
    cutout: ColourPicture,
  ) => Promise<StillsFound['stills'][0]['files']>;
  delivery?: { width: number; height: number };
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

export const USUAL_STILLS = 6;
/** Of whom it is not known how they move is put behind all others, pixels. */
const MOVES = 1e6;
/** So many frames are looked at in full. */
const LOOKED_AT = 24;

/** The frames of a take worth holding. @throws UnusableMedia when a file cannot be used */
export async function findStills(
  take: MeasuredTake,
  plate: Against | null,
  { count = USUAL_STILLS, onStill, delivery, signal, onProgress }: StillsOptions = {},
): Promise<StillsFound> {
  const { analysis } = take;
  const { width, height } = analysis.probe;
  onProgress?.('outlining who is in');
  const reader = await openFigures(take, plate, signal);
  const { who, track, inputOf } = reader;
  const known = track.filter((p) => p !== null).length / Math.max(1, track.length);
  const about = { whole_runs: wholeRuns(track), known_share: known, unjudged: analysis.unjudged };
  const frames = stillCandidates(track, analysis.fps, Math.max(LOOKED_AT, count));
  if (frames.length === 0) return { stills: [], ...about };
  onProgress?.('looking at the frames');
  const emptyLuma = await reader.empty();
  const seen: Looked[] = [];
  await eachFull(
    take,
    frames,
    async (picture, frame) => {
      const { input } = await inputOf(picture, frame);
      const smear = emptyLuma ? smearOf(input) : { blur: null, along: null, across: null };
      seen.push({ frame, ...smear, speed: lengthOf(input.pace), detail: detailOf(input) });
    },
    signal,
  );
  const sharpness = sharpnessOf(seen);
  const scale = (delivery?.width ?? width) / width;
  const blurs = byOneShutter(seen);
  const all = seen.map(({ frame }, k) => {
    const p = track[frame]!;
    const pace = steadyPaceAt(track, frame);
    const about = {
      frame,
      whole: isWhole(p),
      touches: [...new Set([...p.touches, ...p.shadowTouches])],
      // Which way they are smeared is not known where it is not known how they move.
      motion_blur_px: pace ? blurs[k] : null,
      sharpness: sharpness[k],
      area_share: p.area / (width * height),
      ...p.box,
      speed_px: lengthOf(pace),
      crossed_runs: [],
      files: null,
    };
    return { ...about, hold: holdOf(about, scale) };
  });
  const rank = { holds: 0, workable: 1, unjudged: 2, reshoot: 3 };
  all.sort(
    (a, b) =>
      rank[a.hold] - rank[b.hold] ||
      Number(b.whole) - Number(a.whole) ||
      // A part of a pixel is no difference to be seen.
      Math.round(a.motion_blur_px ?? a.speed_px ?? MOVES) - Math.round(b.motion_blur_px ?? b.speed_px ?? MOVES) ||
      b.sharpness - a.sharpness,
  );
  const apart = apartFrames(analysis.fps);
  const chosen: StillsFound['stills'] = [];
  // Who rests in one place for long fills the list with one picture: each place comes once before any comes again.
  for (const fresh of [true, false])
    for (const s of all) {
      if (chosen.length >= count || chosen.some((c) => Math.abs(c.frame - s.frame) < apart)) continue;
      if (fresh && chosen.some((c) => sharedOf(c, s) > SAME_PLACE)) continue;
      chosen.push({ ...s, crossed_runs: crossedRuns(who, s.frame) });
    }
  chosen.sort((a, b) => all.findIndex((s) => s.frame === a.frame) - all.findIndex((s) => s.frame === b.frame));
  if (!onStill) return { stills: chosen, ...about };
  onProgress?.('writing the pictures');
  const named = new Map(chosen.map((s) => [s.frame, s]));
  await eachFull(
    take,
    [...named.keys()].sort((a, b) => a - b),
    async (picture, frame) => {
      named.get(frame)!.files = await onStill(frame, picture, await reader.cut(picture, frame));
    },
    signal,
  );
  return { stills: chosen, ...about };
}

/** Whoever is in a take, ready to be looked at in full, and cut out. */
async function openFigures(take: MeasuredTake, plate: Against | null, signal?: AbortSignal) {
  const { width, height } = take.analysis.probe;
  const who = await whoIsIn(take, plate, signal);
  const track = trackOf(who, who.factor);
  const kinds = new Uint8Array(who.width * who.height);
  let emptied: Promise<Float32Array | null> | null = null;
  const empty = () => (emptied ??= emptyPicture(take, plate, signal).then((p) => p && lumaOf(p)));
  const inputOf = async (picture: FullPicture, frame: number) => {
    kindsIn(who, frame, kinds);
    const laid = laidOnFrame(kinds, who, take, frame);
    const luma = lumaOf(picture);
    const emptyLuma = await empty();
    const behind = emptyLuma ? behindFrame(emptyLuma, luma, take, frame) : luma;
    const input: SmearInput = {
      picture: luma,
      behind,
      width,
      height,
      mask: maskOf(laid, BODY),
      maskWidth: who.width,
      factor: who.factor,
      pace: steadyPaceAt(track, frame),
      noise: grainOf(luma, behind),
    };
    return { input, laid };
  };
  const cut = async (picture: FullPicture, frame: number): Promise<ColourPicture> => {
    const { input, laid } = await inputOf(picture, frame);
    const data = cutOut({
      ...{ data: picture.data, most: picture.most, width, height },
      ...{ luma: input.picture, behind: input.behind, kinds: laid, gridWidth: who.width, factor: who.factor },
      curve: take.analysis.scene?.curve ?? 'srgb',
    });
    return { width, height, data, most: picture.most };
  };
  return { who, track, empty, inputOf, cut };
}

/** The figure of one frame, cut out: red, green, blue and alpha at the take's size; null where there is no such frame. */
export async function figureAt(
  take: MeasuredTake,
  plate: Against | null,
  frame: number,
  signal?: AbortSignal,
): Promise<ColourPicture | null> {
  const reader = await openFigures(take, plate, signal);
  let figure: ColourPicture | null = null;
  const use = async (picture: FullPicture) => {
    figure = await reader.cut(picture, frame);
  };
  await eachFull(take, [frame], use, signal);
  return figure;
}

/** Boxes that share more than this of what both cover are of somebody in one place. */
const SAME_PLACE = 0.7;

const lengthOf = (pace: readonly [number, number] | null) => pace && Math.hypot(...pace);

/** What one frame looked at in full says. */
interface Looked extends Smeared {
  frame: number;
  detail: number | null;
}

/** Clothes with less detail than this, levels from pixel to pixel, say nothing of how sharp they are: their edges do. */
const PLAIN = 2;

/** How sharp each is against the sharpest, 0 to 1: by the detail of whoever is in, or by their edges where they are plain. */
function sharpnessOf(seen: readonly Looked[]): number[] {
  const told = seen.flatMap(({ detail }) => (detail === null ? [] : [detail]));
  const most = Math.max(0, ...told);
  if (told.length > seen.length / 2 && most > PLAIN) return seen.map(({ detail }) => Math.min(1, (detail ?? 0) / most));
  const rises = seen.map(({ along, across }) => along ?? across);
  const least = Math.min(...rises.map((r) => r ?? Infinity));
  return rises.map((rise) => (rise === null ? 0 : Math.min(1, Math.max(1, least) / Math.max(1, rise))));
}
