import type { TakeReport } from '../../core/report/types';
import { atFrame, takeBands } from './take-bands';

/** A take of four frames with a knock, a step of light, a hunt and somebody who comes in. */
function report(): TakeReport {
  return {
    media: { frame_count: 4 },
    lock: {
      peak_px: 2.5,
      peak_frame: 2,
      deciding: [
        { name: 'peak', value: 2.5, unit: 'px', limit: 0.35, frame: 2 },
        { name: 'rest', value: 0.1, unit: 'px', limit: 0.35, frame: 3 },
      ],
      reasons: [
        { code: 'knock', frames: [{ start: 2, end: 2 }] },
        { code: 'drift', frames: [{ start: 0, end: 3 }] },
      ],
      path: { displacement_px: [0, 0.1, 2.5, null] },
    },
    light: {
      range_stops: 0.3,
      reasons: [
        { code: 'step', frames: [{ start: 1, end: 1 }] },
        { code: 'cloud', frames: [{ start: 3, end: 3 }] },
      ],
      path: { stops: [-0.1, 0.2, null, 0.05] },
    },
    focus: {
      worst_loss_pct: 12,
      reasons: [{ code: 'hunt', frames: [{ start: 2, end: 3 }] }],
      path: { sharpness: [1, 0.88, null, 0.95] },
    },
    presence: {
      unjudged: null,
      present_runs: [
        { start: 1, end: 1 },
        { start: 3, end: 3 },
      ],
      path: { area_share: [0, 0.1, null, 0.04], shadow_share: [0, 0.05, null, null] },
    },
  } as unknown as TakeReport;
}

const band = (r: TakeReport, name: string) => takeBands(r).find((b) => b.name === name)!;

test('the four traces lie on one axis, each with its unit', () => {
  const bands = takeBands(report());
  expect(bands.map((b) => [b.name, b.unit])).toEqual([
    ['movement', 'px'],
    ['light', 'stop'],
    ['detail lost', '%'],
    ['who is in', '% of the frame'],
  ]);
  for (const b of bands) expect(b.values).toHaveLength(4);
});

test('movement shows the limit it is judged by and the knock, not what is no event', () => {
  const b = band(report(), 'movement');
  expect(b.limit).toBe(0.35);
  expect(b.faults).toEqual([{ start: 2, end: 2 }]);
  expect(b.sentence).toBe('The picture moves by at most 2.50 pixels, in frame 2.');
});

test('light is drawn from its darkest frame up, and gaps stay gaps', () => {
  const b = band(report(), 'light');
  expect(b.values[0]).toBe(0);
  expect(b.values[1]).toBeCloseTo(0.3);
  expect(b.values[2]).toBeNull();
  expect(b.faults).toEqual([
    { start: 1, end: 1 },
    { start: 3, end: 3 },
  ]);
});

test('detail is drawn as what is lost', () => {
  const b = band(report(), 'detail lost');
  expect(b.values.map((v) => (v === null ? null : Math.round(v)))).toEqual([0, 12, null, 5]);
  expect(b.faults).toEqual([{ start: 2, end: 3 }]);
});

test('presence counts a shadow to the one who casts it', () => {
  const b = band(report(), 'who is in');
  expect(b.values[1]).toBeCloseTo(15);
  expect(b.values[2]).toBeNull();
  expect(b.values[3]).toBeCloseTo(4);
  expect(b.sentence).toBe('Somebody is in the picture in 2 of 4 frames, filling 10.0 per cent at most.');
});

test('what could not be measured is said in every band', () => {
  const r = report();
  r.lock.peak_px = null;
  r.light.range_stops = null;
  r.light.path.stops = [null, null, null, null];
  r.focus.worst_loss_pct = null;
  r.presence.unjudged = 'The take is too dark to tell.';
  expect(takeBands(r).map((b) => b.sentence)).toEqual([
    'The movement could not be measured.',
    'The light could not be read.',
    'The focus could not be told.',
    'The take is too dark to tell.',
  ]);
  expect(band(r, 'light').values).toEqual([null, null, null, null]);
});

test('one frame in a few words, with units, whatever is known of it', () => {
  expect(atFrame(report(), 0)).toEqual(['0.00 px off', '−0.10 stop', 'clear']);
  expect(atFrame(report(), 1)).toEqual(['0.10 px off', '+0.20 stop', '10.0 % filled']);
  expect(atFrame(report(), 2)).toEqual(['2.50 px off', 'light not read', 'presence not known']);
  expect(atFrame(report(), 99)).toEqual(['movement not known', 'light not read', 'presence not known']);
});
