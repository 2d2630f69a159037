import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { findCloth } from '../../core/take/cloth';
import { baseOf, LOOKS, move } from '../base';
import { allOf, eventsAre, keptPlate, keptTake, type ScoreClip } from '../clip';
import type { ClipRecipe } from '../compose';
import { clothOf, paintFigure } from '../subjects';

/** A cloth rises before somebody, who is gone when it falls. */
export async function cloth(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth: coat, trousers, second, photo, seed } = await baseOf(k, sealed, 2);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const s = (share: number) => Math.round(share * frames);
  const look = LOOKS[(k + 1) % LOOKS.length];
  const stuff = k % 4 === 3 ? second : clothOf(look, seed + 9, photo);
  const [up, gone, falls, lands] = [s(0.28), s(0.5), s(0.68), s(0.68) + Math.round(0.32 * fps)];
  const [x, ground, tall] = [width * (0.4 + 0.05 * (k % 5)), 0.93 * height, 0.62 * height];
  const half = 0.26 * tall;
  const topAt = (at: number) => {
    const top = ground - 1.12 * tall * move(at, s(0.14), up);
    const down = at < falls ? 0 : Math.min(1, ((at - falls) / (lands - falls)) ** 2);
    return top + down * (ground - 0.12 * tall - top);
  };
  // It hides whoever stands there as long as it reaches over their head, its waves too.
  const head = ground - 2 - 1.005 * tall;
  const hides = Array.from({ length: frames }, (_, f) => f).filter((f) => topAt(f) + 3 <= head);
  const name = `a ${k % 4 === 3 ? 'second' : look} cloth`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    paint: (ctx, at) => {
      if (at < gone) paintFigure(ctx, { x, ground: ground - 2, height: tall, arms: [0.1, 0.1] }, coat, trousers);
      paintCloth(ctx, stuff, x, half, topAt(at), ground, at);
    },
  };
  const judge = async () => {
    const take = await keptTake('cloths', name, all);
    const found = await findCloth(take, await keptPlate('cloths', name, all));
    const run = found.hides_runs.at(-1);
    const told = JSON.stringify({ run, lands: found.lands_frame, why: found.unjudged });
    return allOf(eventsAre([run?.start, run?.end, found.lands_frame], [hides[0], hides.at(-1)!, lands], told));
  };
  return { name, judge };
}

function paintCloth(
  ctx: SKRSContext2D,
  stuff: Canvas,
  x: number,
  half: number,
  top: number,
  ground: number,
  at: number,
): void {
  if (ground - top < 3) return;
  ctx.save();
  ctx.translate(x, top);
  ctx.fillStyle = ctx.createPattern(stuff, 'repeat')!;
  ctx.beginPath();
  const wave = (k: number) => 3 * Math.sin(k * 1.7 + at / 5);
  ctx.moveTo(-half, wave(0));
  for (let k = 1; k <= 6; k++) ctx.lineTo(-half + (k * half) / 3, wave(k));
  ctx.lineTo(half + wave(9), ground - top);
  ctx.lineTo(-half + wave(8), ground - top);
  ctx.closePath();
  ctx.fill();
  // Folds.
  for (let k = -2; k <= 2; k++) {
    ctx.fillStyle = 'rgba(0,0,0,0.16)';
    ctx.fillRect((k * half) / 2.6 + wave(k + 4), 4, half / 9, ground - top - 4);
  }
  ctx.restore();
}
