import type { LightReadings } from '../light/measure';
import { chained, type Stretch } from '../lock/stretches';
import { analyseScene, type SceneInput } from './analyse';

/**
 * The light of a take whose camera goes too far for one background: each stretch has its own, and what follows each
 * other is tied together by the frames that both hold.
 */
export function followedLight(input: SceneInput, stretches: readonly Stretch[]): LightReadings {
  const { stack } = input;
  const read = stretches.map(({ run, poses }) => {
    const part = {
      size: stack.size,
      count: run.end - run.start + 1,
      read: (frame: number) => stack.read(run.start + frame),
    };
    const soft = input.soft?.slice(run.start, run.end + 1);
    return { start: run.start, light: analyseScene({ ...input, stack: part, poses, soft })?.light ?? null };
  });
  const along = (pick: (light: LightReadings) => (number | null)[]) =>
    chained(
      read.map(({ start, light }) => ({ start, values: light ? pick(light) : [] })),
      stack.count,
      false,
    );
  const red = along((light) => light.white.map((w) => w?.red ?? null)),
    blue = along((light) => light.white.map((w) => w?.blue ?? null));
  const share: (number | null)[] = Array.from({ length: stack.count }, () => null);
  for (const { start, light } of read)
    light?.share.forEach((v, k) => {
      share[start + k] ??= v;
    });
  return {
    stops: along((light) => light.stops),
    white: red.map((r, f) => (r === null || blue[f] === null ? null : { red: r, blue: blue[f]! })),
    share,
  };
}
