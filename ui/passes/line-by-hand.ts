import { OPPOSITE } from '../../core/base/geometry/sides';
import type { DrawnLine } from '../../core/measures/joined/drawn';

type Point = [number, number];

export interface Size {
  width: number;
  height: number;
}

/** A line's points keep so many pixels from each other along its way. */
const APART = 2;

const isUpright = ({ first_side: side }: DrawnLine) => side === 'left' || side === 'right';
const copied = (line: DrawnLine) => line.points.map(([x, y]): Point => [x, y]);
const within = (v: number, least: number, most: number) => Math.max(least, Math.min(most, v));

/** A straight line through the middle of a picture, the first take to the left of it. */
export function middleLine({ width, height }: Size): DrawnLine {
  return {
    points: [
      [width / 2, 0],
      [width / 2, height],
    ],
    first_side: 'left',
  };
}

/** The line with the other take on each side of it. */
export const sidesChanged = (line: DrawnLine): DrawnLine => ({ ...line, first_side: OPPOSITE[line.first_side] });

/** A line without points that lie on each other: a hand could not tell them apart. @param near source pixels */
export function thinned(line: DrawnLine, near: number): DrawnLine {
  const last = line.points.length - 1;
  const far = (i: number, k: number) =>
    Math.hypot(line.points[i][0] - line.points[k][0], line.points[i][1] - line.points[k][1]) > near;
  const kept: number[] = [0];
  for (let i = 1; i < last; i++) if (far(i, kept[kept.length - 1]) && far(i, last)) kept.push(i);
  return { ...line, points: [...kept, last].map((i) => line.points[i]) };
}

/** A line of a pair, as seen from the take that is first here. */
export const seenFrom = (line: DrawnLine, turned: boolean): DrawnLine => (turned ? sidesChanged(line) : line);

/** The line with one of its points elsewhere: its ends stay on their edges, and no point passes another. */
export function pointMoved(line: DrawnLine, index: number, [x, y]: readonly [number, number], size: Size): DrawnLine {
  const points = copied(line);
  const upright = isUpright(line);
  // Along the line's way, and across it.
  const along = upright ? 1 : 0,
    across = 1 - along;
  const long = upright ? size.height : size.width,
    broad = upright ? size.width : size.height;
  const to: Point = [x, y];
  to[across] = within(to[across], 0, broad);
  if (index === 0 || index === points.length - 1) to[along] = points[index][along];
  else {
    // A line that was found may turn back a little: never tighter than it is.
    const [before, after] = [points[index - 1][along], points[index + 1][along]];
    const [low, high] = [Math.min(before, after), Math.max(before, after)];
    to[along] = high - low > 2 * APART ? within(to[along], low + APART, high - APART) : points[index][along];
    to[along] = within(to[along], 0, long);
  }
  points[index] = to;
  return { ...line, points };
}

/** The line with one more point, in the middle of the stretch after one of them; and which it is. */
export function pointAdded(line: DrawnLine, index: number): { line: DrawnLine; index: number } {
  const points = copied(line);
  const from = Math.min(index, points.length - 2);
  const [[ax, ay], [bx, by]] = [points[from], points[from + 1]];
  points.splice(from + 1, 0, [(ax + bx) / 2, (ay + by) / 2]);
  return { line: { ...line, points }, index: from + 1 };
}

/** The line without one of its points; its ends stay. */
export function pointDropped(line: DrawnLine, index: number): DrawnLine {
  if (index <= 0 || index >= line.points.length - 1) return line;
  return { ...line, points: copied(line).filter((_, i) => i !== index) };
}

/** What is marked in a mask, as the outline of its rows, in screen pixels. @param scale screen pixels for one of the mask */
export function pathOf(mask: Uint8Array, width: number, scale: number): string {
  const parts: string[] = [];
  const say = (v: number) => (v * scale).toFixed(1);
  for (let row = 0; row < mask.length; row += width)
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const from = x;
      while (x + 1 < width && mask[row + x + 1]) x++;
      parts.push(`M${say(from)} ${say(row / width)}H${say(x + 1)}V${say(row / width + 1)}H${say(from)}Z`);
    }
  return parts.join('');
}

/** Points this near to each other on screen, pixels, cannot be told apart by a finger (WCAG 2.2, 2.5.8, with some room). */
const HANDLES_APART = 28;

/**
 * The points of a line that can be taken hold of, rising: the chosen one, the ends, and those that lie far enough from
 * all of these. The others follow when there is more room, or the ones beside them are moved away.
 * @param scale screen pixels for one of the picture
 */
export function handlesOf(
  points: readonly (readonly [number, number])[],
  scale: number,
  picked: number | null,
): number[] {
  const chosen: number[] = [];
  const isFree = (i: number) =>
    chosen.every((k) => {
      const [dx, dy] = [0, 1].map((side) => Math.abs(points[i][side] - points[k][side]) * scale);
      return Math.max(dx, dy) >= HANDLES_APART;
    });
  const last = points.length - 1;
  for (const i of [picked ?? 0, 0, last, ...points.keys()]) if (points[i] && isFree(i)) chosen.push(i);
  return chosen.sort((a, b) => a - b);
}
