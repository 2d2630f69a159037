import { median } from '../base/numeric/quantile';
import { LIMITS } from './limits';

/** One reading of a light meter beside the camera: exposure value at ISO 100. */
export interface MeterReading {
  frame: number;
  ev: number;
}

/** A light meter's readings beside what the picture shows. */
export interface MeterFinding {
  /** Span of the meter's readings and of the picture's light at those frames, stops. */
  meter_stops: number;
  picture_stops: number;
  /** Who changed: nobody, the light on the set, the camera by itself, or both. */
  who: 'steady' | 'light' | 'camera' | 'both';
  text: string;
  fix: string | null;
}

const span = (values: readonly number[]) => (values.length ? Math.max(...values) - Math.min(...values) : 0);

/** Did the light change, or the camera? Null when fewer than two readings lie in frames whose light is known. */
export function judgeMeter(readings: readonly MeterReading[], stops: readonly (number | null)[]): MeterFinding | null {
  const known = readings.flatMap((r) => {
    const s = stops[r.frame];
    return s === null || s === undefined ? [] : [{ ev: r.ev, stops: s }];
  });
  if (known.length < 2) return null;
  const meter = span(known.map((k) => k.ev)),
    picture = span(known.map((k) => k.stops)),
    between = span(known.map((k) => k.stops - k.ev));
  const limit = LIMITS.light.holds_stops;
  const base = { meter_stops: meter, picture_stops: picture };
  const own = between > limit + LIMITS.meter.error_stops,
    light = meter > limit + LIMITS.meter.error_stops;
  if (own && light)
    return {
      ...base,
      who: 'both',
      text: `The meter saw ${meter.toFixed(2)} stop and the picture ${picture.toFixed(2)}: light and camera both changed.`,
      fix: 'Lock exposure by hand, wait for steady light, and roll again.',
    };
  if (own)
    return {
      ...base,
      who: 'camera',
      text:
        `The meter saw ${meter.toFixed(2)} stop while the picture changed by ${picture.toFixed(2)}: the ` +
        `camera changed its exposure by itself.`,
      fix: 'Lock exposure by hand and roll again.',
    };
  if (light)
    return {
      ...base,
      who: 'light',
      text: `The meter saw ${meter.toFixed(2)} stop too: the light on the set changed, not the camera.`,
      fix: 'Wait for steady light, or shade the set, and roll again.',
    };
  return { ...base, who: 'steady', text: `The meter stayed within ${meter.toFixed(2)} stop.`, fix: null };
}

/** Light of one take less that of another by the meter, stops; null without readings of both. */
export function meterGap(a: readonly MeterReading[], b: readonly MeterReading[]): number | null {
  if (a.length === 0 || b.length === 0) return null;
  const middle = (r: readonly MeterReading[]) => median(r.map((m) => m.ev));
  return middle(a) - middle(b);
}
