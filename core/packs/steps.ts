import { listRuns as longestRuns } from '../judge/runs';
import { heldOf } from '../measures/stills/held';
import { runsOf } from '../presence/measure';
import type { ClothFound, StillsFound } from '../report/moment-types';
import type { HideFound } from '../report/hide-types';
import type { PairFound } from '../report/pair-types';
import type { Run, TakeReport } from '../report/types';
import type { CoverMeasure } from '../report/wipe-types';
import { maskWork, SHAPES } from '../calculators/mask-work';
import type { Assembly } from '../formats/assembly';

/** One thing to do in the edit. */
export interface Step {
  what: string;
  /** Rough time it takes, minutes, from and to. */
  minutes: [number, number];
}

/** What is known of a trick that says what to do. */
export interface StepsOf {
  assembly: Assembly | null;
  /** Its takes by label, the empty picture first. */
  takes: { label: string; plate: boolean; report: TakeReport }[];
  pair: PairFound | null;
  hide: HideFound | null;
  cover: CoverMeasure | null;
  cloth: Pick<ClothFound, 'switch_frame' | 'leftovers' | 'fade_in_frames'> | null;
  stills: Pick<StillsFound, 'stills'> | null;
  /** Whether the in side is mirrored. */
  mirror: boolean;
  /** Whether the second shows in an opening of the first. */
  opening: boolean;
  /** What there is to do with a pass that is laid over its empty picture, where nothing else parts the two. */
  over: readonly Step[] | null;
}

const SPREAD = 1.8;
/** A key frame is set so often in a mask that moves, and a frame looked over for so many seconds. */
const KEY_EVERY = 4;
const LOOK_S = 6;
/** Laying, moving or grading something that was measured, minutes. */
export const SMALL: [number, number] = [2, 5];
const LARGER: [number, number] = [5, 15];

/** Whoever draws wants every frame named. */
export const listRuns = (runs: readonly Run[]) => longestRuns(runs, Infinity);
export const framesOf = (runs: readonly Run[]) => runs.reduce((n, r) => n + r.end - r.start + 1, 0);

/** Time to mask so many frames by hand, minutes. */
export function masking(frames: number, shape: keyof typeof SHAPES): [number, number] {
  const { low_h, high_h } = maskWork(frames, KEY_EVERY, SHAPES[shape].minutes, LOOK_S, SPREAD);
  return [Math.max(1, Math.round(60 * low_h)), Math.max(2, Math.round(60 * high_h))];
}

const stops = (v: number) => `${Math.abs(v).toFixed(2)} stop ${v > 0 ? 'brighter' : 'darker'}`;
/** Differences that a grade is worth making for. */
const SEEN_STOPS = 0.02;

/** What to do in the edit, in the order in which one would work. */
export function stepsOf(about: StepsOf): Step[] {
  const { assembly, takes, pair, hide, cover, cloth, stills, mirror, opening, over } = about;
  const steps: Step[] = [];
  const add = (what: string, minutes: [number, number]) => steps.push({ what, minutes });
  const plate = takes.find((t) => t.plate);
  const others = takes.filter((t) => !t.plate);
  if (plate) add(`Lay ${plate.label} under everything: its clean picture is among the plates.`, SMALL);
  for (const { label, report } of takes) {
    if (report.lock.verdict === 'workable')
      add(
        `Hold ${label} still by its camera path: it moves by up to ${report.lock.peak_px?.toFixed(1)} px, and that costs ` +
          `${report.lock.make_still_crop_pct?.toFixed(1) ?? '—'} % of its width.`,
        LARGER,
      );
    if (report.light.verdict === 'workable')
      add(`Even out the light of ${label}: it changes by ${report.light.range_stops?.toFixed(2)} stop.`, LARGER);
  }
  if (assembly) {
    const { layers } = assembly;
    const upper = layers.slice(plate ? 1 : 0).filter((l) => l.pieces.some((p) => p.start > 0 && p.from === 0));
    for (const layer of upper) add(`Start ${layer.name} at frame ${layer.pieces[0].start} of the timeline.`, SMALL);
    const speeds = new Set(layers.flatMap((l) => l.pieces.flatMap(({ speed: s }) => (s === 1 || s === 0 ? [] : [s]))));
    for (const speed of speeds) add(`Retime to ${(100 * speed).toFixed(0)} %, as the timeline has it.`, SMALL);
    if (assembly.cut !== null) add(`Cut at frame ${assembly.cut} of the timeline.`, SMALL);
  }
  if (opening) add('Show the second inside the zone alone: its outline and its mask are here.', SMALL);
  if (pair) fromPair(pair, add);
  if (hide) fromHide(hide, add);
  if (cover) fromCover(cover, mirror, add);
  if (cloth && cloth.switch_frame !== null) {
    add(
      `From frame ${cloth.switch_frame} on show the plate behind the cloth` +
        `${cloth.fade_in_frames ? `, faded in over ${cloth.fade_in_frames} frames` : ''}; the cloth keeps its own matte.`,
      masking(cloth.fade_in_frames + 12, 'fine'),
    );
    const left = [...new Set(cloth.leftovers.map((l) => l.frame))];
    if (left.length)
      add(`Paint out what shows beside the cloth in frames ${inRuns(left)}.`, masking(left.length, 'body'));
  }
  const still = heldOf(stills?.stills ?? []);
  if (still) {
    const crossed = framesOf(still.crossed_runs);
    add(`Hold frame ${still.frame}: its cut-out is among the stills. Go over the cut-out's edge.`, LARGER);
    if (crossed)
      add(
        `Mask the walker before the held figure in frames ${listRuns(still.crossed_runs)}.`,
        masking(crossed, 'body'),
      );
  }
  if (over) steps.push(...over);
  else if (!pair && !hide && !cover && !cloth && !still && !opening && others.length)
    for (const { label, report } of others) {
      const frames = framesOf(report.presence.present_runs);
      if (plate && frames)
        add(
          `Cut ${label} out over the plate in frames ${listRuns(report.presence.present_runs)}: start from its rough matte.`,
          masking(frames, 'body'),
        );
    }
  return steps;
}

type Add = (what: string, minutes: [number, number]) => void;

function fromPair(pair: PairFound, add: Add): void {
  const { seam, moving_mask_runs: moving, moving_lines, line_glides: glides, overlap_runs, light } = pair;
  if (seam) {
    const upTo = Number.isFinite(seam.feather_px)
      ? `; a feather of up to ${Math.floor(seam.feather_px)} px touches nobody`
      : '';
    add(
      `Part the two along the seam that is drawn here${seam.fixed ? '' : ', outside the frames below'}${upTo}.`,
      SMALL,
    );
  }
  if (moving_lines?.length)
    add(
      `Let the line take its other places in frames ${listRuns(moving_lines)}, as they are drawn` +
        `${glides?.length ? `; over frames ${listRuns(glides)} it moves evenly from one key frame to the other` : ''}.`,
      masking(framesOf(moving_lines), 'line'),
    );
  const drawn = new Set((moving_lines ?? []).flatMap((l) => range(l)));
  const byHand = moving.flatMap((r) => range(r)).filter((f) => !drawn.has(f));
  if (byHand.length)
    add(
      `Draw a moving mask in frames ${inRuns(byHand)}${overlap_runs.length ? ': there the two overlap' : ''}.`,
      masking(byHand.length, 'body'),
    );
  const gap = seam?.light_gap_stops ?? light?.gap_stops ?? 0;
  if (Math.abs(gap) > SEEN_STOPS) add(`Grade the second by ${stops(-gap)} along the seam: it is ${stops(gap)}.`, SMALL);
}

function fromHide({ split, switch_frame, spill_frames, light }: HideFound, add: Add): void {
  if (split)
    add(
      `Join take and plate along the split that is drawn here, feathered by up to ${Math.floor(2 * split.margin_px)} px` +
        `${switch_frame === null ? '' : `, until frame ${switch_frame}; from there on the plate stands alone`}.`,
      SMALL,
    );
  const frames = framesOf(spill_frames);
  if (frames) add(`Mask what the split would cut off in frames ${listRuns(spill_frames)}.`, masking(frames, 'body'));
  const gap = light?.gap_stops ?? 0;
  if (Math.abs(gap) > SEEN_STOPS) add(`Grade the plate by ${stops(-gap)}: it is ${stops(gap)}.`, SMALL);
}

function fromCover(cover: CoverMeasure, mirror: boolean, add: Add): void {
  const keys = cover.key_frames;
  if (keys.length)
    add(
      `Draw the edge of what covers the picture: set it in frames ${keys.join(', ')} first, straight lines between follow it. ` +
        `${cover.mask_frames} frames in all${cover.edge.softness_px ? `, as soft as ${cover.edge.softness_px.toFixed(0)} px` : ''}.`,
      masking(cover.mask_frames, 'line'),
    );
  if (cover.punch_in && cover.punch_in.scale > 1.001)
    add(
      `Push in to ${(100 * cover.punch_in.scale).toFixed(1)} % about ${cover.punch_in.centre_x_px.toFixed(0)}, ` +
        `${cover.punch_in.centre_y_px.toFixed(0)} px, so that the picture is covered whole.`,
      SMALL,
    );
  if (mirror) add('Mirror the in side.', SMALL);
}

const range = ({ start, end }: Run) => Array.from({ length: end - start + 1 }, (_, i) => start + i);

/** Frames as runs, in words. */
function inRuns(frames: readonly number[]): string {
  const among = new Set(frames);
  return listRuns(runsOf(Array.from({ length: Math.max(...frames) + 1 }, (_, f) => among.has(f))));
}

/** Rough time of some steps together, minutes. */
export function timeOf(steps: readonly Step[]): [number, number] {
  return steps.reduce(([from, to], { minutes }) => [from + minutes[0], to + minutes[1]], [0, 0]);
}

/** "20 to 45 min", "2 to 5 h". */
export function timeWords([from, to]: readonly [number, number]): string {
  if (to < 120) return `${Math.round(from)} to ${Math.round(to)} min`;
  const hours = (v: number) => (v / 60).toFixed(v < 600 ? 1 : 0);
  return `${hours(from)} to ${hours(to)} h`;
}
