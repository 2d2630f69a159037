import { wayInWords } from '../core/measures/cover/judge';
import type { CoverReport, CutReport, CutSide } from '../core/report/wipe-types';
import { reasonLines } from './text-report';

const n = (v: number | null, digits = 1) => (v === null ? '-' : v.toFixed(digits));
const KINDS = {
  passing: 'an object passes',
  panning: 'the camera pans past an object',
  approaching: 'the camera comes nearer',
  closing: 'an edge closes',
};

/** The report on a cover as a few lines to read in a terminal. */
export function coverText(r: CoverReport): string {
  const { edge, cut } = r;
  const lines = [
    r.file,
    `Cover: ${r.verdict.toUpperCase()}   (${KINDS[r.kind]}${r.direction_deg === null ? '' : `, ${wayInWords(r.direction_deg)}`})`,
    ...reasonLines(r),
  ];
  // What could not be told is no number to read out.
  if (r.verdict === 'unjudged') return lines.slice(0, 1).concat('Cover: UNJUDGED', reasonLines(r)).join('\n');
  lines.push(
    `  in from frame ${r.enter_frame ?? '-'}, full ${r.first_full_frame ?? '-'} to ${r.last_full_frame ?? '-'}, ` +
      `last seen in ${r.leave_frame ?? '-'}; ${n(100 * r.peak_cover_share)} % covered at frame ${r.peak_frame ?? '-'}`,
  );
  lines.push(
    `  edge ${n(edge.speed_px_per_frame)} px a frame, ${n(edge.softness_px)} px ` +
      `soft${edge.bend_px === null ? '' : `, bent by ${n(edge.bend_px)} px`}`,
  );
  if (r.punch_in)
    lines.push(
      `  punch-in to ${n(100 * r.punch_in.scale)} % about (${n(r.punch_in.centre_x_px, 0)}, ` +
        `${n(r.punch_in.centre_y_px, 0)}) hides the rest; ` +
        `${r.punch_in.allowed ? 'the recording is large enough' : 'the recording is too small for it'}`,
    );
  lines.push(
    `  ${r.mask_frames} frames to mask${r.key_frames.length ? `; set first: ${r.key_frames.join(', ')}` : ''}`,
  );
  lines.push(
    `  out side to frame ${cut.out_last_frame ?? '-'}, in side from under frame ${cut.in_first_frame ?? '-'} on`,
  );
  return lines.join('\n');
}

/** The report on a cut as a few lines to read in a terminal. */
export function cutText(r: CutReport): string {
  const way = (s: CutSide) => {
    if (s.speed_widths_per_s === null) return 'not to be followed';
    if (s.angle_deg === null) return 'stands still';
    return `${n(s.angle_deg, 0)} deg (${wayInWords(s.angle_deg)}) at ${n(s.speed_widths_per_s, 3)} widths a second`;
  };
  const side = (name: string, s: CutSide, fps: number | null, pattern: string | null) =>
    `  ${name}: ${way(s)}, ` +
    `${n(100 * s.steady_share, 0)} % steady; ${n(fps, 3)} fps${pattern ? `, ${pattern}` : ''}`;
  return [
    `${r.out_file} to ${r.in_file}`,
    `Cut: ${r.verdict.toUpperCase()}`,
    ...reasonLines(r),
    side('out', r.out, r.rate.out_fps, r.rate.out_pattern),
    side('in', r.in, r.rate.in_fps, r.rate.in_pattern),
    `  gap ${n(r.angle_gap_deg, 0)} deg, in over out ` +
      `${n(r.speed_ratio, 2)}${r.retime_pct === null ? '' : `, play the in side at ${n(r.retime_pct, 0)} %`}`,
  ].join('\n');
}
