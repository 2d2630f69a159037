import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import type { DrawnLine } from '../measures/joined/drawn';
import type { Side } from '../report/types';

type Point = [number, number];
interface Size {
  width: number;
  height: number;
}

/** A file that holds no shape that can be taken in, and why, as a sentence. */
export class NoShape extends Error {}

/** Points along each bend of a curve. */
const BEND = 8;
const MOST_POINTS = 500;
/** A line's ends may lie so far from the picture's edges, share of its length: they are drawn on to them. */
const SHORT = 0.1;

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '',
  preserveOrder: true,
  parseAttributeValue: false,
  // Numbers need none, and what others wrote may hold any.
  processEntities: false,
});

interface XmlNode {
  ':@'?: Record<string, string>;
  [tag: string]: unknown;
}

/**
 * The first shape of an SVG picture (path, polyline, polygon, line or rectangle) as points in the pixels of a take.
 * @throws NoShape
 */
export function readShape(svg: string, size: Size): Point[] {
  let nodes: XmlNode[];
  try {
    nodes = parser.parse(svg) as XmlNode[];
  } catch {
    nodes = [];
  }
  const root = nodes.find((n) => 'svg' in n);
  if (!root) throw new NoShape('This is no SVG picture. Choose one that a pack or a drawing program wrote.');
  const found = shapeIn(root.svg as XmlNode[], '');
  if (!found) throw new NoShape('There is no line or outline in this picture. Draw one path in it.');
  const [x0, y0, width, height] = frameOf(root[':@'] ?? {}, size);
  const points = pointsOf(found).map(([x, y]): Point => [
    ((x - x0) * size.width) / width,
    ((y - y0) * size.height) / height,
  ]);
  if (points.length < 2)
    throw new NoShape('The path in this picture has no length. Draw it through two points at least.');
  if (points.length > MOST_POINTS)
    throw new NoShape(`The path has ${points.length} points; ${MOST_POINTS} are taken. Make it simpler.`);
  if (points.flat().some((v) => !Number.isFinite(v))) throw new NoShape('The path has a number that cannot be read.');
  return points;
}

/** Where the picture's frame lies in its own units: its viewBox, its size, or the take's. */
function frameOf({ viewBox, width, height }: Record<string, string>, size: Size): [number, number, number, number] {
  const box = viewBox
    ?.trim()
    .split(/[\s,]+/)
    .map(Number);
  if (box?.length === 4 && box.every(Number.isFinite) && box[2] > 0 && box[3] > 0)
    return [box[0], box[1], box[2], box[3]];
  const [w, h] = [parseFloat(width), parseFloat(height)];
  return w > 0 && h > 0 ? [0, 0, w, h] : [0, 0, size.width, size.height];
}

/** The first shape below some elements, as path data with all its transforms. */
function shapeIn(nodes: readonly XmlNode[], outer: string): { d: string; transforms: string } | null {
  for (const node of nodes) {
    const own = node[':@'] ?? {};
    const transforms = [outer, own.transform].filter(Boolean).join(' ');
    const d = dataOf(node, own);
    if (d) return { d, transforms };
    for (const [tag, below] of Object.entries(node)) {
      if (tag === ':@' || tag === 'defs' || !Array.isArray(below)) continue;
      const found = shapeIn(below as XmlNode[], transforms);
      if (found) return found;
    }
  }
  return null;
}

function dataOf(node: XmlNode, own: Record<string, string>): string | null {
  if ('path' in node) return own.d || null;
  if ('polyline' in node && own.points) return `M${own.points}`;
  if ('polygon' in node && own.points) return `M${own.points}Z`;
  if ('line' in node) return `M${own.x1 ?? 0} ${own.y1 ?? 0}L${own.x2 ?? 0} ${own.y2 ?? 0}`;
  if (!('rect' in node)) return null;
  const { x = '0', y = '0', width, height } = own;
  return width && height ? `M${x} ${y}h${width}v${height}h-${width}Z` : null;
}

function pointsOf({ d, transforms }: { d: string; transforms: string }): Point[] {
  const path = svgpath(d);
  if (transforms) path.transform(transforms);
  const points: Point[] = [];
  path
    .abs()
    .unshort()
    .unarc()
    .iterate((segment, _index, x, y) => {
      const kind = segment[0] as string,
        n = segment.slice(1) as number[];
      const at = points.length;
      if (kind === 'H') points.push([n[0], y]);
      else if (kind === 'V') points.push([x, n[0]]);
      else if (kind === 'C' || kind === 'Q')
        for (let k = 1; k <= BEND; k++) points.push(onCurve([x, y, ...n], k / BEND));
      else if (n.length === 2) points.push([n[0], n[1]]);
      // Only the first part of a path counts.
      if (kind === 'M' && at > 0) points.length = at;
    });
  return points;
}

/** A point of a Bézier curve, by halving between its places (de Casteljau). */
function onCurve(places: number[], t: number): Point {
  let all = places;
  while (all.length > 2) all = all.slice(0, -2).map((v, i) => v + t * (all[i + 2] - v));
  return [all[0], all[1]];
}

/**
 * Points as a line from edge to edge of a picture, as lines are drawn by hand: it does not turn back, and its ends lie on
 * the edges. @param side where the first take lies if the line runs the same way as before @throws NoShape
 */
export function asLine(points: readonly Point[], { width, height }: Size, side: Side): DrawnLine {
  const span = (axis: 0 | 1) => Math.abs(points.at(-1)![axis] - points[0][axis]);
  const upright = span(1) / height >= span(0) / width;
  const [along, length] = upright ? [1 as const, height] : [0 as const, width];
  const ordered = points[0][along] <= points.at(-1)![along] ? [...points] : [...points].reverse();
  if (ordered.some((p, i) => i > 0 && p[along] < ordered[i - 1][along]))
    throw new NoShape('The line turns back on its way. Draw it from one edge of the picture to the opposite one.');
  const ends = [ordered[0], ordered.at(-1)!].map((p): Point => [p[0], p[1]]);
  if (ends[0][along] > SHORT * length || ends[1][along] < (1 - SHORT) * length)
    throw new NoShape('The line does not reach from edge to edge of the picture. Draw it on.');
  ends[0][along] = 0;
  ends[1][along] = length;
  const upper = side === 'left' || side === 'top';
  const first_side: Side = upright ? (upper ? 'left' : 'right') : upper ? 'top' : 'bottom';
  return { points: [ends[0], ...ordered.slice(1, -1), ends[1]], first_side };
}
