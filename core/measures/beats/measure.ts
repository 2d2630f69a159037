import type { Beat, BeatKind } from '../../report/moment-types';
import type { Box } from '../../report/types';
import { median } from '../../base/numeric/quantile';
import { frontStops, sameMover, straysIn, whereOf } from '../../movers/one-mover';
import type { Pace } from '../../movers/pace';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, acos, ceil, hypot, max, min, PI } = Math;

export interface MotionInput {
  /** From each frame to the next: the first says how frame 1 differs from frame 0. Null where that is not known. */
  paces: readonly (Pace | null)[];
  fps: number;
  /** Source pixels for one pixel of the grid; and the picture's width, source pixels. */
  factor: number;
  width: number;
  /** Size of the grid. */
  grid: { width: number; height: number };
}

/** Somebody rests who stands still for so long, s; they move who do so for half as long. */
const REST_S = 0.2;
/** Slower than this share of the picture's width a second nothing moves. */
const LEAST_SPEED = 0.008;
/** At rest less than this share of what usually changes still does. */
const AT_REST = 0.3;
/** Somebody by themselves changes at least this share of the box around all changes. */
const TOGETHER = 0.1;
/** A blow changes a speed by this share of the width a second at least, and by this share of itself, within two frames. */
const BLOW = 0.11;
const SUDDEN = 0.55;
/** Who goes on no further than this off their way has not turned, degrees. */
const TURNED = 120;
const DEFLECTED = 50;
/** Who goes back by less than this share of how fast they came was stopped, and has not turned. */
const REBOUND = 0.3;
/** Who touched the picture's edge less than so long ago, s, is still coming in. */
const ENTERS_S = 0.3;
/** One blow is not another so soon after it, s. */
const ONE_S = 0.16;

/** A beat of what moves, with by how much its speed changes, widths a second, and the frame at which it is told. */
type MotionBeat = Omit<Beat, 'time_s'> & { change: number; at: number };

/** Beats of what moves: where it begins, ends, turns, or is stopped short. */
export function motionBeats({ paces: all, fps, factor, width, grid }: MotionInput): Omit<Beat, 'time_s'>[] {
  const strays = straysIn(all);
  // A step of something elsewhere says nothing of who moves here.
  const lost = lostIn(all);
  const paces = all.map((p) => (p && (strays.has(p) || lost.has(p)) ? null : p));
  const count = paces.length + 1;
  const perS = (p: readonly [number, number]) => (hypot(...p) * factor * fps) / width;
  // A step that follows from nothing is a picture's that could not be read.
  const { steps, unknown } = knownSteps(paces);
  const v = withoutSpikes(steps);
  const fast = paces.map((_, k) => perS(v[k]) > LEAST_SPEED);
  // Where several move, each its own way, all of them together may not seem to: but they do not rest.
  const usual = median(paces.flatMap((p, k) => (p && fast[k] ? [p.changed] : [])));
  const rests = paces.map((p, k) => !fast[k] && !(p && p.changed > AT_REST * usual));
  const rest = max(2, ceil(REST_S * fps)),
    lasting = max(2, ceil((REST_S * fps) / 2)),
    enters = ceil(ENTERS_S * fps),
    soon = max(2, ceil(ONE_S * fps));
  const none = (from: number, to: number) => {
    for (let k = max(0, from); k < min(rests.length, to); k++) if (!rests[k]) return false;
    return to > from;
  };
  const most = (from: number, to: number) => {
    let n = 0;
    for (let k = max(0, from); k < min(fast.length, to); k++) if (fast[k]) n++;
    return n >= 0.7 * (to - from);
  };
  const often = (from: number, to: number) =>
    fast.slice(max(0, from), to).filter(Boolean).length >= SLOWLY * (to - from);
  const mean = (from: number, to: number): readonly [number, number] => {
    let [x, y, n] = [0, 0, 0];
    for (let k = max(0, from); k < min(v.length, to); k++, n++) {
      x += v[k][0];
      y += v[k][1];
    }
    return n ? [x / n, y / n] : [0, 0];
  };
  const scattered = (f: number) => {
    const near = all.slice(max(0, f - 4), f + 4).filter((p) => p?.box),
      astray = near.filter((p) => strays.has(p!));
    // What hardly moves for a moment is told by the frames beside.
    const told = near.filter((p) => p!.moved);
    const apart = (told.length >= 2 ? told : near).filter((p) => {
      const { box, changed } = p!.moved ?? { box: p!.box!, changed: p!.changed };
      return changed < TOGETHER * box.width * box.height;
    });
    return astray.length > near.length / 2 || apart.length > (told.length >= 2 ? told : near).length / 2;
  };
  const out: MotionBeat[] = [];
  const add = (frame: number, kind: BeatKind, change: number) => {
    const near = [frame - 1, frame, frame - 2, frame + 1].map((k) => whereOf(paces[k])).find((b) => b);
    // Who comes into the picture, or leaves it, neither begins nor ends there.
    const around = paces
      .slice(max(0, frame - enters), frame + (kind === 'strikes' ? 2 : 0))
      .flatMap((p) => whereOf(p) ?? []);
    if (near && kind !== 'turns' && (atEdge(near, grid) || around.some((b) => atEdge(b, grid)))) return;
    // What crumples where it lands still moves: it struck when its front stood still.
    const at = kind === 'strikes' ? frontStops(paces, frame, mean(frame - 4, frame - 1), 2 * soon) : frame;
    out.push({ frame, at, kind, strength: change / (change + BLOW), ...placeOf(near ?? null, factor), change });
  };
  for (let f = 1; f < count - 1; f++) {
    // What happens beside frames of which nothing is known is not known either.
    if (unknown.slice(max(0, f - 2), f + 2).includes(true)) continue;
    // Steps f - 1 and before lead to frame f; steps f and after lead away from it.
    const before = mean(f - 2, f),
      after = mean(f, f + 2);
    const [was, is] = [perS(before), perS(after)];
    const change = perS([after[0] - before[0], after[1] - before[1]]);
    const angle = angleBetween(before, after);
    // Who sets off, or comes to rest, slowly changes in a step that no shift of a whole pixel tells yet, or tells no more.
    const setsOff = !fast[f - 1] && (fast[f] ? f : !rests[f] && fast[f + 1] ? f + 1 : null);
    if (setsOff && none(f - rest, f) && most(setsOff, setsOff + lasting)) {
      if (f >= rest) add(f, 'starts', max(is, perS(mean(setsOff, setsOff + lasting))));
      continue;
    }
    const slowly = !fast[f - 1] && !rests[f - 1] && fast[f - 2];
    if ((fast[f - 1] || slowly) && !fast[f] && none(f, f + rest) && f + rest <= count) {
      const speed = perS(mean(f - 3, f - 1));
      const peak = max(...Array.from({ length: rest }, (_, k) => perS(v[max(0, f - 1 - k)])));
      const blow = speed > BLOW && speed > SUDDEN * peak;
      if (most(f - lasting - Number(slowly), f - Number(slowly))) add(f, blow ? 'strikes' : 'stops', speed);
      continue;
    }
    // Where several move here and there, what all of them do together is no turn of anybody.
    if (scattered(f)) continue;
    const turned = sameMover(paces, f) ? turnAt(f, mean, perS, often) : null;
    if (turned !== null) add(f, 'turns', turned);
    else if (
      change > BLOW &&
      change > SUDDEN * max(was, is) &&
      was > is / 2 &&
      (is < SUDDEN * was || (angle > DEFLECTED && angle < TURNED))
    )
      add(f, 'strikes', change);
  }
  const beats = merged(out, soon);
  // The last of what crumples comes to rest after the blow that it belongs to.
  const told = (b: MotionBeat, k: number) => b.kind !== 'strikes' || !beats.slice(0, k).some((o) => o.at === b.at);
  return beats.filter(told).map(asTold);
}

/** A shift that explains less than this share of what usual ones do of what changes was lost before what lies behind. */
const LOST = 0.4;
/** Who is told by themselves tells at least this share of what changes. */
const ALONE = 0.6;

/** Steps in which as much changes as ever, and hardly any of it is told by the shift: they say nothing of the pace. */
function lostIn(paces: readonly (Pace | null)[]): ReadonlySet<Pace> {
  const told = paces.flatMap((p) => (p?.box && p.moved ? [p] : []));
  const usual = median(told.map((p) => p.moved!.changed / p.changed)),
    changes = median(told.map((p) => p.changed));
  const isLost = (p: Pace) =>
    p.changed > AT_REST * changes && (p.moved ? p.moved.changed / p.changed : 0) < LOST * usual;
  const out = new Set<Pace>();
  // Where other things change too, whoever rests among them is not lost.
  if (told.length === 0 || usual <= ALONE) return out;
  for (let k = 0; k < paces.length; k++) {
    const from = k;
    while (k < paces.length && paces[k]?.box && isLost(paces[k]!)) k++;
    // What goes on afterwards as it did before was only hidden; what crumples, or stops, was not.
    if (k > from && goesOn(paces[from - 1], paces[k])) for (const p of paces.slice(from, k)) out.add(p!);
  }
  return out;
}

/** Steps of one way, neither of them twice as long as the other. */
function goesOn(a: Pace | null | undefined, b: Pace | null | undefined): boolean {
  if (!a?.box || !b?.box) return false;
  const [was, is]: (readonly [number, number])[] = [
    [a.dx, a.dy],
    [b.dx, b.dy],
  ];
  return max(hypot(...was), hypot(...is)) < 2 * min(hypot(...was), hypot(...is)) && angleBetween(was, is) < DEFLECTED;
}

/** Steps that are not known are as those around them, for so many frames at most. */
const BETWEEN = 5;

/** All steps, and which of them are not known, nor told by those around them. */
function knownSteps(paces: readonly (Pace | null)[]) {
  const unknown = paces.map(() => false);
  const steps = paces.map((p): readonly [number, number] => (p?.box ? [p.dx, p.dy] : [0, 0]));
  for (let k = 0; k < paces.length; k++) {
    if (paces[k] !== null) continue;
    let end = k;
    while (end < paces.length && paces[end] === null) end++;
    const [a, b] = [steps[k - 1], steps[end]];
    for (let m = k; m < end; m++) {
      const share = (m - k + 1) / (end - k + 1);
      if (a && b && end - k <= BETWEEN) steps[m] = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
      else unknown[m] = true;
    }
    k = end;
  }
  return { steps, unknown };
}

/** A step this many times as long as both beside it, which are steps too, was read wrongly. */
const SPIKE = 3;

/** Steps without those of single frames that follow from nothing: between two steps their mean. */
function withoutSpikes(steps: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  return steps.map((own, k) => {
    const [before, after] = [steps[k - 1], steps[k + 1]];
    if (!before || !after) return own;
    const [was, is] = [hypot(...before), hypot(...after)];
    if (min(was, is) === 0 || hypot(...own) <= SPIKE * max(was, is)) return own;
    return [(before[0] + after[0]) / 2, (before[1] + after[1]) / 2];
  });
}

const asTold = ({ at, kind, strength, x, y, width, height }: MotionBeat) => {
  return { frame: at, kind, strength, x, y, width, height };
};

/** A way is told by so many frames; by more of them where it is slow. */
const FAR = [4, 8] as const;
/** Of those, who comes back slowly moves in so many. */
const SLOWLY = 0.6;

/** By how much a way is reversed around a frame, widths a second; null where it is not. */
function turnAt(
  f: number,
  mean: (from: number, to: number) => readonly [number, number],
  perS: (p: readonly [number, number]) => number,
  often: (from: number, to: number) => boolean,
): number | null {
  let [before, after] = [mean(f - FAR[0], f), mean(f, f + FAR[0])];
  // Who slows down, rests for a moment and comes back is seen to from farther off.
  for (const far of FAR.slice(1))
    if (min(perS(before), perS(after)) < 2 * LEAST_SPEED && often(f - far, f) && often(f, f + far))
      [before, after] = [mean(f - far, f), mean(f, f + far)];
  if (min(perS(before), perS(after)) < 2 * LEAST_SPEED || angleBetween(before, after) < TURNED) return null;
  // Who is stopped short springs back a little.
  if (perS(before) > BLOW && perS(after) < REBOUND * perS(before)) return null;
  // The frame between the last step the old way and the first the new one.
  const along = (p: readonly [number, number]) => p[0] * (after[0] - before[0]) + p[1] * (after[1] - before[1]);
  if (along(mean(f - 1, f)) > 0 || along(mean(f, f + 1)) < 0) return null;
  return perS([after[0] - before[0], after[1] - before[1]]);
}

function angleBetween(a: readonly [number, number], b: readonly [number, number]): number {
  const size = hypot(...a) * hypot(...b);
  return size < 1e-9 ? 0 : (acos(max(-1, min(1, (a[0] * b[0] + a[1] * b[1]) / size))) * 180) / PI;
}

/** Of beats close to each other the strongest; a start or a turn is not a blow besides. */
function merged<B extends { frame: number; kind: BeatKind; change: number }>(beats: readonly B[], apart: number): B[] {
  const order: Partial<Record<BeatKind, number>> = { turns: 3, starts: 2, stops: 2, strikes: 1 };
  // Coming to rest after a blow is part of it.
  const follows = (b: B) =>
    b.kind === 'stops' &&
    beats.some(
      (s) =>
        s.kind === 'strikes' && s.frame < b.frame && b.frame - s.frame < 2 * apart && b.change < REBOUND * s.change,
    );
  const sorted = beats
    .filter((b) => !follows(b))
    .sort((a, b) => (a.kind === b.kind ? b.change - a.change : (order[b.kind] ?? 0) - (order[a.kind] ?? 0)));
  const kept: B[] = [];
  // Who slows down and comes back turns once.
  const near = (a: B, b: B) => abs(a.frame - b.frame) < (a.kind === 'turns' && b.kind === 'turns' ? 2 * apart : apart);
  for (const b of sorted) if (!kept.some((k) => near(k, b))) kept.push(b);
  return kept.sort((a, b) => a.frame - b.frame);
}

/** Fewer pixels of the grid than these to the edge are at it; a box lower than this share of the picture comes up over its lower edge. */
const AT_EDGE = 3;
const LOW = 0.2;

const atEdge = ({ x, y, width, height }: Box, grid: { width: number; height: number }) =>
  x < AT_EDGE ||
  y < AT_EDGE ||
  x + width > grid.width - AT_EDGE ||
  (y + height > grid.height - AT_EDGE && height < LOW * grid.height);

function placeOf(box: Box | null, factor: number) {
  if (!box) return { x: null, y: null, width: null, height: null };
  return { x: box.x * factor, y: box.y * factor, width: box.width * factor, height: box.height * factor };
}
