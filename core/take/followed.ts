import {
  applySimilarity,
  cornersAndCentre,
  greatestDisplacement,
  invertSimilarity,
  type Similarity,
} from '../base/geometry/similarity';
import type { LightReadings } from '../measures/light/measure';
import { chained, widened, type Stretch } from '../measures/lock/stretches';
import { quantile } from '../base/numeric/quantile';
import type { Figure } from '../presence/figures';
import { fixedToScenery } from '../presence/fixed';
import { keepLasting } from '../presence/measure';
import { analyseScene, type SceneInput } from './analyse-scene';
import type { Background } from '../scene/background';
import type { Margin } from '../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, max } = Math;

/** What a stretch's background is made from lies within this share of the width from its middle. */
const WIDE = 0.55;
/** So many frames make it: each place is seen for a short while only. */
const SAMPLES = 40;

/** All frames together count for so much of the way even if the camera stood in most of them. */
const STANDING = 0.1;

/** A place is surely background where this share of the frames that show it agree, */
const AGREED = 0.7;
/** and what passes close by the camera hides more than this share, in a quarter of all stretches. */
const DOUBTED = 0.17;

export interface FollowedScene {
  light: LightReadings;
  /** What stands in front in each frame, as it lies on the frame in the middle of a stretch; null where not known. */
  figures: (Figure[] | null)[];
  /** Camera movement against that frame, source pixels. */
  poses: (Similarity | null)[];
  /** Why nobody can be told; null where they can. */
  unjudged: string | null;
  /**
   * 1 where the picture moves by itself, on no frame in particular: of the stretch in which most of it does; none where
   * nobody is told.
   */
  restless: Uint8Array;
}

/**
 * The light of a take whose camera goes too far for one background, and who is in: each stretch has its own background,
 * and what follows each other is tied together by the frames that both hold.
 * @param poses camera movement against one frame, source pixels; null where unknown. @param source size of its pictures
 */
export function followedScene(
  input: Omit<SceneInput, 'poses' | 'margin' | 'look'>,
  stretches: readonly Stretch[],
  poses: readonly (Similarity | null)[],
  source: { width: number; height: number },
): FollowedScene {
  const { stack, factor } = input;
  const read = stretches.map((stretch) => {
    const wide = widened(stretch, poses, source, WIDE * source.width);
    const { start, end } = wide.run;
    const part = { size: stack.size, count: end - start + 1, read: (frame: number) => stack.read(start + frame) };
    const look = { start: stretch.run.start - start, end: stretch.run.end - start };
    const margin = marginOf(stretch.poses, source, factor);
    const soft = input.soft?.slice(start, end + 1);
    const weight = stepsAlong(wide.poses, source);
    const scene = analyseScene({
      ...input,
      onFrame: (frame) => input.onFrame?.(start + frame),
      stack: part,
      poses: wide.poses,
      soft,
      look,
      margin,
      weight,
      samples: SAMPLES,
    });
    const own = <T>(values: readonly T[]) => values.slice(look.start, look.end + 1);
    return {
      ...stretch,
      start: stretch.run.start,
      light: scene && { stops: own(scene.light.stops), white: own(scene.light.white), share: own(scene.light.share) },
      figures: scene && keepLasting(own(scene.figures)).map((all) => all && all.map((f) => moved(f, margin))),
      restless: scene && within(scene.background, margin),
      doubtful: scene ? doubtfulShare(scene.background) : 1,
    };
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
  const figures: (Figure[] | null)[] = share.map(() => null),
    seenFrom: (Similarity | null)[] = share.map(() => null);
  for (let f = 0; f < stack.count; f++) {
    const known = read.filter(({ run, figures: all }) => run.start <= f && f <= run.end && all?.[f - run.start]);
    if (known.length === 0) continue;
    // Two stretches hold it: the one whose middle is nearer knows it better.
    const best = known.reduce((a, b) => (abs(b.middle - f) < abs(a.middle - f) ? b : a));
    figures[f] = best.figures![f - best.start];
    seenFrom[f] = best.poses[f - best.start];
  }
  const told =
    quantile(
      read.map((r) => r.doubtful),
      0.75,
    ) <= DOUBTED;
  const fixed = fixedToScenery(figures, seenFrom, poses, { ...source, factor });
  return {
    light: {
      stops: along((light) => light.stops),
      white: red.map((r, f) => (r === null || blue[f] === null ? null : { red: r, blue: blue[f]! })),
      share,
    },
    figures: figures.map((all) => (told && all ? all.filter((figure) => !fixed.has(figure)) : null)),
    poses: seenFrom,
    unjudged: told
      ? null
      : 'The camera moves far, and much of what lies behind is hidden meanwhile: no empty frame can be known.',
    restless: read.reduce<Uint8Array>(
      (most, { restless }) => (told && restless && sumOf(restless) > sumOf(most) ? restless : most),
      new Uint8Array(stack.size.width * stack.size.height),
    ),
  };
}

/**
 * How far each frame goes on from the one before, with a little for one that stands still: whoever the camera follows hides
 * each place for as long a way, however slowly it goes there.
 */
function stepsAlong(
  poses: readonly (Similarity | null)[],
  { width, height }: { width: number; height: number },
): (frame: number) => number {
  const step = (f: number) =>
    poses[f] && poses[f - 1] ? greatestDisplacement(poses[f], poses[f - 1]!, width, height) : 0;
  const way = poses.reduce((s, _, f) => s + step(f), 0);
  return (f) => step(f) + (STANDING * max(1, way)) / poses.length;
}

/** The share of a background that too few of the frames that show its place agree on. */
function doubtfulShare({ support, known }: Background): number {
  let seen = 0,
    doubtful = 0;
  for (let i = 0; i < support.length; i++) {
    if (!known[i]) continue;
    seen++;
    if (support[i] < AGREED) doubtful++;
  }
  return seen ? doubtful / seen : 1;
}

const sumOf = (mask: Uint8Array) => mask.reduce((s, v) => s + v, 0);

/** What of the background's restless pixels lies on the frame within the margin. */
function within({ restless, width, height }: Background, { x, y }: Margin): Uint8Array {
  const across = width - 2 * x;
  const out = new Uint8Array(across * (height - 2 * y));
  for (let v = y, o = 0; v < height - y; v++, o += across)
    out.set(restless.subarray(v * width + x, v * width + x + across), o);
  return out;
}

/** What must be known round the middle's picture to hold every frame of a stretch against it, small pixels. */
function marginOf(
  poses: readonly (Similarity | null)[],
  { width, height }: { width: number; height: number },
  factor: number,
): Margin {
  let x = 0,
    y = 0;
  for (const pose of poses) {
    if (!pose) continue;
    const back = invertSimilarity(pose);
    for (const [cx, cy] of cornersAndCentre(width, height)) {
      const [u, v] = applySimilarity(back, cx, cy);
      x = max(x, abs(u) - width / 2);
      y = max(y, abs(v) - height / 2);
    }
  }
  return { x: 2 * ceil(x / factor / 2), y: 2 * ceil(y / factor / 2) };
}

/** A figure as it lies on the frame within its margin. */
function moved(figure: Figure, { x, y }: Margin): Figure {
  const box = <T extends { left: number; top: number; right: number; bottom: number }>(b: T): T => ({
    ...b,
    left: b.left - x,
    right: b.right - x,
    top: b.top - y,
    bottom: b.bottom - y,
  });
  const rows = Int16Array.from(figure.rows);
  for (let k = 0; k < rows.length; k += 4) {
    rows[k] -= y;
    rows[k + 1] -= x;
    rows[k + 2] -= x;
  }
  return { ...box(figure), box: figure.box && box(figure.box), rows };
}
