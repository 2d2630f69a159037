import { applySimilarity, type Similarity } from '../base/geometry/similarity';
import { findRegions } from '../base/image/regions';
import type { Box, PresenceMeasure, Run } from '../report/types';
import type { Background } from '../scene/background';
import type { Figure } from './figures';
import { travelOf } from './travel';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

export interface PresenceScale {
  /** Size of the picture as shown, source pixels. */
  width: number;
  height: number;
  /** Source pixels for one small pixel. */
  factor: number;
  poses: readonly (Similarity | null)[];
}

type SmallFrame = Pick<Background, 'width' | 'height'>;
/** The frame that figures lie on, and what moves by itself there. */
type Behind = Pick<Background, 'width' | 'height' | 'restless'>;

/** A figure that is not there, or near, in three frames of five is a flash or a fault of coding. */
const NEAR = 3;
/** Clear runs and present runs shorter than this are joined with what lies round about. */
const SHORTEST = 2;

/** Leaves out figures that no neighbouring frame knows of. */
export function keepLasting(figures: readonly (Figure[] | null)[]): (Figure[] | null)[] {
  const known = (frame: number, a: Figure) =>
    (figures[frame] ?? []).some(
      (b) =>
        a.left <= b.right + NEAR &&
        b.left <= a.right + NEAR &&
        a.top <= b.bottom + NEAR &&
        b.top <= a.bottom + NEAR &&
        max(a.body + a.shadow, b.body + b.shadow) < 12 * min(a.body + a.shadow, b.body + b.shadow) + 40,
    );
  if (figures.length < 3) return [...figures];
  return figures.map(
    (all, f) =>
      all &&
      all.filter((a) => {
        const [b2, b1, a1, a2] = [-2, -1, 1, 2].map((d) => known(f + d, a));
        // Three frames of five, its own among them.
        return Number(b2) + Number(b1) + Number(a1) + Number(a2) >= 2;
      }),
  );
}

/** Turns the figures of each frame (null: not measured) into the numbers of the report. */
export function measurePresence(
  figures: readonly (Figure[] | null)[],
  known: Behind | null,
  scale: PresenceScale,
  unjudged: string | null,
): PresenceMeasure {
  const background = known ?? { width: 1, height: 1, restless: new Uint8Array(1) };
  const pixels = background.width * background.height;
  const frames = figures.length;
  const line = () => new Array<number | null>(frames).fill(null);
  const path = {
    area_share: line(),
    shadow_share: line(),
    left_px: line(),
    top_px: line(),
    right_px: line(),
    bottom_px: line(),
  };
  const edges = {
    left: new Array<boolean>(frames).fill(false),
    right: new Array<boolean>(frames).fill(false),
    top: new Array<boolean>(frames).fill(false),
    bottom: new Array<boolean>(frames).fill(false),
  };
  const state: (boolean | null)[] = [];
  const shade: (boolean | null)[] = [];
  figures.forEach((all, f) => {
    state.push(all && all.length > 0);
    shade.push(all && all.length > 0 && all.every((a) => !a.box));
    if (!all) return;
    path.area_share[f] = min(1, all.reduce((s, a) => s + a.body, 0) / pixels);
    path.shadow_share[f] = min(1, all.reduce((s, a) => s + a.shadow, 0) / pixels);
    if (all.length === 0) return;
    const bodies = all.filter((a) => a.box).map((a) => a.box!);
    const boxes = bodies.length ? bodies : all;
    const around = {
      left: min(...boxes.map((b) => b.left)),
      top: min(...boxes.map((b) => b.top)),
      right: max(...boxes.map((b) => b.right)) + 1,
      bottom: max(...boxes.map((b) => b.bottom)) + 1,
    };
    const box = asShown(around, scale, f, background);
    path.left_px[f] = box.left;
    path.top_px[f] = box.top;
    path.right_px[f] = box.right;
    path.bottom_px[f] = box.bottom;
    const whole = asShown(
      {
        left: min(...all.map((b) => b.left)),
        top: min(...all.map((b) => b.top)),
        right: max(...all.map((b) => b.right)) + 1,
        bottom: max(...all.map((b) => b.bottom)) + 1,
      },
      scale,
      f,
      background,
    );
    const rim = 1.5 * scale.factor;
    edges.left[f] = whole.left < rim;
    edges.top[f] = whole.top < rim;
    edges.right[f] = whole.right > scale.width - rim;
    edges.bottom[f] = whole.bottom > scale.height - rim;
  });
  const even = joinShort(state);
  return {
    clear_runs: runsOf(even.map((v) => v === false)),
    present_runs: runsOf(even.map((v) => v === true)),
    shadow_runs: runsOf(shade.map((v) => v === true)),
    edge_runs: {
      left: runsOf(edges.left),
      right: runsOf(edges.right),
      top: runsOf(edges.top),
      bottom: runsOf(edges.bottom),
    },
    restless: restlessBoxes(background, scale),
    restless_share: background.restless.reduce((s, v) => s + v, 0) / pixels,
    travel: unjudged ? null : travelOf(path, scale.width, scale.height),
    unjudged,
    path,
  };
}

/** A box on the reference frame (small pixels) as it lies in a frame, in source pixels, inside the picture. */
function asShown(
  box: { left: number; top: number; right: number; bottom: number },
  { width, height, factor, poses }: PresenceScale,
  frame: number,
  background: SmallFrame,
) {
  const pose = poses[frame];
  const sx = width / background.width,
    sy = height / background.height;
  let left = Infinity,
    top = Infinity,
    right = -Infinity,
    bottom = -Infinity;
  for (const [x, y] of [
    [box.left, box.top],
    [box.right, box.top],
    [box.left, box.bottom],
    [box.right, box.bottom],
  ]) {
    const px = x * min(sx, factor * 1.02),
      py = y * min(sy, factor * 1.02);
    const [u, v] = pose ? applySimilarity(pose, px - width / 2, py - height / 2) : [px - width / 2, py - height / 2];
    left = min(left, u + width / 2);
    right = max(right, u + width / 2);
    top = min(top, v + height / 2);
    bottom = max(bottom, v + height / 2);
  }
  return { left: max(0, left), top: max(0, top), right: min(width, right), bottom: min(height, bottom) };
}

function restlessBoxes(background: SmallFrame & Pick<Background, 'restless'>, scale: PresenceScale): Box[] {
  const sx = scale.width / background.width,
    sy = scale.height / background.height;
  return findRegions(background.restless, background.width, background.height, 8).map((r) => ({
    x: r.left * sx,
    y: r.top * sy,
    width: (r.right - r.left + 1) * sx,
    height: (r.bottom - r.top + 1) * sy,
  }));
}

/** Takes out flips of the state that last less than two frames. */
function joinShort(state: (boolean | null)[]): (boolean | null)[] {
  const out = [...state];
  for (let f = 0; f < out.length;) {
    let end = f;
    while (end + 1 < out.length && out[end + 1] === out[f]) end++;
    if (
      out[f] !== null &&
      end - f + 1 < SHORTEST &&
      f > 0 &&
      end + 1 < out.length &&
      out[f - 1] === out[end + 1] &&
      out[f - 1] !== null
    )
      for (let k = f; k <= end; k++) out[k] = out[f - 1];
    f = end + 1;
  }
  return out;
}

/** Runs of frames for which the statement is true. */
export function runsOf(flags: readonly boolean[]): Run[] {
  const out: Run[] = [];
  for (let f = 0; f < flags.length; f++) {
    if (!flags[f]) continue;
    let end = f;
    while (flags[end + 1]) end++;
    out.push({ start: f, end });
    f = end;
  }
  return out;
}
