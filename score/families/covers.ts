import { measureCover } from '../../media/feeds/measure-files';
import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { median } from '../../core/base/numeric/quantile';
import type { CoverKind } from '../../core/report/wipe-types';
import { baseOf, swaying } from '../base';
import { allOf, eventsAre, holds, keptClip, verdictIs, type ScoreClip } from '../clip';
import type { ClipRecipe, Truth } from '../compose';

type Box = [x: number, y: number, width: number, height: number];

/** A board, a lid, or the door that a camera walks up to: where it is at each time, in its own place. */
interface Occluder {
  name: string;
  kind: CoverKind;
  /** Blur of its edges, share of the width. */
  soft?: number;
  box: (share: number, width: number, height: number) => Box;
  camera?: (share: number) => number;
  /** It never covers all of the picture. */
  misses?: boolean;
}

const across = (share: number, by: number) => -by + (1 + by) * (1.5 * share - 0.25);
const OCCLUDERS: readonly Occluder[] = [
  { name: 'a board from the left', kind: 'passing', box: (s, w, h) => [across(s, 1.3) * w, -h, 1.3 * w, 3 * h] },
  {
    name: 'a board from the right',
    kind: 'passing',
    box: (s, w, h) => [(1 - across(s, 1.3) - 1.3) * w, -h, 1.3 * w, 3 * h],
  },
  { name: 'a soft board', kind: 'passing', soft: 0.02, box: (s, w, h) => [across(s, 1.4) * w, -h, 1.4 * w, 3 * h] },
  { name: 'a board from above', kind: 'passing', box: (s, w, h) => [-w, across(s, 1.4) * h, 3 * w, 1.4 * h] },
  {
    name: 'a lid with a soft edge',
    kind: 'closing',
    soft: 0.025,
    box: (s, w, h) => [-w, (1.5 * Math.min(1, Math.max(0, (s - 0.25) / 0.4)) - 2.3) * h, 3 * w, 2 * h],
  },
  {
    name: 'a door that the camera walks up to',
    kind: 'approaching',
    box: (_, w, h) => [0.42 * w, 0.36 * h, 0.16 * w, 0.28 * h],
    camera: (s) => 1 + 6.5 * Math.max(0, s - 0.1) ** 1.5,
  },
  {
    name: 'a board that does not reach the floor',
    kind: 'passing',
    misses: true,
    box: (s, w, h) => [across(s, 1.3) * w, -h, 1.3 * w, 1.86 * h],
  },
  {
    name: 'a board from below',
    kind: 'passing',
    box: (s, w, h) => [-w, (1 - across(s, 1.3) - 1.3) * h, 3 * w, 1.3 * h],
  },
  { name: 'a narrow board', kind: 'passing', misses: true, box: (s, w, h) => [across(s, 0.7) * w, -h, 0.7 * w, 3 * h] },
  {
    name: 'a lid',
    kind: 'closing',
    box: (s, w, h) => [-w, (1 - 1.3 * Math.min(1, Math.max(0, (s - 0.25) / 0.4))) * h, 3 * w, 2 * h],
  },
  {
    name: 'a wide door that the camera walks up to',
    kind: 'approaching',
    box: (_, w, h) => [0.38 * w, 0.4 * h, 0.24 * w, 0.2 * h],
    camera: (s) => 1 + 7 * Math.max(0, s - 0.1) ** 1.5,
  },
  { name: 'a slow board', kind: 'passing', box: (s, w, h) => [across(0.15 + 0.7 * s, 1.2) * w, -h, 1.2 * w, 3 * h] },
];

function paintBoard(ctx: SKRSContext2D, [x, y, width, height]: Box, stuff: Canvas, soft: number): void {
  ctx.save();
  ctx.filter = soft ? `blur(${soft}px)` : 'none';
  ctx.translate(x, y);
  ctx.fillStyle = ctx.createPattern(stuff, 'repeat')!;
  ctx.fillRect(0, 0, width, height);
  ctx.restore();
}

/** Share of each frame that is covered, of the truth. */
const sharesOf = ({ frames, width, height }: Truth) =>
  frames.map((all) => all.reduce((n, v) => n + Number(v === 255), 0) / (width * height));

/** Something covers the picture, or is meant to. */
export async function cover(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 6);
  const { recipe, cloth: stuff, look } = base;
  const { width, height, fps } = recipe;
  const frames = Math.round(3.2 * fps);
  const { name: what, kind, soft = 0, box, camera, misses } = OCCLUDERS[(k + (sealed ? 2 : 0)) % OCCLUDERS.length];
  const leaves = k % 3 === 2 && !camera;
  const name = `${what}, ${look}${leaves ? ', leaves behind' : ''}`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    room: camera ? 0.02 : undefined,
    camera: camera && ((f) => ({ dx: 0, dy: 0, rotation: 0, scale: camera(f / frames) })),
    behind: leaves ? swaying(base, 0.4) : undefined,
    paint: (ctx, at) => paintBoard(ctx, box(at / frames, width, height), stuff, soft * width),
  };
  const judge = async () => {
    const { path, truth } = await keptClip('covers', name, all);
    const told = await measureCover(path);
    const shares = sharesOf(truth);
    const is = (share: number) => (f: number) => (share === 0 ? shares[f] > 0 : shares[f] >= share);
    const first = (of: (f: number) => boolean) => shares.findIndex((_, f) => of(f));
    const last = (of: (f: number) => boolean) => shares.reduce((found, _, f) => (of(f) ? f : found), -1);
    // The mask's border is where an edge is half there: it covers all of a pixel later by its half width.
    const slope = Math.abs(shares[first(is(0.5))] - shares[first(is(0.5)) - 1] || 0.02);
    const later = kind === 'approaching' ? 0 : Math.round((1.28 * soft) / slope);
    const full = is(0.9999);
    const events = misses
      ? []
      : [
          [told.first_full_frame, first(full) + later],
          ...(kind === 'passing' ? [[told.last_full_frame, last(full) - later] as const] : []),
          ...(kind === 'approaching' ? [] : [[told.enter_frame, first(is(0)) - later] as const]),
        ];
    const offs = told.path.cover_share.flatMap((s, f) => (s === null ? [] : [Math.abs(s - shares[f])]));
    const share = offs.length ? median(offs.filter((_, f) => shares[f] > 0 && shares[f] < 1)) : 1;
    return allOf(
      holds(told.kind === kind || Boolean(misses), `${told.kind} for ${kind}`),
      eventsAre(
        events.map(([t]) => t),
        events.map(([, r]) => r!),
      ),
      holds(misses ? told.first_full_frame === null : true, `full at ${told.first_full_frame}, and never is`),
      holds(share <= 0.03, `share off by ${share.toFixed(3)}`),
      verdictIs(told.verdict, !misses, told.reasons),
    );
  };
  return { name, judge };
}
