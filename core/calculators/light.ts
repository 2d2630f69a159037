import { DateTime } from 'luxon';
import { getPosition, getTimes } from 'suncalc';
import { ask, numberOf, textOf, tidy, type SumSheet } from './kinds';

/**
 * Light on level ground under a clear sky, lux, by the sun's height (Janiczek and DeYoung 1987; polynomials of
 * Seidelmann 1992). log10 E = a + b x + c x^2 + d x^3 with x = height / 90 degrees. Valid from -18 to 90 degrees;
 * below, the night's floor.
 */
export function clearSkyLux(height_deg: number): number {
  const x = height_deg / 90;
  const pick = (): [number, number, number, number] => {
    if (height_deg >= 20) return [3.74, 3.97, -4.07, 1.47];
    if (height_deg >= 5) return [3.05, 13.28, -45.98, 64.33];
    if (height_deg >= -0.8) return [2.88, 22.26, -207.64, 1034.3];
    if (height_deg >= -5) return [2.88, 21.81, -258.11, -858.36];
    if (height_deg >= -12) return [2.7, 12.17, -431.69, -1899.83];
    return [13.84, 262.72, 1447.42, 2797.93];
  };
  const [a, b, c, d] = pick();
  return Math.max(0.001, 10 ** (a + b * x + c * x * x + d * x * x * x));
}

export interface SunDrift {
  /** Sun's height over the horizon and direction from north by east, degrees, at the start and at the end. */
  start: { height_deg: number; direction_deg: number };
  end: { height_deg: number; direction_deg: number };
  /** Change of the light in stops under a clear sky, and its rough range. */
  stops: number;
  low: number;
  high: number;
}

/** How far daylight goes between two passes. Light from the sky alone or through thin cloud goes less, a slanting sun on a wall more. */
export function sunDrift(time: DateTime, minutes: number, latitude: number, longitude: number): SunDrift {
  const at = (t: DateTime) => {
    const p = getPosition(t.toJSDate(), latitude, longitude);
    return { height_deg: p.altitude, direction_deg: p.azimuth };
  };
  const start = at(time);
  const end = at(time.plus({ minutes }));
  const stops = Math.log2(clearSkyLux(end.height_deg) / clearSkyLux(start.height_deg));
  const around = [0.6 * stops, 1.5 * stops];
  return { start, end, stops, low: Math.min(...around), high: Math.max(...around) };
}

/** The day's turns of light at a place. Times are UTC instants as ISO text; null where one does not happen (far north). */
export interface SunTimes {
  dawn: string | null;
  sunrise: string | null;
  goldenEnd: string | null;
  goldenStart: string | null;
  sunset: string | null;
  dusk: string | null;
}

/** @param day ISO date of the place's own calendar; @param zone its time zone, "Europe/Oslo" */
export function sunTimes(day: string, zone: string, latitude: number, longitude: number): SunTimes {
  const noon = DateTime.fromISO(day, { zone }).set({ hour: 12 });
  if (!noon.isValid) throw new RangeError(`"${day}" in "${zone}" is not a day that can be worked with.`);
  const t = getTimes(noon.toJSDate(), latitude, longitude);
  const iso = (d: { toISOString: () => string; getTime: () => number } | null) =>
    d && Number.isFinite(d.getTime()) ? d.toISOString() : null;
  return {
    dawn: iso(t.dawn),
    sunrise: iso(t.sunrise),
    goldenEnd: iso(t.goldenHourEnd),
    goldenStart: iso(t.goldenHour),
    sunset: iso(t.sunset),
    dusk: iso(t.dusk),
  };
}

export const LIGHT: SumSheet = {
  kind: 'light',
  name: 'Daylight between passes',
  answers: 'How far will the daylight drift until the last pass?',
  inputs: [
    ask('latitude', 'Latitude, north is positive', '°', 59.4, -90, 90),
    ask('longitude', 'Longitude, east is positive', '°', 10.5, -180, 180),
    { key: 'time', label: 'Date and time there', kind: 'text', usual: '2027-06-12T21:10', hint: '2027-06-12T21:10' },
    { key: 'zone', label: 'Time zone', kind: 'text', usual: 'Europe/Oslo', hint: 'Europe/Oslo' },
    ask('minutes', 'From the first pass to the last', 'min', 20, 0, 1440),
  ],
  work: (values) => {
    const n = (key: string) => numberOf(LIGHT, values, key);
    const zone = textOf(LIGHT, values, 'zone').trim();
    const time = DateTime.fromISO(textOf(LIGHT, values, 'time').trim(), { zone });
    if (!time.isValid)
      throw new RangeError('Write date and time like 2027-06-12T21:10, and the zone like Europe/Oslo.');
    const r = sunDrift(time, n('minutes'), n('latitude'), n('longitude'));
    const worst = Math.max(Math.abs(r.low), Math.abs(r.high));
    return {
      answers: [
        { label: 'drift', value: `${tidy(r.low, 2)} to ${tidy(r.high, 2)}`, unit: 'stops', main: true },
        {
          label: 'sun at the start',
          value: `${tidy(r.start.height_deg, 3)}° high, ${tidy(r.start.direction_deg, 3)}°`,
          unit: 'from north',
        },
        {
          label: 'at the end',
          value: `${tidy(r.end.height_deg, 3)}° high, ${tidy(r.end.direction_deg, 3)}°`,
          unit: 'from north',
        },
      ],
      working:
        `clear sky: log2 of ${tidy(clearSkyLux(r.end.height_deg))} lx ÷ ` +
        `${tidy(clearSkyLux(r.start.height_deg))} lx = ${tidy(r.stops, 2)} stops; 0.6 to 1.5 times that, and more when a cloud comes`,
      cautions:
        worst > 0.1
          ? [
              `Passes should agree within 0.1 stop: roll them within ` +
                `${tidy(Math.max(0.5, (n('minutes') * 0.1) / worst), 2)} min, or bring the plate in slowly.`,
            ]
          : [],
      curve: {
        xLabel: 'minutes',
        yLabel: 'drift, stops',
        at: { x: n('minutes'), y: r.stops },
        points: Array.from({ length: 13 }, (_, i) => {
          const minutes = (Math.max(10, 1.5 * n('minutes')) * i) / 12;
          return { x: minutes, y: sunDrift(time, minutes, n('latitude'), n('longitude')).stops };
        }),
      },
    };
  },
};
