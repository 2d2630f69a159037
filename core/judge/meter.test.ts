import fc from 'fast-check';
import { LIMITS } from './limits';
import { judgeMeter, type MeterReading } from './meter';

const sure = LIMITS.light.holds_stops + LIMITS.meter.error_stops;
const readings = (...ev: number[]): MeterReading[] => ev.map((v, k) => ({ frame: 10 * k, ev: v }));
/** The picture's light at the frames of the readings. */
const picture = (...stops: (number | null)[]) =>
  Array.from({ length: 10 * stops.length }, (_, f) => stops[Math.floor(f / 10)] ?? null);
const who = (meter: MeterReading[], stops: (number | null)[]) => judgeMeter(meter, stops)?.who ?? null;

test.each<[string, number[], number[], string]>([
  ['nothing changed', [8, 8.05], [0, 0.05], 'steady'],
  ['the light went down and the picture with it', [8, 8 - 2 * sure], [0, -2 * sure], 'light'],
  ['the picture changed by itself', [8, 8], [0, 2 * sure], 'camera'],
  ['the camera made good what the light lost', [8, 8 - 2 * sure], [0, 0], 'both'],
  ['the light changed, and the camera more', [8, 8 + 2 * sure], [0, 5 * sure], 'both'],
])('%s: %s', (_, ev, stops, found) => {
  const finding = judgeMeter(readings(...ev), picture(...stops))!;
  expect(finding.who).toBe(found);
  expect(finding.fix === null).toBe(found === 'steady');
  expect(finding.text).toMatch(/\d\.\d\d/);
});

test('what the meter may be wrong by is nobody’s change', () => {
  expect(who(readings(8, 8 + 0.99 * sure), picture(0, 0.99 * sure))).toBe('steady');
  expect(who(readings(8, 8), picture(0, 0.99 * sure))).toBe('steady');
  expect(who(readings(8, 8), picture(0, 1.01 * sure))).toBe('camera');
});

test('fewer than two readings in known frames say nothing', () => {
  expect(judgeMeter([], picture(0, 1))).toBeNull();
  expect(judgeMeter(readings(8), picture(0, 1))).toBeNull();
  expect(judgeMeter(readings(8, 9), picture(0, null))).toBeNull();
  // A frame beyond the take's end is not known.
  expect(judgeMeter([...readings(8), { frame: 999, ev: 9 }], picture(0))).toBeNull();
});

test('another zero of the meter or of the picture makes no odds, nor does the order of readings', () => {
  const value = fc.double({ min: -3, max: 3, noNaN: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(value, value), { minLength: 2, maxLength: 8 }), value, value, (pairs, a, b) => {
      const own = judgeMeter(readings(...pairs.map((p) => p[0])), picture(...pairs.map((p) => p[1])))!;
      const moved = judgeMeter(
        readings(...pairs.map((p) => p[0] + 8 + a)).reverse(),
        picture(...pairs.map((p) => p[1] + b)),
      )!;
      expect(moved.meter_stops).toBeCloseTo(own.meter_stops, 9);
      expect(moved.picture_stops).toBeCloseTo(own.picture_stops, 9);
    }),
  );
});
