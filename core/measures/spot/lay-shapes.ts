import { IDENTITY, type Similarity } from '../../base/geometry/similarity';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, cos, floor, max, PI, sin, sqrt } = Math;

/** How one outline lies on another. */
export interface LaidShape {
  /** Where the first one's middle (pixels of the grid) comes to lie, and its turn and size, about that. */
  x: number;
  y: number;
  pose: Similarity;
  /** The share of both together that both cover, 0 to 1. */
  share: number;
}

/** So many pixels of an outline are laid on the other at most. */
const MOST = 3000;
/** First steps of the search: pixels as a share of the outline's size, turn (rad), size; and how often they are halved. */
const FAR = 0.12;
const TURN = (8 * PI) / 180;
const SIZE = 0.08;
const HALVINGS = 6;
/** Starts: as their middles and areas say, not turned and turned. */
const TURNS = [0, -0.3, 0.3];

/**
 * Lays one outline on another of the same grid, by shift, turn and size, so that the two cover as much of each other as
 * can be: what one of them lacks (an arm, a foot before its own colour) hardly moves that, as it would move their middles.
 * Null where one of them is empty.
 * @param a 1 where the first is; b likewise @param width of the grid
 */
export function layShapes(a: Uint8Array, b: Uint8Array, width: number): LaidShape | null {
  const [one, two] = [middleOf(a, width), middleOf(b, width)];
  if (!one || !two) return null;
  const height = floor(a.length / width);
  const step = max(1, ceil(sqrt(one.n / MOST)));
  const found: number[] = [];
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) if (a[y * width + x]) found.push(x + 0.5 - one.x, y + 0.5 - one.y);
  const points = Float64Array.from(found);
  const looked = points.length / 2;
  // Written out: a call for each point of each try takes longer than the sum.
  const shareOf = (p: Similarity) => {
    const [c, s] = [p.scale * cos(p.rotation), p.scale * sin(p.rotation)];
    const [left, top] = [one.x + p.dx, one.y + p.dy];
    let hits = 0;
    for (let k = 0; k < points.length; k += 2) {
      const x = floor(left + c * points[k] - s * points[k + 1]);
      const y = floor(top + s * points[k] + c * points[k + 1]);
      if (x >= 0 && y >= 0 && x < width && y < height) hits += b[y * width + x];
    }
    const area = one.n * p.scale ** 2;
    const both = (hits / looked) * area;
    return both / max(1, area + two.n - both);
  };
  const start = { dx: two.x - one.x, dy: two.y - one.y, rotation: 0, scale: sqrt(two.n / one.n) };
  let best = { pose: { ...IDENTITY }, share: -1 };
  for (const turn of TURNS) {
    const climbed = climb({ ...start, rotation: turn }, shareOf, max(1, FAR * sqrt(one.n)));
    if (climbed.share > best.share) best = climbed;
  }
  return { x: one.x + best.pose.dx, y: one.y + best.pose.dy, ...best };
}

/** Goes on to whatever neighbour is better, with finer and finer steps. */
function climb(from: Similarity, shareOf: (p: Similarity) => number, far: number) {
  let [pose, share] = [from, shareOf(from)];
  for (let k = 0, by = 1; k < HALVINGS; k++, by /= 2)
    for (let better = true; better;) {
      better = false;
      for (const [dx, dy, turn, size] of MOVES) {
        const next = {
          dx: pose.dx + dx * far * by,
          dy: pose.dy + dy * far * by,
          rotation: pose.rotation + turn * TURN * by,
          scale: pose.scale * (1 + size * SIZE * by),
        };
        const s = shareOf(next);
        if (s > share + 1e-6) [pose, share, better] = [next, s, true];
      }
    }
  return { pose, share };
}

const MOVES = [0, 1, 2, 3].flatMap((axis) => [-1, 1].map((way) => [0, 1, 2, 3].map((k) => (k === axis ? way : 0))));

function middleOf(mask: Uint8Array, width: number) {
  let [n, x, y] = [0, 0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    n++;
    x += (i % width) + 0.5;
    y += floor(i / width) + 0.5;
  }
  return n ? { n, x: x / n, y: y / n } : null;
}

/** Outlines that cover so much of each other are of one shape. */
export const ONE_SHAPE = 0.7;
