import { shotsBegin } from '../core/measures/file/judge';
import { listRuns } from '../core/judge/runs';
import type { PlateReport, Said, TakeReport, Verdict } from '../core/report/types';

const n = (v: number | null, digits = 2) => (v === null ? '-' : v.toFixed(digits));

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`;

/** The report on a take as a few lines to read in a terminal. */
export function takeText(r: TakeReport): string {
  const { media: m, lock } = r;
  const lines = [
    `${r.file}`,
    `  ${m.width} x ${m.height}${m.rotation_deg ? `, turned ${m.rotation_deg} deg` : ''}, ${m.codec} ` +
      `${m.bit_depth} bit, ${m.frame_count} frames, ${n(m.duration_s)} s`,
    `  rate ${n(m.measured_fps, 3)} fps measured (${m.container_fps} declared), ${n(m.real_fps, 2)} distinct ` +
      `pictures a second${m.variable_rate ? ', wandering' : ''}`,
  ];
  if (m.repeated_frames.length)
    lines.push(`  ${counted(m.repeated_frames.length, 'repeated frame')}, first at ${m.repeated_frames[0]}`);
  if (m.missing_frames.length)
    lines.push(`  ${counted(m.missing_frames.length, 'gap')}, first after frame ${m.missing_frames[0].after}`);
  const { take } = r;
  lines.push(
    `Judged as ${take.judged_for}: ${take.verdict.toUpperCase()}   (at ${r.delivery.width} x ${r.delivery.height})`,
  );
  if (m.cuts.length)
    lines.push(`  ${m.cuts.length + 1} shots, ${shotsBegin(m)}; measured are frames ${m.shot.start} to ${m.shot.end}`);
  lines.push(`  ${take.text}`, ...(take.fix ? [`  -> ${take.fix}`] : []));
  for (const f of take.findings) if (f.text !== take.text) lines.push(`  ${f.name}: ${f.verdict.toUpperCase()}`);
  const { light, focus, presence } = r;
  lines.push(heading('Lock', lock), ...reasonLines(lock));
  if (lock.verdict !== 'unjudged' && lock.peak_px !== null)
    lines.push(
      `  peak ${n(lock.peak_px)} px${lock.peak_frame === null ? '' : ` at frame ${lock.peak_frame}`}, drift ` +
        `${n(lock.drift_px)} px, shake ${n(lock.jitter_px)} px, ` +
        `turn ${n(lock.peak_rotation_deg, 3)} deg, size ${n(lock.peak_scale_pct, 3)} %`,
      `  known to ${n(lock.uncertainty_px, 3)} px; against frame ${lock.reference_frame ?? '-'}; to make it still ` +
        `crop ${n(lock.make_still_crop_pct)} %`,
    );
  lines.push(heading('Light', light), ...reasonLines(light));
  if (light.verdict !== 'unjudged' && light.drift_stops !== null)
    lines.push(
      `  drift ${n(light.drift_stops)} stop, span ${n(light.range_stops)} stop, white: red ` +
        `${n(light.white?.red_stops ?? null)}, blue ${n(light.white?.blue_stops ?? null)} stop; known to ` +
        `${n(light.uncertainty_stops, 3)} stop`,
    );
  lines.push(heading('Focus', focus), ...reasonLines(focus));
  lines.push(
    'Presence:',
    presence.unjudged
      ? `  ${presence.unjudged}`
      : presence.clear_runs.length
        ? `  clear in frames ${listRuns(presence.clear_runs)}`
        : '  never clear',
  );
  if (presence.present_runs.length)
    lines.push(
      `  somebody in frames ${listRuns(presence.present_runs)}, at most ` +
        `${n(100 * presence.path.area_share.reduce<number>((most, a) => Math.max(most, a ?? 0), 0), 1)} % of the picture`,
    );
  if (presence.restless.length)
    lines.push(`  ${n(100 * presence.restless_share, 1)} % of the picture moves by itself and is left out`);
  return lines.join('\n');
}

/** "Lock: HOLDS", or the name alone where nobody asked. */
const heading = (name: string, { verdict }: Said) =>
  verdict ? `${name}: ${verdict.toUpperCase()}` : `${name} (not asked for):`;

/** The report on a plate as a few lines to read in a terminal. */
export function plateText(r: PlateReport, plate: string | null, take: string | null): string {
  const lines: string[] = [];
  if (r.source === 'clear_run' && r.run)
    lines.push(
      `Plate from ${r.take}, frames ${r.run.start} to ${r.run.end}: ${r.frames_used.length} averaged, nobody in them.`,
    );
  if (r.source === 'stitched')
    lines.push(
      `No frame of ${r.take} is empty. Plate stitched from ${r.frames_used.length} frames; ` +
        `${n(100 * r.unseen_share)} % of the picture was never free.`,
    );
  if (r.source === 'file') lines.push(`${plate} against ${take}`);
  else if (plate) lines.push(`  saved as ${plate}`);
  if (r.verdict && r.reasons) {
    lines.push(`Plate: ${r.verdict.toUpperCase()}`, ...reasonLines({ reasons: r.reasons }));
    if (r.offset)
      lines.push(
        `  the take lies ${n(r.offset.dx_px)} px right, ${n(r.offset.dy_px)} px down, turned ` +
          `${n(r.offset.rotation_deg, 3)} deg, size ${n(r.offset.scale, 4)} of the plate; known to ${n(r.offset.uncertainty_px, 3)} px`,
      );
    if (r.light)
      lines.push(
        `  light ${n(r.light.gap_stops)} stop, red ${n(r.light.red_stops)}, blue ${n(r.light.blue_stops)} (take ` +
          `less plate); bring in over ${r.light.fade_in_frames} frames`,
      );
    lines.push(
      `  focus ${r.focus ? `${n(r.focus.loss_pct, 0)} % of detail lost by the ${r.focus.softer}` : '-'}, grain ` +
        `${r.grain ? n(r.grain.ratio) : '-'} times the plate's`,
    );
    for (const s of r.settings ?? []) lines.push(`  ${s.field}: take ${s.take}, plate ${s.plate}`);
  }
  return lines.join('\n');
}

export function reasonLines(verdict: Pick<Verdict, 'reasons'>): string[] {
  return verdict.reasons.flatMap((reason) => [`  ${reason.text}`, ...(reason.fix ? [`  -> ${reason.fix}`] : [])]);
}
