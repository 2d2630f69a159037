import { applySimilarity, composeSimilarity, invertSimilarity, type Similarity } from '../base/geometry/similarity';
import { sharedOf } from '../base/geometry/boxes';
import type { Figure } from './figures';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min } = Math;

/** What stays within this share of the width on the scenery, */
const STAYS = 0.012;
/** while the camera goes on by this share, */
const PASSED = 0.04;
/** and lies by half where it lay in the frame before, is one and the same thing. */
const SAME = 0.5;
/** So many small pixels from the picture's edge a thing may go on beyond it. */
const RIM = 3;

/** Left, top, right and bottom on the scenery, source pixels; NaN where the picture's edge cuts it off. */
type Sides = [number, number, number, number];

interface Track {
  figures: Figure[];
  first: number;
  last: number;
  box: Sides;
  least: Sides;
  most: Sides;
}

/**
 * Things that keep their place on the scenery for as long as they are seen, while the camera goes by: nobody is told by
 * that, for whoever stands there all the time is scenery. It is the background that is not well known there.
 * @param seenFrom where the frame lies that the figures of each are given on; @param poses camera movement against one
 * frame; both source pixels, null where unknown. @param scale size of the picture, and source pixels for one small pixel
 */
export function fixedToScenery(
  figures: readonly (Figure[] | null)[],
  seenFrom: readonly (Similarity | null)[],
  poses: readonly (Similarity | null)[],
  scale: { width: number; height: number; factor: number },
): Set<Figure> {
  const open: Track[] = [],
    done: Track[] = [];
  figures.forEach((all, f) => {
    for (let k = open.length - 1; k >= 0; k--) if (f - open[k].last > 2) done.push(...open.splice(k, 1));
    const pose = poses[f],
      own = seenFrom[f];
    if (!all || !pose || !own) return;
    const toScenery = composeSimilarity(invertSimilarity(pose), own);
    for (const figure of all) {
      // A shadow's own outline is less sure.
      const outline = figure.box ?? figure;
      const box = laidBy(toScenery, outline, scale);
      const inside = laidBy(own, outline, scale);
      const rim = RIM * scale.factor;
      const cut = [
        inside[0] < rim - scale.width / 2,
        inside[1] < rim - scale.height / 2,
        inside[2] > scale.width / 2 - rim,
        inside[3] > scale.height / 2 - rim,
      ];
      const known = box.map((v, n) => (cut[n] ? NaN : v)) as Sides;
      const track = open.find((t) => t.last < f && sharedOf(boxOf(t.box), boxOf(box)) >= SAME);
      if (track) {
        track.figures.push(figure);
        track.last = f;
        track.box = box;
        track.most = track.most.map((v, n) => (known[n] > v || v !== v ? known[n] : v)) as Sides;
        track.least = track.least.map((v, n) => (known[n] < v || v !== v ? known[n] : v)) as Sides;
      } else open.push({ figures: [figure], first: f, last: f, box, least: known, most: known });
    }
  });
  const fixed = [...open, ...done].filter(({ least, most, first, last }) => {
    const [a, b] = [poses[first]!, poses[last]!];
    const across = abs(a.dx - b.dx),
      down = abs(a.dy - b.dy);
    if (hypot(across, down) <= PASSED * scale.width) return false;
    // Of somebody whom the picture's edges cut off along the camera's way nothing is known.
    const sides = across > down ? [0, 2] : [1, 3];
    if (sides.every((n) => Number.isNaN(most[n]))) return false;
    return most.every((v, n) => !(v - least[n] >= STAYS * scale.width));
  });
  return new Set(fixed.flatMap((t) => t.figures));
}

const boxOf = ([x, y, right, bottom]: Sides) => ({ x, y, width: max(0, right - x), height: max(0, bottom - y) });

/** The box about a figure laid by `pose`, relative to the picture's centre, source pixels. */
function laidBy(
  pose: Similarity,
  { left, top, right, bottom }: Pick<Figure, 'left' | 'top' | 'right' | 'bottom'>,
  { width, height, factor }: { width: number; height: number; factor: number },
): Sides {
  const corners = [left, right + 1].flatMap((x) =>
    [top, bottom + 1].map((y) => applySimilarity(pose, x * factor - width / 2, y * factor - height / 2)),
  );
  const xs = corners.map(([x]) => x),
    ys = corners.map(([, y]) => y);
  return [min(...xs), min(...ys), max(...xs), max(...ys)];
}
