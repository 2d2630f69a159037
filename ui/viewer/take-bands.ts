import type { Run, TakeReport } from '../../core/report/types';
import { plain } from '../components/plain-number';
import type { Band } from './ribbon';

/** The take's traces on one frame axis: movement, light, focus, presence, with their faults. */
export function takeBands({ lock, light, focus, presence, media }: TakeReport): Band[] {
  const faults = (reasons: { code: string; frames: Run[] }[], codes: string[]) =>
    reasons.filter((r) => codes.includes(r.code)).flatMap((r) => r.frames);
  const known = light.path.stops.filter((s): s is number => s !== null);
  const low = known.length ? Math.min(...known) : 0;
  return [
    {
      name: 'movement',
      unit: 'px',
      values: lock.path.displacement_px,
      limit: lock.deciding.find((n) => n.name === 'peak')?.limit ?? null,
      faults: faults(lock.reasons, ['knock']),
      sentence:
        lock.peak_px === null
          ? 'The movement could not be measured.'
          : `The picture moves by at most ${plain(lock.peak_px)} pixels, in frame ${lock.peak_frame}.`,
    },
    {
      name: 'light',
      unit: 'stop',
      values: light.path.stops.map((s) => (s === null ? null : s - low)),
      limit: null,
      least: 0.2,
      faults: faults(light.reasons, ['step', 'cloud']),
      sentence:
        light.range_stops === null
          ? 'The light could not be read.'
          : `The light changes by at most ${plain(light.range_stops)} stop.`,
    },
    {
      name: 'detail lost',
      unit: '%',
      values: focus.path.sharpness.map((s) => (s === null ? null : 100 * (1 - s))),
      limit: null,
      least: 30,
      faults: faults(focus.reasons, ['hunt']),
      sentence:
        focus.worst_loss_pct === null
          ? 'The focus could not be told.'
          : `At most ${plain(focus.worst_loss_pct)} per cent of fine detail is lost.`,
    },
    presenceBand({ presence, media }),
  ];
}

/** How much of the picture whoever is in fills, with their shadows. */
export function presenceBand({ presence, media }: Pick<TakeReport, 'presence' | 'media'>): Band {
  const most = presence.path.area_share.reduce<number>((m, a) => Math.max(m, a ?? 0), 0);
  const somebody = presence.present_runs.reduce((n, r) => n + r.end - r.start + 1, 0);
  return {
    name: 'who is in',
    unit: '% of the frame',
    values: presence.path.area_share.map((a, f) =>
      a === null ? null : 100 * (a + (presence.path.shadow_share[f] ?? 0)),
    ),
    limit: null,
    least: 5,
    faults: [],
    sentence:
      presence.unjudged ??
      `Somebody is in the picture in ${somebody} of ${media.frame_count} frames, filling ${plain(100 * most)} per cent at most.`,
  };
}

/** What the take is at one frame, in a few words. */
export function atFrame({ lock, light, presence }: TakeReport, frame: number): string[] {
  const off = lock.path.displacement_px[frame] ?? null,
    stops = light.path.stops[frame] ?? null,
    area = presence.path.area_share[frame] ?? null;
  return [
    off === null ? 'movement not known' : `${plain(off)} px off`,
    stops === null ? 'light not read' : `${stops < 0 ? '−' : '+'}${Math.abs(stops).toFixed(2)} stop`,
    area === null
      ? 'presence not known'
      : area + (presence.path.shadow_share[frame] ?? 0) > 0
        ? `${plain(100 * area)} % filled`
        : 'clear',
  ];
}
