import type { TakeReport } from '../core/report/types';

const n = (v: number | null, digits = 2) => (v === null ? '-' : v.toFixed(digits));

/** The report on a take as a few lines to read in a terminal. */
export function takeText(r: TakeReport): string {
  const { media: m, lock } = r;
  const lines = [
    `${r.file}`,
    `  ${m.width} x ${m.height}${m.rotation_deg ? `, turned ${m.rotation_deg} deg` : ''}, ${m.codec} ${m.bit_depth} bit, ${m.frame_count} frames, ${n(m.duration_s)} s`,
    `  rate ${n(m.measured_fps, 3)} fps measured (${m.container_fps} declared), ${n(m.real_fps, 2)} distinct pictures a second${m.variable_rate ? ', wandering' : ''}`,
  ];
  if (m.repeated_frames.length) lines.push(`  ${m.repeated_frames.length} repeated frames, first at ${m.repeated_frames[0]}`);
  if (m.missing_frames.length) lines.push(`  ${m.missing_frames.length} gaps, first after frame ${m.missing_frames[0].after}`);
  lines.push(`Lock: ${lock.verdict.toUpperCase()}   (judged at ${r.delivery.width} x ${r.delivery.height})`);
  for (const reason of lock.reasons) {
    lines.push(`  ${reason.text}`);
    if (reason.fix) lines.push(`  -> ${reason.fix}`);
  }
  lines.push(
    `  peak ${n(lock.peak_px)} px${lock.peak_frame === null ? '' : ` at frame ${lock.peak_frame}`}, drift ${n(lock.drift_px)} px, shake ${n(lock.jitter_px)} px, `
    + `turn ${n(lock.peak_rotation_deg, 3)} deg, size ${n(lock.peak_scale_pct, 3)} %`,
    `  known to ${n(lock.uncertainty_px, 3)} px; against frame ${lock.reference_frame ?? '-'}; to make it still crop ${n(lock.make_still_crop_pct)} %`,
  );
  return lines.join('\n');
}
