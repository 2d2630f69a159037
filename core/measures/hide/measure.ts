import { findSeam, type SeamLine } from '../../movers/seam';
import { sidesOf } from '../../movers/moving';
import { kindsIn, steadied, type KindFrames } from '../../presence/kinds';
import { runsOf } from '../../presence/measure';
import { BODY, NONE, SHADOW } from '../../presence/shade';
import type { HideFound, Spill, Split } from '../../report/hide-types';
import type { Box, Run, Side } from '../../report/types';
import { straightSplit, type TwoSides } from './split';
import { vanishing, type Vanishing } from './vanishing';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

export interface HideInput extends KindFrames {
  /** Source pixels for one pixel of the grid. */
  factor: number;
  /** The switch frame, where somebody chose it. */
  at: number | null;
}

export type HideSums = Omit<HideFound, 'light' | 'offset' | 'unjudged'>;

/** A margin of less than this, pixels of the grid, is none. */
const LEAST_MARGIN = 1;
/** So many spills are named. */
const MOST_SPILLS = 200;
/** Fewer pixels of a body than these are its rim, left over. */
const SPECK = 12;

/** Looks for when nothing of somebody shows, what they are behind then, and the line that joins the take to its plate. */
export function measureHide(input: HideInput): HideSums {
  const { width, height, frames, factor } = input;
  const pixels = width * height;
  const kinds = new Uint8Array(pixels);
  const bodies: (number | null)[] = [];
  const shown = frames.map((_, f) => {
    const n = kindsIn(input, f, kinds);
    bodies.push(n && kinds.reduce((sum, k) => sum + (k === BODY ? 1 : 0), 0));
    return n;
  });
  const first = shown.findIndex((n) => n !== null && n > 0);
  // A shadow is taken for a body now and then, for a frame.
  const steady = steadied(bodies);
  const from = steady.findIndex((n) => n !== null && n >= SPECK);
  const hidden = runsOf(shown.map((n, f) => first >= 0 && f > first && n === 0));
  const bodyHidden = runsOf(steady.map((n, f) => from >= 0 && f > from && n !== null && n < SPECK));
  const known = shown.filter((n) => n !== null).length;
  const share = (n: number) => n / pixels;
  // Coming in, little of them shows too.
  const whole = shown.reduce<number>((best, n, f) => ((n ?? 0) > (shown[best] ?? 0) ? f : best), 0);
  const afterIn = shown.flatMap((n, f) => (first >= 0 && f > whole && n !== null ? [{ f, n }] : []));
  const least = afterIn.length ? afterIn.reduce((a, b) => (b.n < a.n ? b : a)) : null;
  const about = {
    hidden_runs: hidden,
    switch_chosen: input.at !== null,
    shadow_shows: hidden.length ? [] : bodyHidden,
    least_shown: least && { frame: least.f, share: share(least.n) },
    known_share: known / max(1, frames.length),
    in_share: shown.filter((n) => n).length / max(1, frames.length),
    path: { shown_share: shown.map((n) => n && share(n)) },
  };
  const nothing = { switch_frame: null, behind: null, split: null, spill: [], spill_frames: [], leaves_by: null };
  // Where a shadow goes on showing, the line is looked for as if it did not.
  const [runs, seen] = hidden.length ? [hidden, shown] : [bodyHidden, steady];
  const goes = runs.map((r) => vanishing({ ...input, shown: seen }, r));
  const { run, way } = input.at === null ? chosen(runs, goes) : heldIn(runs, goes, input.at);
  const at = input.at ?? run?.start ?? null;
  if (at === null || first < 0) return { ...about, ...nothing };
  if (way?.leavesBy && input.at === null) return { ...about, ...nothing, switch_frame: at, leaves_by: way.leavesBy };
  const behind = way?.leavesBy ? null : way;
  const joined = join(input, at, behind, factor);
  return { ...about, switch_frame: at, behind: behind && scaled(behind.behind, factor), leaves_by: null, ...joined };
}

interface Chosen {
  run: Run | null;
  way: Vanishing | null;
}

/** The longest run before which they go behind something; else before which they leave. */
function chosen(runs: readonly Run[], goes: readonly (Vanishing | null)[]): Chosen {
  const all = runs.flatMap((run, k) => (goes[k] ? [{ run, way: goes[k] }] : []));
  const inside = all.filter(({ way }) => !way.leavesBy);
  const length = ({ run }: { run: Run }) => run.end - run.start;
  return [...(inside.length ? inside : all)].sort((a, b) => length(b) - length(a))[0] ?? { run: null, way: null };
}

function heldIn(runs: readonly Run[], goes: readonly (Vanishing | null)[], at: number): Chosen {
  const k = runs.findIndex(({ start, end }) => at >= start && at <= end);
  return { run: runs[k] ?? null, way: goes[k] ?? null };
}

const scaled = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x * by,
  y: y * by,
  width: width * by,
  height: height * by,
});

type Joined = Pick<HideFound, 'split' | 'spill' | 'spill_frames'>;

/** The line that has all of them on one side before a frame and all on the other from it on. */
function join(input: HideInput, at: number, goes: Vanishing | null, factor: number): Joined {
  const { width, height, frames } = input;
  const before = new Uint32Array(width * height),
    after = new Uint32Array(width * height);
  const kinds = new Uint8Array(width * height);
  for (let f = 0; f < frames.length; f++) {
    if (!kindsIn(input, f, kinds)) continue;
    const into = f < at ? before : after;
    for (let i = 0; i < kinds.length; i++) if (kinds[i] !== NONE) into[i]++;
  }
  // Where nobody comes out again the line belongs on what hides them: half way to its far side.
  const beyond = after.some((n) => n > 0) || !goes ? null : farSide(goes, width, height);
  const ways = waysOf(goes);
  let best: { split: Split; wrong: number; line: SeamLine } | null = null;
  for (const keeps of ways) {
    const upright = keeps === 'left' || keeps === 'right';
    const isFirst = keeps === 'left' || keeps === 'top';
    const far = beyond ? added(after, beyond) : after;
    const sides: TwoSides = { width, height, before: isFirst ? before : far, after: isFirst ? far : before };
    const straight = straightSplit(sides, upright);
    const ends: [number, number][] = upright
      ? [
          [straight.from, 0],
          [straight.to, height],
        ]
      : [
          [0, straight.from],
          [width, straight.to],
        ];
    const line = { points: ends, upright, first: isFirst } as SeamLine;
    const wrong = straight.margin >= LEAST_MARGIN ? 0 : max(1, -straight.margin);
    const split = { fixed: wrong === 0, points: ends, margin_px: max(0, straight.margin), keeps };
    const better = !best || wrong < best.wrong || (wrong === best.wrong && split.margin_px > best.split.margin_px);
    if (better) best = { split, wrong, line };
  }
  if (best!.wrong > 0) {
    const bent = bentSplit(before, after, width, height, ways);
    if (bent) best = bent;
  }
  const { split, line, wrong } = best!;
  const spill = wrong > 0 ? spillOf(input, at, line) : [];
  const named = { ...split, points: split.points.map(([x, y]): [number, number] => [x * factor, y * factor]) };
  const cut = new Set(spill.map((s) => s.frame));
  return {
    split: { ...named, margin_px: split.margin_px * factor },
    spill: spill.slice(0, MOST_SPILLS).map((s) => ({ frame: s.frame, what: s.what, ...scaled(s, factor) })),
    spill_frames: runsOf(frames.map((_, f) => cut.has(f))),
  };
}

/** The side they are on before they are hidden; all four where that is not known. */
function waysOf(goes: Vanishing | null): Side[] {
  return goes ? [goes.from] : ['left', 'right', 'top', 'bottom'];
}

function farSide({ behind, from }: Vanishing, width: number, height: number): Uint32Array {
  const out = new Uint32Array(width * height);
  const { x, y, width: w, height: h } = behind;
  const is = {
    left: (u: number) => u >= x + w,
    right: (u: number) => u < x,
    top: (_: number, v: number) => v >= y + h,
    bottom: (_: number, v: number) => v < y,
  }[from];
  for (let v = 0, i = 0; v < height; v++) for (let u = 0; u < width; u++, i++) if (is(u, v)) out[i] = 1;
  return out;
}

const added = (a: Uint32Array, b: Uint32Array) => a.map((n, i) => n + b[i]);

/** A line with corners, where no straight one will do. */
function bentSplit(before: Uint32Array, after: Uint32Array, width: number, height: number, ways: readonly Side[]) {
  const [a, b] = [before, after].map((counts) => Uint8Array.from(counts, (n) => (n ? 1 : 0)));
  const line = findSeam({ width, height, a, b, light: null });
  if (!line || line.feather / 2 < LEAST_MARGIN) return null;
  const keeps: Side = line.upright ? (line.first ? 'left' : 'right') : line.first ? 'top' : 'bottom';
  if (!ways.includes(keeps)) return null;
  return { split: { fixed: true, points: line.points, margin_px: line.feather / 2, keeps }, wrong: 0, line };
}

/** What lies on the wrong side of a line, frame by frame, the most first. */
function spillOf(input: HideInput, at: number, line: SeamLine): (Spill & { area: number })[] {
  const { width, height, frames } = input;
  const sides = sidesOf(line, width, height);
  const kinds = new Uint8Array(width * height);
  const out: (Spill & { area: number })[] = [];
  for (let f = 0; f < frames.length; f++) {
    if (!kindsIn(input, f, kinds)) continue;
    const wrong = f < at === line.first ? 1 : -1;
    let [left, top, right, bottom] = [width, height, -1, -1];
    let bodies = 0,
      shadows = 0;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (kinds[i] === NONE || sides[i] !== wrong) continue;
        if (kinds[i] === BODY) bodies++;
        else if (kinds[i] === SHADOW) shadows++;
        [left, right] = [min(left, x), max(right, x)];
        [top, bottom] = [min(top, y), max(bottom, y)];
      }
    if (right < 0) continue;
    const box = { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
    // A body's own rim is not its shadow.
    out.push({ frame: f, ...box, what: bodies > shadows / 8 ? 'body' : 'shadow', area: bodies + shadows });
  }
  return out.sort((a, b) => b.area - a.area);
}
