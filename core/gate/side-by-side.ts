import { median } from '../base/numeric/quantile';
import type { TakeReport } from '../report/types';
import { LIMITS } from '../judge/limits';
import { meterGap, type MeterReading } from '../judge/meter';
import { rateName } from '../judge/rates';

/** One line of two takes' settings beside each other. */
export interface SettingRow {
  name: string;
  first: string;
  second: string;
  /** Whether the difference matters for laying one over the other. */
  differs: boolean;
}

/** A take with what is noted of it. */
export interface NotedTake {
  report: Pick<TakeReport, 'media' | 'lock' | 'light' | 'focus' | 'presence' | 'grain_levels'>;
  meter: readonly MeterReading[] | null;
}

const n = (v: number | null, digits: number, unit: string) =>
  v === null ? 'not known' : `${v.toFixed(digits)} ${unit}`;

/** The settings and states of two takes, line by line. @param minutes between the rolling of the two */
export function sideBySide(a: NotedTake, b: NotedTake, minutes: number): SettingRow[] {
  const [x, y] = [a.report, b.report];
  const row = (name: string, first: string, second: string, differs = first !== second): SettingRow => ({
    name,
    first,
    second,
    differs,
  });
  const rate = (r: NotedTake['report']) =>
    r.media.measured_fps === null
      ? r.media.container_fps
      : `${rateName(r.media.measured_fps)} fps${r.media.variable_rate ? ', wandering' : ''}`;
  const ev = (m: readonly MeterReading[] | null) =>
    m?.length ? `${median(m.map((r) => r.ev)).toFixed(2)} EV` : 'no reading';
  const gap = meterGap(a.meter ?? [], b.meter ?? []);
  const grain =
    x.grain_levels && y.grain_levels ? Math.max(x.grain_levels / y.grain_levels, y.grain_levels / x.grain_levels) : 1;
  return [
    row('Picture', `${x.media.width} × ${x.media.height} px`, `${y.media.width} × ${y.media.height} px`),
    row('Rate', rate(x), rate(y)),
    row(
      'Distinct pictures',
      n(x.media.real_fps, 2, 'a second'),
      n(y.media.real_fps, 2, 'a second'),
      Math.abs((x.media.real_fps ?? 0) / (y.media.real_fps || 1) - 1) > 0.02,
    ),
    row('Depth', `${x.media.bit_depth} bit`, `${y.media.bit_depth} bit`),
    row('Codec', x.media.codec, y.media.codec),
    row('Turned', `${x.media.rotation_deg}°`, `${y.media.rotation_deg}°`),
    row('Length', n(x.media.duration_s, 1, 's'), n(y.media.duration_s, 1, 's'), false),
    row('Rolled', '', `${minutes < 1 ? 'within a minute' : `${Math.round(minutes)} min apart`}`, false),
    row('Light meter', ev(a.meter), ev(b.meter), gap !== null && Math.abs(gap) > LIMITS.meter.differs_stops),
    row('Movement', n(x.lock.peak_px, 2, 'px'), n(y.lock.peak_px, 2, 'px'), x.lock.verdict !== y.lock.verdict),
    row(
      'Light in the take',
      n(x.light.range_stops, 2, 'stop'),
      n(y.light.range_stops, 2, 'stop'),
      x.light.verdict !== y.light.verdict,
    ),
    row(
      'Detail lost',
      n(x.focus.worst_loss_pct, 0, '%'),
      n(y.focus.worst_loss_pct, 0, '%'),
      x.focus.verdict !== y.focus.verdict,
    ),
    row('Grain', n(x.grain_levels, 2, 'levels'), n(y.grain_levels, 2, 'levels'), grain > LIMITS.grain_ratio),
    row('Clear', clear(x), clear(y), false),
  ];
}

function clear({ presence, media }: NotedTake['report']): string {
  if (presence.unjudged) return 'unjudged';
  const frames = presence.clear_runs.reduce((s, r) => s + r.end - r.start + 1, 0);
  return frames === 0 ? 'never' : frames === media.frame_count ? 'all through' : `${frames} frames`;
}
