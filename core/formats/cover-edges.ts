import Papa from 'papaparse';
import { LINES_AT } from '../measures/cover/profile';
import type { CoverEdges } from '../report/wipe-types';

const vertical = ({ way }: CoverEdges) => way === 90 || way === 270;

/**
 * The edges of what covers a picture in each frame, as CSV (RFC 4180) after lines that begin with "#": where each crosses
 * three lines along the way of travel, pixels.
 */
export function coverEdgesCsv(file: string, edges: CoverEdges, size: { width: number; height: number }): string {
  const across = vertical(edges) ? size.width : size.height;
  const [along, beside] = vertical(edges) ? ['y', 'x'] : ['x', 'y'];
  const at = LINES_AT.map((share) => Math.round(share * across));
  const about = [
    `${file.replace(/\s+/g, ' ')}: edges of what covers the picture, which goes ${edges.way} degrees (0 right, 90 down)`,
    `each column is the ${along} of an edge at the ${beside} in its name, ` +
      'pixels of the recording as shown; empty where it is not in the picture',
  ];
  const frames = edges.lead[0]?.length ?? 0;
  const fields = ['frame', ...['leading', 'trailing'].flatMap((e) => at.map((v) => `${e}_at_${beside}${v}_px`))];
  const data = Array.from({ length: frames }, (_, f) => [
    f,
    ...[...edges.lead, ...edges.trail].map((line) => line[f]?.toFixed(2) ?? ''),
  ]);
  return `${about.map((line) => `# ${line}\r\n`).join('')}${Papa.unparse({ fields, data }, { newline: '\r\n' })}\r\n`;
}

/** The leading or the trailing edge in a frame as points, from side to side; empty where it is not in the picture. */
export function edgePoints(
  edges: CoverEdges,
  which: 'lead' | 'trail',
  frame: number,
  size: { width: number; height: number },
): [number, number][] {
  const turned = vertical(edges);
  const across = turned ? size.width : size.height;
  const known = edges[which].flatMap((line, k): [number, number][] => {
    const v = line[frame];
    return v === null || v === undefined ? [] : [[LINES_AT[k] * across, v]];
  });
  if (known.length < 2) return [];
  // Drawn on to both sides of the picture, as straight as its outer two places are.
  const reach = (a: [number, number], b: [number, number], u: number): [number, number] => [
    u,
    b[1] + ((u - b[0]) * (b[1] - a[1])) / (b[0] - a[0]),
  ];
  const [first, last] = [reach(known[1], known[0], 0), reach(known.at(-2)!, known.at(-1)!, across)];
  return [first, ...known, last].map(([u, v]): [number, number] => (turned ? [u, v] : [v, u]));
}
