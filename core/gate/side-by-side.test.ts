import type { TakeReport } from '../report/types';
import { LIMITS } from '../judge/limits';
import { meterGap, type MeterReading } from '../judge/meter';
import { sideBySide, type NotedTake } from './side-by-side';

type Change = { [K in keyof NotedTake['report']]?: Partial<TakeReport[K & keyof TakeReport]> } & {
  meter?: MeterReading[] | null;
  grain_levels?: number | null;
};

function noted(change: Change = {}): NotedTake {
  const { meter, grain_levels, ...rest } = change;
  const media = {
    ...{ width: 1920, height: 1080, measured_fps: 25, container_fps: '25/1', real_fps: 25, variable_rate: false },
    ...{ bit_depth: 8, codec: 'h264', rotation_deg: 0, duration_s: 6, frame_count: 150 },
    ...rest.media,
  };
  const report = {
    media,
    lock: { peak_px: 0.1, verdict: 'holds', ...rest.lock },
    light: { range_stops: 0.03, verdict: 'holds', ...rest.light },
    focus: { worst_loss_pct: 2, verdict: 'holds', ...rest.focus },
    presence: { unjudged: null, clear_runs: [{ start: 0, end: 149 }], ...rest.presence },
    grain_levels: grain_levels === undefined ? 1 : grain_levels,
  };
  return { report: report as unknown as NotedTake['report'], meter: meter ?? null };
}

const rows = (a: Change, b: Change, minutes = 3) => sideBySide(noted(a), noted(b), minutes);
const row = (name: string, a: Change, b: Change, minutes = 3) => rows(a, b, minutes).find((r) => r.name === name)!;
const reading = (ev: number): MeterReading[] => [{ frame: 0, ev }];

test('two takes alike differ in nothing', () => {
  expect(rows({}, {}).filter((r) => r.differs)).toEqual([]);
  expect(rows({}, {}).every((r) => r.name && r.second)).toBe(true);
});

test.each<[string, Change, Change, string, string]>([
  ['Picture', {}, { media: { width: 1280, height: 720 } }, '1920 × 1080 px', '1280 × 720 px'],
  ['Rate', {}, { media: { measured_fps: 50 } }, '25 fps', '50 fps'],
  ['Distinct pictures', {}, { media: { real_fps: 20 } }, '25.00 a second', '20.00 a second'],
  ['Depth', {}, { media: { bit_depth: 10 } }, '8 bit', '10 bit'],
  ['Codec', {}, { media: { codec: 'hevc' } }, 'h264', 'hevc'],
  ['Turned', {}, { media: { rotation_deg: 90 } }, '0°', '90°'],
  ['Light meter', { meter: reading(8) }, { meter: reading(9) }, '8.00 EV', '9.00 EV'],
  ['Movement', {}, { lock: { peak_px: 4, verdict: 'reshoot' } }, '0.10 px', '4.00 px'],
  ['Light in the take', {}, { light: { range_stops: 0.4, verdict: 'workable' } }, '0.03 stop', '0.40 stop'],
  ['Detail lost', {}, { focus: { worst_loss_pct: 40, verdict: 'reshoot' } }, '2 %', '40 %'],
  [
    'Grain',
    {},
    { grain_levels: 1.1 * LIMITS.grain_ratio },
    '1.00 levels',
    `${(1.1 * LIMITS.grain_ratio).toFixed(2)} levels`,
  ],
])('%s: what differs is marked, on both sides, in its unit', (name, a, b, first, second) => {
  const found = row(name, a, b);
  expect([found.first, found.second, found.differs]).toEqual([first, second, true]);
  const back = row(name, b, a);
  expect([back.first, back.second, back.differs]).toEqual([second, first, true]);
  expect(rows(a, b).filter((r) => r.differs && r.name !== name && r.name !== 'Distinct pictures')).toEqual([]);
});

test.each<[string, Change, Change]>([
  ['Length', {}, { media: { duration_s: 9 } }],
  ['Clear', {}, { presence: { clear_runs: [] } }],
  ['Distinct pictures', {}, { media: { real_fps: 24.8 } }],
  ['Grain', {}, { grain_levels: null }],
  ['Light meter', { meter: reading(8) }, { meter: null }],
  ['Light meter', { meter: reading(8) }, { meter: reading(8 + 0.9 * LIMITS.meter.differs_stops) }],
  ['Movement', {}, { lock: { peak_px: 0.2 } }],
])('%s that makes no odds is not marked', (name, a, b) => {
  expect(row(name, a, b).differs).toBe(false);
});

test('what is not known is said in words', () => {
  const none: Change = {
    media: { measured_fps: null, real_fps: null, duration_s: null },
    lock: { peak_px: null },
    presence: { unjudged: 'too dark' },
    grain_levels: null,
  };
  const said = Object.fromEntries(rows({}, none).map((r) => [r.name, r.second]));
  expect(said).toMatchObject({
    Rate: '25/1',
    Length: 'not known',
    Movement: 'not known',
    Grain: 'not known',
    Clear: 'unjudged',
    'Light meter': 'no reading',
  });
  expect(row('Rate', {}, { media: { variable_rate: true } }).second).toBe('25 fps, wandering');
});

test('when they were rolled, and how much of each is clear', () => {
  expect(row('Rolled', {}, {}, 0.4).second).toBe('within a minute');
  expect(row('Rolled', {}, {}, 12.4).second).toBe('12 min apart');
  const clear = (clear_runs: { start: number; end: number }[]) => row('Clear', {}, { presence: { clear_runs } }).second;
  expect(clear([])).toBe('never');
  expect(clear([{ start: 0, end: 149 }])).toBe('all through');
  expect(
    clear([
      { start: 0, end: 9 },
      { start: 100, end: 109 },
    ]),
  ).toBe('20 frames');
});

test('the meter’s gap is between the middles of its readings', () => {
  const many = [7, 8, 12].map((ev, frame) => ({ frame, ev }));
  expect(meterGap(many, reading(7.5))).toBe(0.5);
  expect(meterGap(reading(7.5), many)).toBe(-0.5);
  expect(meterGap([], many)).toBeNull();
  expect(meterGap(many, [])).toBeNull();
});
