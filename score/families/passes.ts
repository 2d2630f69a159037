import type { SKRSContext2D } from '@napi-rs/canvas';
import { boxOutline } from '../../core/base/geometry/outline';
import { judgeHide } from '../../core/measures/hide/judge';
import { judgePair } from '../../core/measures/pair/judge';
import type { Verdict } from '../../core/report/types';
import { comparePlate } from '../../core/take/compare';
import { findHide } from '../../core/take/hide';
import { findPair } from '../../core/take/pair';
import { findZone } from '../../core/take/zone';
import { baseOf, handheld, LOOKS, swaying, walk } from '../base';
import { allOf, holds, keptPlate, keptTake, numberIs, runsAre, runsWhere, verdictIs, type ScoreClip } from '../clip';
import type { ClipRecipe, Truth } from '../compose';
import { clothOf, paintFigure } from '../subjects';

const judgedAs = ({ verdict, reasons }: Verdict, isSound: boolean) => [verdictIs(verdict, isSound, reasons)];

/** Distance between who is in two frames, pixels of the truth; 0 where they overlap, null where one is empty. */
function gapOf(a: Uint8Array, b: Uint8Array, width: number): number | null {
  const rims = (m: Uint8Array) => {
    const out: [number, number][] = [];
    for (let i = 0; i < m.length; i++)
      if (m[i] && !(m[i - 1] && m[i + 1] && m[i - width] && m[i + width])) out.push([i % width, Math.floor(i / width)]);
    return out;
  };
  const [p, q] = [rims(a), rims(b)];
  if (!p.length || !q.length) return null;
  if (a.some((v, i) => v && b[i])) return 0;
  return Math.sqrt(
    Math.min(...p.map(([x, y]) => q.reduce((m, [u, v]) => Math.min(m, (x - u) ** 2 + (y - v) ** 2), 1e9))),
  );
}

/** Two passes of one setup: who is in each keeps to a side, or they meet. */
export async function pair(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 9);
  const { recipe, cloth, trousers, second, look, seed } = base;
  const { width, fps } = recipe;
  const frames = Math.round(2.8 * fps);
  const meets = k % 3 === 1;
  const [shift, gap] = [[0, 0.8, 2.5][k % 3], k % 4 === 2 ? 0.2 : 0];
  const reach = meets ? 0.5 : 0.24;
  const person =
    (from: number, to: number, coat: typeof cloth): ClipRecipe['paint'] =>
    (ctx, at) => {
      const pose = walk(recipe, 0, at);
      paintFigure(
        ctx,
        { ...pose, x: width * (from + ((to - from) * Math.min(at, 0.7 * frames)) / (0.7 * frames)) },
        coat,
        trousers,
      );
    };
  const behind = k % 4 === 1 ? swaying(base, 0.3) : undefined;
  const a: ClipRecipe = { ...recipe, frames, behind, shadow: k % 2 ? 0.35 : 0, paint: person(-0.1, reach, cloth) };
  const b: ClipRecipe = {
    ...a,
    seed: seed + 11,
    light: () => gap,
    camera: () => ({ dx: shift, dy: -shift / 2, rotation: 0, scale: 1 }),
    paint: person(1.1, 1 - reach, second),
  };
  const name = `${meets ? 'two who meet' : 'two who stay apart'}, ${look} clothes${behind ? ', leaves' : ''}`;
  const judge = async () => {
    const [one, two] = [await keptTake('passes', `${name}, a`, a), await keptTake('passes', `${name}, b`, b)];
    const { found } = await findPair(one, two);
    // The second pass's truth as it lies on the first.
    const [sx, sy] = [Math.round(shift / 2), Math.round(-shift / 4)];
    const laid = two.truth.frames.map((m) => moved(m, two.truth, sx, sy));
    const gaps = one.truth.frames.map((m, f) => gapOf(m, laid[f], one.truth.width));
    const near = gaps.flatMap((g) => (g === null ? [] : [2 * g]));
    const closest = near.length ? Math.min(...near) : null;
    return allOf(
      runsAre(
        found.overlap_runs,
        runsWhere(frames, (f) => gaps[f] === 0),
      ),
      closest === null ? {} : numberIs('closest', found.closest_px, closest, Math.max(6, 0.02 * width)),
      numberIs('offset', found.offset?.dx_px, shift, 0.3, found.offset?.uncertainty_px),
      numberIs('light', found.light?.gap_stops, gap, 0.04),
      ...judgedAs(judgePair(found, { size: a, delivery: a }), !meets),
    );
  };
  return { name, judge };
}

/** A truth moved back by some of its pixels. */
function moved(m: Uint8Array, { width, height }: Truth, dx: number, dy: number): Uint8Array {
  const out = new Uint8Array(m.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x + dx, y + dy];
      if (u >= 0 && v >= 0 && u < width && v < height) out[y * width + x] = m[v * width + u];
    }
  return out;
}

/** A plate against a take: place, light, and what stands in one of them only. */
export async function compare(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 10);
  const { recipe, cloth, trousers, second, look, seed } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(2.4 * fps);
  const [thing, intrudes] = [k % 4 === 1 || k % 4 === 3, k % 4 === 2];
  const [shift, gap] = [[0, 1.7, 4][k % 3], [0, 0.25, -0.4, 0.06][(k >> 1) % 4]];
  const prop: ClipRecipe['behind'] = (ctx) => {
    ctx.fillStyle = ctx.createPattern(second, 'repeat')!;
    ctx.fillRect(0.7 * width, 0.55 * height, 0.08 * width, 0.16 * height);
  };
  const take: ClipRecipe = {
    ...recipe,
    frames,
    behind: thing ? prop : undefined,
    camera: () => ({ dx: shift, dy: 0, rotation: 0, scale: 1 }),
    light: () => gap,
    paint: (ctx, at) => paintFigure(ctx, walk(recipe, at / frames, at), cloth, trousers),
  };
  const plate: ClipRecipe = {
    ...recipe,
    ...{ frames: fps, seed: seed + 77 },
    paint: (ctx) => {
      if (intrudes) paintFigure(ctx, { ...walk(recipe, 0, 0), x: 0.25 * width }, second, trousers);
    },
  };
  const name = `${thing ? 'a thing in the take only' : intrudes ? 'somebody in the plate' : 'a clean plate'}, ${look} clothes`;
  const judge = async () => {
    const one = await keptTake('passes', `${name}, take`, take, false);
    const two = await keptTake('passes', `${name}, plate`, plate, false);
    const told = await comparePlate(one, two);
    const at = (box: { x: number; y: number; width: number; height: number }, x: number, y: number) =>
      box.x - 0.02 * width <= x * width &&
      x * width <= box.x + box.width + 0.02 * width &&
      box.y <= y * height &&
      y * height <= box.y + box.height;
    const found = told.moved.some((m) => at(m, 0.74, 0.63)),
      seen = told.intruders.some((m) => at(m, 0.25, 0.6));
    return allOf(
      numberIs('offset', told.offset?.dx_px, shift, 0.3, told.offset?.uncertainty_px),
      numberIs('light', told.light?.gap_stops, gap, 0.04, told.light?.uncertainty_stops),
      holds(found === thing, found ? 'a thing that is none' : 'the thing is not found'),
      // Who stands still all along may be called a thing that stands in the plate.
      holds(
        thing || told.moved.every((m) => intrudes && at(m, 0.25, 0.6)),
        `${told.moved.length} things that are none`,
      ),
      holds(seen === intrudes || told.moved.length > 0, 'somebody in the plate is not found'),
      holds(intrudes || told.intruders.length === 0, `${told.intruders.length} in the plate who are not`),
      {
        verdict:
          !thing && !intrudes && told.moved.length + told.intruders.length > 0
            ? 'false alarm'
            : (thing && !found) || (intrudes && !seen && told.moved.length === 0)
              ? 'missed'
              : 'right',
      },
    );
  };
  return { name, judge };
}

/** Somebody goes behind a pillar: hidden, or showing on both sides of it. */
export async function hide(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 11);
  const { recipe, cloth, trousers, look, seed, photo } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const narrow = k % 3 === 2;
  const tall = 0.5;
  const [left, wide] = [0.46 * width, narrow ? 0.1 * tall * height : 0.75 * tall * height];
  const stone = clothOf(LOOKS[(k + 2) % LOOKS.length], seed + 3, photo);
  const stays = k % 2 === 0;
  const name = `${narrow ? 'a post too narrow' : stays ? 'who stays behind a pillar' : 'who goes on behind a pillar'}, ${look} clothes`;
  const way = (at: number) => {
    const t = at / frames;
    if (narrow) return t * 1.4 - 0.2;
    const middle = (left + wide / 2) / width;
    return stays ? Math.min(middle, -0.2 + (middle + 0.2) * (t / 0.6)) : -0.2 + 1.4 * t;
  };
  const all: ClipRecipe = {
    ...recipe,
    frames,
    camera: k % 4 === 3 ? handheld(seed, 4) : undefined,
    behind: (ctx) => {
      ctx.fillStyle = ctx.createPattern(stone, 'repeat')!;
      ctx.fillRect(left, -height, wide, 3 * height);
    },
    paint: (ctx, at) => {
      ctx.save();
      ctx.beginPath();
      ctx.rect(-width, -height, width + left, 3 * height);
      ctx.rect(left + wide, -height, 2 * width, 3 * height);
      ctx.clip();
      const pose = walk(recipe, 0, at, tall);
      paintFigure(ctx, { ...pose, x: way(at) * width }, cloth, trousers);
      ctx.restore();
    },
  };
  const judge = async () => {
    const take = await keptTake('passes', name, all);
    const found = await findHide(take, await keptPlate('passes', name, all));
    const shows = take.truth.frames.map((m) => m.includes(255));
    const first = shows.indexOf(true),
      last = shows.lastIndexOf(true);
    const real = narrow
      ? []
      : runsWhere(frames, (f) => !shows[f] && f > first && (stays || f < last)).filter((r) => r.end - r.start > 2);
    // Who leaves by the picture's edge is hidden by nothing.
    const told = stays || narrow ? found.hidden_runs : found.hidden_runs.filter((r) => r.start < last);
    return allOf(
      runsAre(narrow ? told.filter((r) => r.start < last) : told, real),
      ...judgedAs(judgeHide(found, { plate: true, size: all, delivery: all }), !narrow),
    );
  };
  return { name, judge };
}

/** A zone that is entered, crossed by a shadow, lit by a lamp, or kept free. */
export async function zone(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 12);
  const { recipe, cloth, trousers, look } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(3.2 * fps);
  const what = ['enters', 'passes by', 'a lamp burns for a third', 'stands in it from the first frame'][k % 4];
  const box: [number, number, number, number] = [0.55 * width, 0.3 * height, 0.2 * width, 0.62 * height];
  const [on, off] = [Math.round(0.35 * frames), Math.round(0.68 * frames)];
  const lamp: ClipRecipe['behind'] = (ctx: SKRSContext2D, at) => {
    if (at < on || at > off) return;
    const glow = ctx.createRadialGradient(0.65 * width, 0.5 * height, 0, 0.65 * width, 0.5 * height, 0.3 * width);
    // Light is what multiplies: each code value by so much, the warm ones by more.
    glow.addColorStop(0, 'rgb(90,75,55)');
    glow.addColorStop(1, 'rgb(0,0,0)');
    ctx.globalCompositeOperation = 'color-dodge';
    ctx.fillStyle = glow;
    ctx.fillRect(0, 0, width, height);
    ctx.globalCompositeOperation = 'source-over';
  };
  const x = (t: number) => {
    if (k % 4 === 0) return -0.2 + 0.86 * Math.min(1, t / 0.6) * 1.05;
    if (k % 4 === 3) return 0.65 + (t < 0.5 ? 0 : 1.2 * (t - 0.5));
    return -0.2 + 0.5 * t;
  };
  const name = `${what}, ${look} clothes`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    behind: k % 4 === 2 ? lamp : k % 4 === 1 ? swaying(base, 0.2) : undefined,
    paint: (ctx, at) => paintFigure(ctx, { ...walk(recipe, 0, at, 0.5), x: x(at / frames) * width }, cloth, trousers),
  };
  const judge = async () => {
    const take = await keptTake('passes', name, all);
    const told = await findZone(take, boxOutline(...box), null);
    const { truth } = take;
    const inside = truth.frames.map((m) => {
      let n = 0;
      const [x0, y0, w, h] = box.map((v) => Math.round(v / 2));
      for (let y = y0; y < Math.min(truth.height, y0 + h); y++)
        for (let u = x0; u < x0 + w; u++) n += m[y * truth.width + u] === 255 ? 1 : 0;
      return n;
    });
    const lit = told.changes.filter((c) => c.end - c.start > 3);
    return allOf(
      runsAre(
        told.entered_runs,
        runsWhere(frames, (f) => inside[f] > 4),
      ),
      k % 4 === 2
        ? holds(
            lit.some((c) => Math.abs(c.start - on) <= 3 && Math.abs(c.end - off) <= 3),
            `lamp ${on} to ${off}: ${JSON.stringify(lit)}`,
          )
        : {},
      k % 4 === 2 ? {} : holds(lit.length === 0, `${lit.length} changes of light that are none`),
    );
  };
  return { name, judge };
}
