import type { SumKind, SumValues } from './kinds';
import { roomInTakes } from './double-room';
import { pairFound } from '../testing/pair-found';
import { SUM_SHEETS, usualValues, workOut } from './sheets';

/** What a sum answers to some values over its usual ones: its answers by label, and its cautions. */
function ask(kind: SumKind, values: SumValues = {}) {
  const { result, error } = workOut(kind, { ...usualValues(kind), ...values });
  if (error !== null) throw new Error(error);
  return {
    answers: Object.fromEntries(result!.answers.map((a) => [a.label, a.value])),
    units: Object.fromEntries(result!.answers.map((a) => [a.label, a.unit])),
    cautions: result!.cautions,
    working: result!.working,
  };
}
const number = (kind: SumKind, label: string, values: SumValues = {}) => Number(ask(kind, values).answers[label]);

test('each sum has one question, one main answer at least, and says its units or needs none', () => {
  for (const sheet of Object.values(SUM_SHEETS)) {
    expect(sheet.answers).toMatch(/\?$/);
    const { result } = workOut(sheet.kind, usualValues(sheet.kind));
    expect(result!.answers.filter((a) => a.main).length).toBeGreaterThanOrEqual(1);
    expect(result!.working).toMatch(/[0-9]/);
  }
});

describe('timecode', () => {
  const shown = (rate: string, values: SumValues) => ask('timecode', { rate, ...values }).answers.timecode;

  test.each([
    ['25', 60, '00:01:00:00'],
    ['24', 3600, '01:00:00:00'],
    ['30', 0.5, '00:00:00:15'],
    ['50', 61.02, '00:01:01:01'],
    ['23.976', 3603.6, '01:00:00:00'],
    ['29.97-drop', 600, '00:10:00;00'],
  ])('at %s, %d s is %s', (rate, seconds, timecode) => {
    expect(shown(rate, { from: 'seconds', seconds })).toBe(timecode);
  });

  test.each([
    [1799, '00:00:59;29'],
    [1800, '00:01:00;02'],
    [17981, '00:09:59;29'],
    [17982, '00:10:00;00'],
    [107892, '01:00:00;00'],
  ])('drop-frame: frame %d is %s, and back', (frames, timecode) => {
    expect(shown('29.97-drop', { from: 'frames', frames })).toBe(timecode);
    expect(ask('timecode', { rate: '29.97-drop', from: 'timecode', timecode }).answers.frames).toBe(String(frames));
  });

  test.each([
    ['00:01:00;00', /left out.*00;02/],
    ['00:00:61:00', /does not exist/],
    ['00:00:00:30', /does not exist/],
    ['24:00:00:00', /does not exist/],
    ['tea time', /is not a timecode/],
  ])('%s is refused in a sentence', (timecode, sentence) => {
    const values = { ...usualValues('timecode'), rate: '29.97-drop', from: 'timecode', timecode };
    expect(workOut('timecode', values).error).toMatch(sentence);
  });

  test('a counter that drops nothing at 29.97 falls behind the clock, and says by how much', () => {
    const { cautions } = ask('timecode', { rate: '29.97', from: 'seconds', seconds: 3600 });
    expect(cautions).toHaveLength(1);
    expect(Number(/by ([\d.]+) s/.exec(cautions[0])![1])).toBeCloseTo(3.6, 1);
    expect(ask('timecode', { rate: '25', from: 'seconds', seconds: 3600 }).cautions).toEqual([]);
  });
});

describe('vehicle', () => {
  const at = (values: SumValues) => ask('vehicle', { delivery: 25, angle: 180, ...values });

  test('10 km/h shown as 40: four times, every frame once at 6.25 fps', () => {
    const { answers, cautions } = at({ safe: 10, wanted: 40, capture: 6.25 });
    expect(Number(answers['speed in the edit'])).toBe(400);
    expect(Number(answers['every frame used once at'])).toBe(6.25);
    expect(answers.shutter).toBe('1/12.5');
    expect(Number(answers['blur looks like'])).toBe(180);
    expect(cautions).toEqual([]);
  });

  test('at 25 fps no shutter is that long, and the blur falls short', () => {
    const { answers, cautions } = at({ safe: 10, wanted: 40, capture: 25 });
    expect(answers.shutter).toBe('1/25');
    expect(Number(answers['blur looks like'])).toBe(90);
    expect(cautions[0]).toContain('Record at 6.25 fps');
  });

  test('slower than shot: the shutter is the shorter', () => {
    const { answers } = at({ safe: 40, wanted: 20, capture: 50 });
    expect([Number(answers['speed in the edit']), answers.shutter]).toEqual([50, '1/100']);
  });
});

describe('work of masking', () => {
  test('hours from keys and frames, as a range about the middle', () => {
    const values = { frames: 40, spacing: 4, per_key: 6, per_frame: 6, spread: 2 };
    // 11 keys x 6 min + 40 x 6 s = 70 min.
    expect(number('mask-work', 'key frames', values)).toBe(11);
    expect(number('mask-work', 'from', values)).toBeCloseTo(70 / 60 / 2, 2);
    expect(number('mask-work', 'to', values)).toBeCloseTo((70 / 60) * 2, 1);
  });

  test('nothing to mask is no work; a finer shape is more than a plain one', () => {
    expect(number('mask-work', 'to', { frames: 0 })).toBe(0);
    const hours = ['line', 'solid', 'body', 'fine'].map((shape) => number('mask-work', 'to', { shape, frames: 200 }));
    expect([...hours].sort((a, b) => a - b)).toEqual(hours);
  });

  test('minutes a key of one’s own count before the shape’s', () => {
    const own = { frames: 100, per_key: 3 };
    expect(number('mask-work', 'to', { ...own, shape: 'line' })).toBe(
      number('mask-work', 'to', { ...own, shape: 'fine' }),
    );
  });
});

describe('room for a double', () => {
  test('the marks lie a performer and the feather apart', () => {
    const values = { distance: 4, performer: 0.9, feather: 0, delivery_width: 1920 };
    expect(number('double-room', 'between the marks', values)).toBeCloseTo(0.9, 2);
    const wide = number('double-room', 'picture is wide', values);
    const soft = number('double-room', 'between the marks', { ...values, feather: 960 });
    expect(soft).toBeCloseTo(0.9 + wide / 2, 1);
  });

  test('twice as far is twice as wide; too narrow is said', () => {
    const wide = (distance: number) => number('double-room', 'picture is wide', { distance });
    expect(wide(8) / wide(4)).toBeCloseTo(2, 1);
    expect(ask('double-room', { distance: 8 }).cautions).toEqual([]);
    expect(ask('double-room', { distance: 0.5 }).cautions[0]).toMatch(/do not fit/);
  });

  test('passes that were rolled say what they take and leave, in metres and at delivery', () => {
    // A picture 4 m wide, recorded 1280 and delivered 1920 wide.
    const by = { field: 4, width: 1280, deliveryWidth: 1920 };
    expect(roomInTakes(pairFound(), by)).toEqual({ performer: 0.5, feather: 126 });
    expect(roomInTakes(pairFound({ widest_px: { a: 64, b: null }, seam: null }), by)).toEqual({
      performer: 0.2,
      feather: null,
    });
    // A line that must move leaves no room of its own.
    const moving = { ...pairFound().seam!, fixed: false };
    expect(roomInTakes(pairFound({ widest_px: { a: null, b: null }, seam: moving }), by)).toEqual({
      performer: null,
      feather: null,
    });
  });
});

describe('walking up to something', () => {
  const values = { width: 1.6, height: 0.9, start: 4, speed: 1, fps: 25 };

  test('it fills the frame where the lens sees no more than it', () => {
    const fills = number('walk-in', 'fills the frame at', values);
    // The distance is shown rounded: that may be a frame.
    expect(Math.abs(number('walk-in', 'that is frame', values) - (4 - fills) * 25)).toBeLessThan(2);
    // A wider thing fills it sooner only as far as its height allows.
    expect(number('walk-in', 'fills the frame at', { ...values, width: 16 })).toBeLessThan(2 * fills);
  });

  test('a start that is nearer than that is said', () => {
    expect(ask('walk-in', { ...values, start: 0.1 }).answers['that is frame']).toBe('0');
    expect(ask('walk-in', { ...values, start: 0.1 }).cautions).toHaveLength(1);
  });

  test('half the speed is twice the frames', () => {
    const frames = (speed: number) => number('walk-in', 'that is frame', { ...values, speed });
    expect(Math.abs(frames(0.5) - 2 * frames(1))).toBeLessThanOrEqual(1);
  });
});

describe('panning and sliding past something', () => {
  test('twice the speed is half the frames', () => {
    const values = { move: 'slide', width: 3, distance: 0.5, fps: 100 };
    const frames = (speed: number) => number('pan-past', 'fully covered', { ...values, speed });
    expect(frames(0.2)).toBeGreaterThan(20);
    expect(Math.abs(frames(0.1) - 2 * frames(0.2))).toBeLessThanOrEqual(2);
  });

  test('what is too narrow never fills the frame, and is said', () => {
    for (const move of ['pan', 'slide']) {
      const { answers, cautions } = ask('pan-past', { move, width: 0.05, distance: 2 });
      expect(answers['fills, from its first edge on']).toBe('never');
      expect(Number(answers['of the width'])).toBeLessThan(100);
      expect(cautions[0]).toMatch(/does not fill the frame/);
    }
  });

  test('few covered frames are cautioned', () => {
    const fast = { move: 'slide', width: 3, distance: 0.5, fps: 25 };
    const speeds = Array.from({ length: 100 }, (_, k) => 5 + k / 4);
    const few = speeds.find((speed) => {
      const full = number('pan-past', 'fully covered', { ...fast, speed });
      return full === 1 || full === 2;
    })!;
    expect(ask('pan-past', { ...fast, speed: few }).cautions).toEqual(['Few frames are covered: move slower past it.']);
  });
});

describe('headroom', () => {
  const uhd = { capture_width: 3840, capture_height: 2160, delivery_width: 1920, delivery_height: 1080, edge: 0 };

  test.each([
    [100, 100],
    [140, 100 * (2 / 1.4 - 1)],
    [200, 0],
    [250, -20],
  ])('a push to %d %% of 2160p for 1080p', (end, left) => {
    const { answers } = ask('headroom', { ...uhd, start: 100, end });
    expect(Number(Object.values(answers)[0])).toBeCloseTo(left, 0);
  });

  test('a push backwards needs as much as forwards', () => {
    const there = ask('headroom', { ...uhd, start: 100, end: 180 }).answers;
    expect(ask('headroom', { ...uhd, start: 180, end: 100 }).answers).toEqual(there);
  });
});
