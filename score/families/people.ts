import { seededNormal } from '../../core/base/numeric/random';
import { baseOf, handheld } from '../base';
import { keptTake, type ScoreClip } from '../clip';
import type { ClipRecipe } from '../compose';
import { masksOf } from '../masks';
import { paintFigure, type Pose } from '../subjects';

/** Somebody crosses, alone or past where a second one stands for a while. */
export async function whoIsIn(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth, trousers, second, look, seed } = await baseOf(k, sealed, 0);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const tall = height * (0.45 + 0.1 * (k % 3));
  const way = k % 2 ? -1 : 1;
  const drift = seededNormal(seed);
  const slow = 0.02 * drift();
  const camera =
    k % 4 === 1
      ? handheld(seed, 5)
      : k % 4 === 3
        ? (f: number) => ({ dx: 0.02 * f, dy: 0, rotation: 0, scale: 1 })
        : undefined;
  const pose = (at: number): Pose => {
    const share = (at / frames - 0.15) / 0.7;
    const swing = 0.5 * Math.sin((6.28 * at * 1.7) / fps);
    return {
      x: width * (0.5 + way * (1.3 * share - 0.65)),
      ground: 0.9 * height,
      height: tall,
      stride: swing,
      arms: [0.15 + 0.4 * swing, 0.15 - 0.4 * swing],
    };
  };
  const stays = (at: number): Pose => ({
    x: width * 0.72,
    ground: 0.88 * height,
    height: 0.9 * tall,
    arms: [0.2 + 0.1 * Math.sin(at / 9), 0.2],
    lean: 0.02 * Math.sin(at / 7),
  });
  const name = `${look} clothes, ${['still', 'by hand', 'still, light drifts', 'drifting'][k % 4]}${k % 5 === 4 ? ', two' : ''}`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    camera,
    light: k % 4 === 2 ? (f) => (0.25 + slow) * (f / frames) : undefined,
    shadow: k % 3 === 1 ? 0 : 0.4,
    paint: (ctx, at) => {
      if (k % 5 === 4 && at > 0.3 * frames) paintFigure(ctx, stays(at), second, trousers);
      paintFigure(ctx, pose(at), cloth, trousers);
    },
  };
  return {
    name,
    judge: async () => {
      const { analysis, truth } = await keptTake('people', name, all);
      return masksOf(analysis, truth);
    },
  };
}
