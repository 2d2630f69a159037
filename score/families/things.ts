import { makeMatte } from '../../media/feeds/measure-files';
import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { findBars } from '../../core/take/bars';
import { findFigure } from '../../core/take/figure';
import { findMeet } from '../../core/take/meet';
import { findSpot } from '../../core/take/spot';
import { findStills } from '../../core/take/stills';
import { baseOf, handheld, move, swaying, walk } from '../base';
import {
  allOf,
  eventsAre,
  holds,
  keptPlate,
  keptTake,
  numberIs,
  runsAre,
  runsWhere,
  type KeptTake,
  type ScoreClip,
} from '../clip';
import type { ClipRecipe } from '../compose';
import type { Run } from '../../core/report/types';
import { masksOf } from '../masks';
import { paintFigure, type Pose } from '../subjects';

/** The box of the pixels of a truth that are somebody, in source pixels; null where nobody is. */
function boxIn(m: Uint8Array, width: number): { left: number; top: number; right: number; bottom: number } | null {
  const box = { left: Infinity, top: Infinity, right: -1, bottom: -1 };
  m.forEach((v, i) => {
    if (v !== 255) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    box.left = Math.min(box.left, 2 * x);
    box.right = Math.max(box.right, 2 * x + 2);
    box.top = Math.min(box.top, 2 * y);
    box.bottom = Math.max(box.bottom, 2 * y + 2);
  });
  return box.right < 0 ? null : box;
}

/** Somebody walks, stands for a while, and walks on: the frames worth holding are those in which they stand. */
export async function stills(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 13);
  const { recipe, cloth, trousers, look, seed } = base;
  const { width, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const [stop, go] = [0.35 + 0.02 * (k % 4), 0.62];
  const never = k % 4 === 3;
  const xAt = (t: number) =>
    never ? 0.1 + 0.75 * t : t < stop ? -0.1 + (0.55 * t) / stop : t < go ? 0.45 : 0.45 + 0.9 * (t - go);
  const name = `${never ? 'who never stands' : 'who stands for a while'}, ${look} clothes`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    camera: k % 3 === 2 ? handheld(seed, 3) : undefined,
    paint: (ctx, at) => {
      const t = at / frames;
      const pose: Pose = { ...walk(recipe, 0, never || t < stop || t > go ? at : 0, 0.6), x: xAt(t) * width };
      paintFigure(ctx, pose, cloth, trousers);
    },
  };
  const judge = async () => {
    const take = await keptTake('things', name, all);
    const [best] = (await findStills(take, await keptPlate('things', name, all))).stills;
    if (!best) return allOf(holds(false, 'no still'));
    const f = best.frame;
    const speed = ((xAt((f + 0.25) / frames) - xAt((f - 0.25) / frames)) * 2 * width) as number;
    // A shutter open for half of the time smears evenly: 10 to 90 % of it.
    const smear = 0.8 * 0.5 * Math.abs(speed);
    const box = boxIn(take.truth.frames[f], take.truth.width);
    return allOf(
      holds(
        never || (f >= stop * frames - 2 && f <= go * frames + 2),
        `best still ${f}, stands ${Math.round(stop * frames)} to ${Math.round(go * frames)}`,
      ),
      numberIs('smear', best.motion_blur_px, smear, Math.max(1, 0.3 * smear)),
      box ? numberIs('left', best.x, box.left, 6) : holds(false, `nobody is in ${f}`),
      box ? numberIs('height', best.height, box.bottom - box.top, 0.06 * (box.bottom - box.top) + 2) : {},
    );
  };
  return { name, judge };
}

/** Paints a thing: a board with rounded ends that stands at an angle. */
function paintThing(ctx: SKRSContext2D, stuff: Canvas, x: number, y: number, size: number, angle: number): void {
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate(angle);
  ctx.fillStyle = ctx.createPattern(stuff, 'repeat')!;
  ctx.beginPath();
  ctx.roundRect(-size / 2, -size / 5, size, size / 2.5, size / 8);
  ctx.fill();
  ctx.restore();
}

/** What stands in one take at its end, and in another at its start. */
export async function spot(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 14);
  const { recipe, cloth, second, look, seed } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(1.8 * fps);
  const [dx, dy] = [[0, 12, -30, 5][k % 4], [0, -6, 10][k % 3]];
  const [ratio, turn] = [[1, 1.1, 0.9][k % 3], [0, 0.15, -0.3][(k >> 1) % 3]];
  const [x, y, size] = [0.45 * width, 0.55 * height, 0.22 * width];
  const stuff = k % 2 ? second : cloth;
  const comes = (at: number) => 1 - move(at, 0.2 * frames, 0.65 * frames);
  const a: ClipRecipe = {
    ...recipe,
    frames,
    paint: (ctx, at) => paintThing(ctx, cloth, x - 1.2 * width * comes(at), y, size, 0.2),
  };
  const leaves = (at: number) => move(at, 0.5 * frames, 0.95 * frames);
  const b: ClipRecipe = {
    ...recipe,
    ...{ frames, seed: seed + 3 },
    paint: (ctx, at) => paintThing(ctx, stuff, x + dx + 1.2 * width * leaves(at), y + dy, ratio * size, 0.2 + turn),
  };
  const name = `${dx} px to the side, ${ratio} as large, ${look}`;
  const judge = async () => {
    const [one, two] = [await keptTake('things', `${name}, a`, a), await keptTake('things', `${name}, b`, b)];
    const told = await findSpot(one, two, await keptPlate('things', name, a), { at_a: null, at_b: null });
    return allOf(
      numberIs('to the side', told.dx_px, dx, 2, told.uncertainty_px),
      numberIs('down', told.dy_px, dy, 2, told.uncertainty_px),
      numberIs('size', told.size_ratio, ratio, 0.03),
      numberIs('turn', told.angle_deg, (turn * 180) / Math.PI, 2),
    );
  };
  return { name, judge };
}

/** Somebody reacts to a vehicle that was never there. */
export async function meet(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 15);
  const { recipe, cloth, trousers, second, look, seed } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(2.8 * fps);
  const hit = Math.round((0.45 + 0.02 * (k % 4)) * frames);
  const way = k % 2 ? 1 : -1;
  const stands = 0.5 * width;
  const a: ClipRecipe = {
    ...recipe,
    frames,
    shadow: k % 3 === 1 ? 0.3 : 0,
    paint: (ctx, at) => {
      const t = Math.max(0, at - hit) / fps;
      const pose = walk(recipe, 0, 0, 0.6);
      paintFigure(
        ctx,
        { ...pose, x: stands + way * width * 0.9 * t, lean: way * Math.min(0.9, 2.2 * t) },
        cloth,
        trousers,
      );
    },
  };
  const speed = (0.9 * width) / fps;
  const long = 0.3 * width;
  const from = way > 0 ? -0.45 * width : 1.45 * width;
  const b: ClipRecipe = {
    ...recipe,
    ...{ frames: Math.round(2.4 * fps), seed: seed + 3 },
    paint: (ctx, at) => {
      ctx.save();
      ctx.translate(from + way * speed * at - long / 2, 0.55 * height);
      ctx.fillStyle = ctx.createPattern(second, 'repeat')!;
      ctx.beginPath();
      ctx.roundRect(0, 0, long, 0.3 * height, 0.05 * height);
      ctx.fill();
      ctx.restore();
    },
  };
  const name = `carried off to the ${way > 0 ? 'right' : 'left'}, ${look} clothes`;
  const judge = async () => {
    const [one, two] = [await keptTake('things', `${name}, a`, a), await keptTake('things', `${name}, b`, b)];
    const told = await findMeet(one, two, await keptPlate('things', name, a));
    const before = boxIn(one.truth.frames[hit - 1], one.truth.width)!;
    const edge = way > 0 ? before.left : before.right;
    const reaches = two.truth.frames.findIndex((m) => {
      const box = boxIn(m, two.truth.width);
      return box && (way > 0 ? box.right >= edge : box.left <= edge);
    });
    const wrapped = Math.abs((((((told.b_direction_deg ?? 90) - (way > 0 ? 0 : 180) + 540) % 360) + 360) % 360) - 180);
    return allOf(
      eventsAre([told.a_frame, told.b_frame], [hit, reaches]),
      holds(wrapped < 10, `the vehicle goes ${told.b_direction_deg}`),
      numberIs('speed', told.b_speed_widths_per_s, 0.9, 0.06),
    );
  };
  return { name, judge };
}

/** Somebody whose head, or feet, step over the bars of a wide picture. */
export async function bars(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 16);
  const { recipe, cloth, trousers, look } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(3.2 * fps);
  const bar = (height - width / 2.39) / 2;
  const over = k % 3 !== 2;
  // Their feet are over the lower bar for a while, or stay above it.
  const groundAt = (t: number) =>
    height - bar + (over ? 0.6 * bar * Math.sin(Math.PI * Math.min(1, Math.max(0, (t - 0.3) / 0.4))) : -0.3 * bar) - 3;
  const name = `${over ? 'over the lower bar' : 'inside the bars'}, ${look} clothes`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    shadow: k % 2 ? 0.4 : 0,
    behind: k % 4 === 3 ? swaying(base, 0.2) : undefined,
    paint: (ctx, at) => {
      const t = at / frames;
      paintFigure(ctx, { ...walk(recipe, t, at, 0.55), ground: groundAt(t) }, cloth, trousers);
    },
  };
  const judge = async () => {
    const take = await keptTake('things', name, all);
    const told = await findBars(take, await keptPlate('things', name, all), { ratio: 2.39, delivery: all } as never);
    const depth = take.truth.frames.map((m) => {
      const box = boxIn(m, take.truth.width);
      return box ? box.bottom - (height - bar) : -1;
    });
    // Outlines lie on pixels of two and are known to one of those: who only grazes the bar by less is told or not.
    const deep = ({ start, end }: Run) => Math.max(...depth.slice(start, end + 1)) > GRAZES_PX;
    const runs = runsWhere(frames, (f) => depth[f] > 2).filter(deep);
    return allOf(
      runsAre(
        told.crosses.filter((c) => c.edge === 'bottom' && (c.depth_px > GRAZES_PX || deep(c.run))).map((c) => c.run),
        runs,
      ),
      holds(
        told.crosses.every((c) => c.edge === 'bottom'),
        'told over the upper bar',
      ),
      runs.length ? numberIs('depth', Math.max(...told.crosses.map((c) => c.depth_px)), Math.max(...depth), 5) : {},
    );
  };
  return { name, judge };
}

/** Depth over a bar up to which it is told or not, pixels of the source. */
const GRAZES_PX = 4;

/** A thing that hangs and drifts, or somebody who jumps. */
export async function figure(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 17);
  const { recipe, cloth, trousers, look } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(2.8 * fps);
  const jumps = k % 2 === 0;
  const up = Math.round(0.4 * frames),
    long = Math.round(0.5 * fps);
  const rise = (at: number) => {
    const t = (at - up) / long;
    return t <= 0 || t >= 1 ? 0 : 4 * t * (1 - t);
  };
  const drift = [0, 0.03, 0.08][k % 3] * width;
  const name = `${jumps ? `who jumps${k % 4 === 2 ? ' and squats' : ''}` : 'a thing that hangs'}, ${look}`;
  const squat = (at: number) => (k % 4 === 2 && at > up + long ? 0.35 * move(at, up + long, up + 1.4 * long) : 0);
  const all: ClipRecipe = {
    ...recipe,
    frames,
    shadow: jumps ? 0.3 : 0,
    paint: (ctx, at) => {
      if (!jumps)
        return paintThing(
          ctx,
          cloth,
          0.45 * width + drift * move(at, 0.2 * frames, 0.8 * frames),
          0.45 * height,
          0.25 * width,
          0.1,
        );
      const tall = 0.55 * height * (1 - squat(at));
      paintFigure(
        ctx,
        {
          x: 0.5 * width,
          ground: 0.9 * height - 0.2 * height * rise(at),
          height: tall,
          arms: [0.3 + rise(at), 0.3 + rise(at)],
        },
        cloth,
        trousers,
      );
    },
  };
  const judge = async () => {
    const take = await keptTake('things', name, all);
    const told = await findFigure(take, await keptPlate('things', name, all));
    if (!jumps)
      return allOf(
        numberIs('drift', told.drift?.px, drift, Math.max(2, 0.08 * drift)),
        holds(told.lifted_runs.length === 0, `${told.lifted_runs.length} jumps that are none`),
      );
    return allOf(runsAre(told.lifted_runs, [{ start: up + 1, end: up + long - 1 }]));
  };
  return { name, judge };
}

/** The rough matte of whoever is in, with what it says of its own error. */
export async function matte(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 18);
  const { recipe, cloth, trousers, look, seed } = base;
  const { fps } = recipe;
  const frames = Math.round(2.4 * fps);
  const name = `${look} clothes${k % 3 === 1 ? ', by hand' : ''}`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    camera: k % 3 === 1 ? handheld(seed, 4) : undefined,
    shadow: k % 2 ? 0.35 : 0,
    paint: (ctx, at) => paintFigure(ctx, walk(recipe, at / frames, at), cloth, trousers),
  };
  const judge = async () => {
    const take: KeptTake = await keptTake('things', name, all);
    const told = await makeMatte(take.path, { plate: await keptPlate('things', name, all) });
    const masks = masksOf(take.analysis, take.truth);
    const error = told.edge_error_px;
    return allOf(masks, {
      ...(error === null || masks.edge_px === undefined ? {} : { within: masks.edge_px <= 2 * error ? 1 : 0 }),
    });
  };
  return { name, judge };
}
