import { frameSigma, sigmaOfMad } from '../../base/numeric/robust';
import type { FocusMeasure, Run } from '../../report/types';
import { median, quantile } from '../../base/numeric/quantile';
import { addressOf as at, Kernels } from '../../base/kernels/kernels';
import type { CellMarks } from '../../base/image/cell-marks';
import { isCoding, strongest } from './coding';
import type { DetailMeter } from './detail-meter';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round, sqrt } = Math;

/** Detail this many times the grain's counts as texture. */
const TEXTURED = 3;
const TEXTURED_AT_ALL = 1.5;
/** Share of the cells that must stand out of the emptiest ones before the emptiest count as grain alone. */
const ENOUGH_TEXTURE = 0.08;
/** Cells that must be to see. */
const LEAST_CELLS = 4;
/** And so many of those with texture: behind what covers nearly all the lens cannot be told. */
const LEAST_SEEN = 0.3;
/** A hunt loses at least this share of the detail, over at least this long. */
export const HUNT_LOSS = 0.12;
const HUNT_SECONDS = 0.12;
const FOLLOWED_LOSS = 0.3;
/** From this far on, of a cell's side, cells follow the picture. */
const FAR = 0.08;

/** Frames whose cells are in memory at a time. */
const BLOCK = 8192;

export interface FocusContext {
  fps: number;
  /** Stops of light against the first frame; null where unknown. */
  light: (number | null)[];
  /** The cells in which something stands, or which move by themselves; null when none is known to. */
  occupied: CellMarks | null;
  /** Standard deviation of the grain, levels; NaN when it is not known. */
  grain: number;
  /** Whether the camera moved, so that the finest detail changes by itself. */
  moved: boolean;
  /** Size of the still picture against the reference frame, from the lock; null where unknown. */
  scale: (number | null)[];
  /** How far the picture lies off the reference frame, measuring pixels; null where unknown. Nowhere when left out. */
  shift?: readonly ([number, number] | null)[];
}

/** The detail of the cells of a take's frames, or of some of them. */
type Cells = Pick<DetailMeter, 'across' | 'down' | 'width' | 'height' | 'count' | 'read'>;

/**
 * Sharpness along the take from the fine detail of still, textured cells, the grain's share taken off.
 *
 * Each cell is held against its own sharpest moments, and the middle cell speaks for the picture, so that somebody who
 * walks through does not count.
 */
export function measureFocus(meter: Cells, context: FocusContext): FocusMeasure {
  // A coder freezes grain, so that only its look tells it from detail; where all is fine texture, only its change does.
  const byLook = measureAgainst(meter, context, NaN);
  return byLook.textured_share > ENOUGH_TEXTURE ? byLook : measureAgainst(meter, context, context.grain);
}

/** What is said of the focus of so many frames when nothing is known of it. */
export function unknownFocus(frames: number): FocusMeasure {
  return {
    worst_loss_pct: null,
    worst_frame: null,
    hunts: [],
    breathing: false,
    textured_share: 0,
    uncertainty_pct: null,
    path: { sharpness: Array.from({ length: frames }, () => null) },
  };
}

function measureAgainst(meter: Cells, context: FocusContext, level: number): FocusMeasure {
  const followed = context.shift && followCells(meter, context.moved, context.shift, context.occupied);
  const seen = (f: number) =>
    followed ? followed(f) : { cells: meter.read(f, context.moved), taken: context.occupied?.read(f) ?? null };
  const frames = meter.count,
    count = meter.across * meter.down;
  const none = unknownFocus(frames);
  if (frames === 0) return none;
  const room = min(frames, BLOCK);
  const { kernels, arrays } = Kernels.with({
    energies: ['floats', room * count],
    taken: ['bytes', room * count],
    grain: ['doubles', room],
    gain: ['doubles', room],
    values: ['doubles', max(room, count)],
    ofCells: ['doubles', 4 * count],
    best: ['doubles', count],
    chosen: ['words', count],
    ofFrames: ['doubles', 3 * room],
  });
  /** Lays so many frames' cells into the kernels' memory, the first of them and every `step`th after it. */
  const lay = (first: number, many: number, step: number) => {
    arrays.taken.fill(0);
    for (let k = 0; k < many; k++) {
      const f = floor(first + k * step);
      const { cells, taken } = seen(f);
      arrays.energies.set(cells, k * count);
      arrays.grain[k] = grainEnergy(cells, level);
      arrays.gain[k] = 2 ** (-(context.light[f] ?? 0) / 2.1);
      if (taken) arrays.taken.set(taken, k * count);
    }
    return {
      energies: at(arrays.energies),
      taken: at(arrays.taken),
      frames: many,
      cells: count,
      grain: at(arrays.grain),
      gain: at(arrays.gain),
      values: at(arrays.values),
    };
  };
  // Of a very long take so many frames say what each cell holds at its best.
  const some = lay(0, room, frames / room);
  kernels.run.cellsOverFrames({ ...some, out: at(arrays.ofCells) });
  let kept = 0;
  for (let k = 0; k < count; k++) {
    const [seen, energy, noise, best] = arrays.ofCells.subarray(4 * k, 4 * k + 4);
    arrays.best[k] = best;
    if (
      seen >= 1 &&
      best > 0 &&
      seen >= 0.3 * room &&
      energy > (Number.isNaN(level) ? TEXTURED : TEXTURED_AT_ALL) * max(noise, seen * 2)
    )
      arrays.chosen[kept++] = k;
  }
  none.textured_share = kept / count;
  if (kept < LEAST_CELLS) return none;
  const scatter: number[] = [];
  const raw: (number | null)[] = [],
    strong: (number | null)[] = [];
  const chosen = arrays.chosen.slice(0, kept),
    strongCells = strongest(chosen, arrays.best);
  for (let first = 0; first < frames; first += room) {
    const block = room === frames ? some : lay(first, min(room, frames - first), 1);
    const over = (cells: Uint32Array, told: (middle: number | null, error: number) => void) => {
      arrays.chosen.set(cells);
      kernels.run.framesOverCells({
        ...block,
        chosen: at(arrays.chosen),
        many: cells.length,
        best: at(arrays.best),
        out: at(arrays.ofFrames),
      });
      for (let k = 0; k < block.frames; k++) {
        const [seen, middle, spread] = arrays.ofFrames.subarray(3 * k, 3 * k + 3);
        const enough = seen >= max(LEAST_CELLS, LEAST_SEEN * cells.length);
        told(enough ? middle : null, sigmaOfMad(spread) / sqrt(seen));
      }
    };
    over(chosen, (middle, error) => {
      raw.push(middle);
      if (middle !== null) scatter.push(error);
    });
    over(strongCells, (middle) => strong.push(middle));
  }
  return focusOf(raw, {
    strong,
    fps: context.fps,
    scale: context.scale,
    textured: kept / count,
    scatter,
    followed: followed !== null && followed !== undefined,
  });
}

/** What is known beside a path of sharpness. */
interface PathContext extends Pick<FocusContext, 'fps' | 'scale'> {
  /** Share of the cells that have texture. */
  textured: number;
  /** What the frames' values may be off by, each. */
  scatter: readonly number[];
  /** Whether cells followed the picture. */
  followed: boolean;
  /** The same path by the cells that hold the most detail alone; not known when left out. */
  strong?: readonly (number | null)[];
}

/** The focus by the sharpness of each frame, of whatever unit; null where it is not known. */
export function focusOf(raw: readonly (number | null)[], context: PathContext): FocusMeasure {
  const none = { ...unknownFocus(raw.length), textured_share: context.textured };
  const sharpness = againstItsBest(raw, context.fps);
  if (!sharpness) return none;
  let worst = 1;
  let worstFrame: number | null = null;
  sharpness.forEach((v, f) => {
    if (v !== null && (v < worst || worstFrame === null)) {
      worst = v;
      worstFrame = f;
    }
  });
  const ripple = frameSigma(raw);
  // Cells that follow the picture hold a little of their neighbours.
  const least = context.followed ? FOLLOWED_LOSS : HUNT_LOSS;
  const strong = context.strong && againstItsBest(context.strong, context.fps);
  const hunts = findHunts(sharpness, max(least, 4 * ripple), max(2, round(context.fps * HUNT_SECONDS))).filter(
    (run) => !strong || breathes([run], context.scale) || !isCoding(run, sharpness, strong),
  );
  return {
    worst_loss_pct: 100 * (1 - worst),
    worst_frame: worstFrame,
    hunts,
    breathing: breathes(hunts, context.scale),
    textured_share: context.textured,
    uncertainty_pct: 100 * max(ripple, context.scatter.length ? median(context.scatter) : 0),
    path: { sharpness },
  };
}

/** A path against its sharp state, evened a little; null where nothing is known, or no detail is there that changes. */
function againstItsBest(raw: readonly (number | null)[], fps: number): (number | null)[] | null {
  // One frame alone is the coder's doing: pictures stored whole are sharper than those between.
  const half = max(1, round(fps * 0.05));
  const smooth = raw.map((v, f) => (v === null ? null : middle(raw.slice(max(0, f - half), f + half + 1))));
  const known = smooth.filter((v): v is number => v !== null);
  const top = known.length ? quantile(known, 0.95) : 0;
  // A picture that stands still to the last bit, as of a screen, has no detail that changes.
  return top > 0 ? smooth.map((v) => (v === null ? null : min(1, v / top))) : null;
}

/**
 * Gives the cells' detail where the picture of the reference frame lies in each frame: between cells in proportion. Null
 * where it never goes far.
 */
function followCells(
  meter: Cells,
  coarser: boolean,
  shift: readonly ([number, number] | null)[],
  occupied: CellMarks | null,
): ((f: number) => { cells: Float32Array; taken: Uint8Array }) | null {
  const { across, down, width, height } = meter;
  const places = shift.map((s) => s && [(s[0] * across) / width, (s[1] * down) / height]);
  if (!places.some((p) => p && max(abs(p[0]), abs(p[1])) > FAR)) return null;
  return (f) => {
    const own = meter.read(f, coarser);
    const marked = occupied?.read(f);
    const taken = new Uint8Array(own.length);
    const grid = new Float32Array(own.length);
    const place = places[f];
    for (let y = 0, k = 0; y < down; y++) {
      for (let x = 0; x < across; x++, k++) {
        const u = x + (place?.[0] ?? 0),
          v = y + (place?.[1] ?? 0);
        const i = floor(u),
          j = floor(v);
        if (
          !place ||
          i < 0 ||
          j < 0 ||
          i + 1 > across - 1 + (u === i ? 1 : 0) ||
          j + 1 > down - 1 + (v === j ? 1 : 0)
        ) {
          taken[k] = 1;
          continue;
        }
        const i1 = min(across - 1, i + 1),
          j1 = min(down - 1, j + 1);
        const [a, b] = [u - i, v - j];
        const at = [j * across + i, j * across + i1, j1 * across + i, j1 * across + i1];
        const weights = [(1 - a) * (1 - b), a * (1 - b), (1 - a) * b, a * b];
        at.forEach((cell, n) => {
          grid[k] += weights[n] * own[cell];
          if (weights[n] > 0.1 && marked?.[cell]) taken[k] = 1;
        });
      }
    }
    return { cells: grid, taken };
  };
}

/** What the grain alone gives the detail filter: 4 in the middle less its four neighbours, for independent pixels. */
const FILTER_GAIN = 20;

/** Energy of the grain in a picture: what its own spread explains, at most what the emptiest cells hold. */
function grainEnergy(cells: Float32Array, grain: number): number {
  const emptiest = quantile(cells, 0.06);
  return Number.isNaN(grain) ? emptiest : min(emptiest, FILTER_GAIN * grain * grain);
}

function middle(values: (number | null)[]): number {
  return median(values.filter((v): v is number => v !== null));
}

/** Runs in which the picture is softer than the take's sharp state, grown to where the loss begins and ends. */
function findHunts(sharpness: (number | null)[], loss: number, least: number): Run[] {
  const out: Run[] = [];
  for (let f = 0; f < sharpness.length; f++) {
    if (!((sharpness[f] ?? 1) < 1 - loss)) continue;
    let start = f,
      end = f;
    while (end + 1 < sharpness.length && (sharpness[end + 1] ?? 1) < 1 - 0.5 * loss) end++;
    while (start > 0 && (sharpness[start - 1] ?? 1) < 1 - 0.5 * loss) start--;
    if (end - start + 1 >= least) out.push({ start, end });
    f = end;
  }
  return out;
}

/** Whether the picture's size changes as the focus goes: then it was the lens that moved. */
function breathes(hunts: Run[], scale: (number | null)[]): boolean {
  return hunts.some(({ start, end }) => {
    const inside = scale.slice(start, end + 1).filter((v): v is number => v !== null);
    const outside = scale
      .slice(max(0, start - 12), start)
      .concat(scale.slice(end + 1, end + 13))
      .filter((v): v is number => v !== null);
    if (inside.length < 2 || outside.length < 2) return false;
    return abs(median(inside) - median(outside)) > 0.0004;
  });
}

/** The numbers for a run of frames alone; the path stays whole. */
export function focusWithin(focus: FocusMeasure, run: Run): FocusMeasure {
  const { sharpness } = focus.path;
  const inside = sharpness.flatMap((v, f) => (v !== null && f >= run.start && f <= run.end ? [{ v, f }] : []));
  if (inside.length === 0) return { ...focus, worst_loss_pct: null, worst_frame: null, hunts: [] };
  const worst = inside.reduce((a, b) => (b.v < a.v ? b : a));
  const hunts = focus.hunts
    .map(({ start, end }) => ({ start: max(start, run.start), end: min(end, run.end) }))
    .filter((h) => h.start <= h.end);
  return { ...focus, worst_loss_pct: 100 * (1 - worst.v), worst_frame: worst.f, hunts };
}
