import Papa from 'papaparse';
import type { LockMeasure } from '../report/types';
import type { Rate } from './assembly';

/** What the numbers of a camera's path mean, for whoever reads them elsewhere. */
export const PATH_CONVENTION = [
  'dx_px, dy_px: how far what was at the middle of the reference frame lies to the right and down in this frame, ' +
    'in pixels of the recording as shown',
  'rotation_deg: how far the picture is turned about its middle, clockwise as seen',
  'scale: how many times as large the picture is, about its middle',
  'to hold the take still, undo it about the middle: move by -dx, -dy, then turn by -rotation, then scale by 1/scale; ' +
    'empty where it is not known',
];

/** Where the still parts of a take lie in each frame, as CSV (RFC 4180) after lines that begin with "#". */
export function cameraPathCsv(file: string, rate: Rate, { path, reference_frame }: LockMeasure): string {
  const about = [
    `${file.replace(/\s+/g, ' ')}, ${rate[0]}/${rate[1]} frames a second, frames counted from 0`,
    `reference frame ${reference_frame ?? 'not known'}`,
    ...PATH_CONVENTION,
  ];
  const rows = path.dx_px.map((_, frame) => [
    frame,
    ((frame * rate[1]) / rate[0]).toFixed(6),
    ...[path.dx_px[frame], path.dy_px[frame]].map((v) => v?.toFixed(3) ?? ''),
    path.rotation_deg[frame]?.toFixed(5) ?? '',
    path.scale[frame]?.toFixed(6) ?? '',
  ]);
  const columns = ['frame', 'seconds', 'dx_px', 'dy_px', 'rotation_deg', 'scale'];
  const table = Papa.unparse({ fields: columns, data: rows }, { newline: '\r\n' });
  return `${about.map((line) => `# ${line}\r\n`).join('')}${table}\r\n`;
}
