import ical from 'ical-generator';
import { DateTime } from 'luxon';
import { sunTimes } from '../calculators/light';

export interface SunCalendar {
  shoot: string;
  place: string;
  latitude: number;
  longitude: number;
  zone: string;
  days: string[];
}

const EVENTS = [
  ['dawn', 'First light (sun 6° below the horizon)'],
  ['sunrise', 'Sunrise'],
  ['goldenEnd', 'Low morning light ends (sun 6° high)'],
  ['goldenStart', 'Low evening light begins (sun 6° high)'],
  ['sunset', 'Sunset'],
  ['dusk', 'Last light (sun 6° below the horizon)'],
] as const;

/** The turns of daylight on the days of a shoot, as iCalendar (RFC 5545). @param stamp when the file is made, ISO text */
export function writeSunCalendar(c: SunCalendar, stamp: string): string {
  const calendar = ical({
    name: `${c.shoot}: daylight`,
    prodId: { company: 'Umbrastat', product: 'daylight' },
    timezone: null,
  });
  for (const day of c.days) {
    const times = sunTimes(day, c.zone, c.latitude, c.longitude);
    for (const [key, summary] of EVENTS) {
      const at = times[key];
      if (!at) continue;
      const start = DateTime.fromISO(at, { zone: 'utc' }).startOf('minute');
      calendar.createEvent({
        id: `${key}-${day}-${c.latitude.toFixed(3)}-${c.longitude.toFixed(3)}@umbrastat`,
        start: start.toJSDate(),
        end: start.plus({ minutes: 5 }).toJSDate(),
        summary,
        location: c.place || null,
        stamp: DateTime.fromISO(stamp).toJSDate(),
        description:
          `${DateTime.fromISO(at, { zone: c.zone }).toFormat('HH:mm')} in ${c.zone}. Computed for ` +
          `${c.latitude.toFixed(3)}, ${c.longitude.toFixed(3)}, level horizon.`,
      });
    }
  }
  return calendar.toString();
}
