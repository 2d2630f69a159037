import fc from 'fast-check';
import type { PlateGap } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { fadeInFrames, judgePlate } from './judge';

const SIZE = { width: 1920, height: 1080 };

/** A plate that fits. */
function gap(more: Partial<PlateGap> = {}): PlateGap {
  return {
    offset: { dx_px: 0.1, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: 0.02 },
    light: {
      gap_stops: 0.01,
      red_stops: 0,
      blue_stops: 0,
      worst_region: null,
      fade_in_frames: 0,
      uncertainty_stops: 0.006,
    },
    focus: { loss_pct: 1, softer: 'plate' },
    grain: { ratio: 1 },
    moved: [],
    intruders: [],
    settings: [],
    ...more,
  };
}
const light = (more: Partial<NonNullable<PlateGap['light']>>) => gap({ light: { ...gap().light!, ...more } });
const offset = (more: Partial<NonNullable<PlateGap['offset']>>) => gap({ offset: { ...gap().offset!, ...more } });
const judge = (c: PlateGap) => judgePlate(c, SIZE);
const codes = (c: PlateGap) => judge(c).reasons.map((r) => r.code);
/** A box that fills a share of the picture. */
const box = (share: number, x = 0, y = 0) => {
  const side = Math.sqrt(share * SIZE.width * SIZE.height);
  return { x, y, width: side, height: side };
};

test('a plate that fits holds', () => {
  const v = judge(gap());
  expect(v.verdict).toBe('holds');
  expect(v.reasons).toHaveLength(1);
  expect(v.reasons[0].fix).toBeNull();
  expect(v.deciding.map((d) => [d.name, d.unit])).toEqual(
    expect.arrayContaining([
      ['off', 'px'],
      ['light apart', 'stop'],
    ]),
  );
});

test('somebody in the plate is a reshoot before all else', () => {
  const v = judge({ ...light({ gap_stops: 0.3 }), intruders: [box(0.02, 1500, 100)] });
  expect(v.verdict).toBe('reshoot');
  expect(v.reasons[0]).toMatchObject({ code: 'intruder', value: 1, limit: 0 });
  expect(v.reasons[0].text).toMatch(/right/);
  expect(v.reasons.map((r) => r.code)).toContain('light');
});

describe('things that moved', () => {
  const thing = (share: number, only: 'take' | null) => ({ ...box(share, 100, 800), strength: 0.5, only });
  test.each<[string, number, 'take' | null, string | null, string]>([
    ['one that stood elsewhere', 0.01, null, 'moved', 'reshoot'],
    ['one that stands in the take alone', 0.01, 'take', 'only-in-take', 'workable'],
    ['one that is too small to matter', LIMITS.plate.moved_share * 0.9, null, null, 'holds'],
  ])('%s', (_, share, only, code, verdict) => {
    const v = judge(gap({ moved: [thing(share, only)] }));
    expect(v.verdict).toBe(verdict);
    if (code) expect(v.reasons[0].code).toBe(code);
  });

  test('several are counted, the small ones not', () => {
    const v = judge(gap({ moved: [thing(0.02, null), thing(0.01, null), thing(0.0001, null)] }));
    expect(v.reasons[0]).toMatchObject({ code: 'moved', value: 2 });
    expect(v.reasons[0].text).toMatch(/^2 things stood elsewhere: /);
  });
});

describe('where the picture lies', () => {
  test('a small offset can be laid on, a large one would cost too much of the picture', () => {
    expect(judge(offset({ dx_px: 3 }))).toMatchObject({ verdict: 'workable', reasons: [{ code: 'offset', value: 3 }] });
    const most = (LIMITS.lock.crop_pct / 200) * SIZE.width;
    expect(judge(offset({ dx_px: most * 0.98 })).verdict).toBe('workable');
    expect(judge(offset({ dx_px: most * 1.02 })).verdict).toBe('reshoot');
  });

  test('a turn counts at the corner it moves farthest', () => {
    const value = judge(offset({ dx_px: 0, rotation_deg: 0.1 })).reasons[0].value!;
    expect(value).toBeCloseTo((Math.hypot(960, 540) * 0.1 * Math.PI) / 180, 1);
  });

  test('what measuring error explains is no offset', () => {
    expect(codes(offset({ dx_px: 1.2, uncertainty_px: 0.3 }))).not.toContain('offset');
    expect(codes(offset({ dx_px: 1.2, uncertainty_px: 0.1 }))).toContain('offset');
  });

  test('what cannot be laid on each other is not judged; no second reason says the same of the light', () => {
    const v = judge(gap({ offset: null, light: null, focus: null }));
    expect(v.verdict).toBe('unjudged');
    expect(v.reasons.map((r) => r.code)).toEqual(['no-match']);
    expect(v.deciding.find((d) => d.name === 'off')).toBeUndefined();
  });

  test('laid on each other but with light that cannot be read', () => {
    expect(judge(gap({ light: null }))).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-light' }] });
  });
});

describe('light', () => {
  const { light_stops: most } = LIMITS.plate;
  test.each([
    [most * 0.99, 'holds'],
    [most * 1.01, 'workable'],
    [-most * 1.01, 'workable'],
    [LIMITS.light.grade_stops * 1.01, 'reshoot'],
    [-LIMITS.light.grade_stops * 1.01, 'reshoot'],
  ])('%d stops apart: %s', (gap_stops, verdict) => {
    expect(judge(light({ gap_stops })).verdict).toBe(verdict);
  });

  test('says which of the two is brighter, and by what to grade the plate', () => {
    const brighter = judge(light({ gap_stops: 0.25, fade_in_frames: 13 })).reasons[0];
    expect(brighter.text).toBe('The take is 0.25 stop brighter than the plate.');
    expect(brighter.fix).toContain('grade the plate by +0.25 stop and bring it in over 13 frames');
    const darker = judge(light({ gap_stops: -0.25 })).reasons[0];
    expect(darker.text).toBe('The take is 0.25 stop darker than the plate.');
    expect(darker.fix).toContain('−0.25 stop');
  });

  test('one place that differs is said apart; one that differs as all does is not', () => {
    const region = (stops: number) => ({ x: 0, y: 0, width: 480, height: 360, stops });
    expect(codes(light({ worst_region: region(0.3) }))).toEqual(['uneven-light']);
    expect(codes(light({ gap_stops: 0.3, worst_region: region(0.32) }))).toEqual(['light']);
    // A gap that is made good in one place is no fault there.
    expect(codes(light({ gap_stops: 0.15, worst_region: region(0.02) }))).toEqual(['light']);
  });

  test('white differs', () => {
    const v = judge(light({ red_stops: 0.02, blue_stops: -0.4 }));
    expect(v.reasons[0]).toMatchObject({ code: 'white', value: -0.4 });
    expect(v.verdict).toBe('workable');
    expect(codes(light({ red_stops: null, blue_stops: null }))).not.toContain('white');
  });
});

test('a soft plate is worse than a soft take: detail cannot be put back', () => {
  const loss_pct = LIMITS.focus.soften_pct + 1;
  expect(judge(gap({ focus: { loss_pct, softer: 'plate' } })).verdict).toBe('reshoot');
  expect(judge(gap({ focus: { loss_pct, softer: 'take' } })).verdict).toBe('workable');
  expect(judge(gap({ focus: { loss_pct: LIMITS.focus.holds_pct, softer: 'plate' } })).verdict).toBe('holds');
  expect(judge(gap({ focus: null })).verdict).toBe('holds');
});

test('a plate of another size is named with both', () => {
  const v = judge(gap({ settings: [{ field: 'picture', take: '1920 × 1080', plate: '1280 × 720' }] }));
  expect(v).toMatchObject({ verdict: 'workable', reasons: [{ code: 'size' }] });
  expect(v.reasons[0].text).toBe('The plate is 1280 × 720 px and the take 1920 × 1080 px.');
});

test('a fade is as long as the gap asks, and never endless', () => {
  const stops = fc.double({ min: -4, max: 4, noNaN: true });
  fc.assert(
    fc.property(stops, stops, (a, b) => {
      const frames = fadeInFrames(a, b);
      const most = Math.max(Math.abs(a), Math.abs(b));
      expect(frames).toBe(fadeInFrames(-b, a));
      expect(Number.isInteger(frames)).toBe(true);
      expect(frames).toBeLessThanOrEqual(LIMITS.plate.fade_frames);
      if (most < LIMITS.plate.unseen_stops) expect(frames).toBe(0);
      else if (frames < LIMITS.plate.fade_frames)
        expect(most / frames).toBeLessThanOrEqual(LIMITS.plate.fade_step_stops + 1e-9);
    }),
  );
});

test('every fault says what to do about it, whichever faults come together', () => {
  const faulty = fc.record({
    intruders: fc.array(fc.constant(box(0.01, 400, 300)), { maxLength: 2 }),
    moved: fc.array(fc.constant({ ...box(0.01, 100, 100), strength: 0.4, only: null }), { maxLength: 2 }),
    offset: fc.option(fc.record({ dx: fc.double({ min: -90, max: 90, noNaN: true }) })),
    gap: fc.double({ min: -2, max: 2, noNaN: true }),
  });
  fc.assert(
    fc.property(faulty, (f) => {
      const c = { ...light({ gap_stops: f.gap }), intruders: f.intruders, moved: f.moved };
      const v = judge({ ...c, offset: f.offset && { ...gap().offset!, dx_px: f.offset.dx } });
      if (v.verdict !== 'holds') for (const r of v.reasons) expect(r.fix).toBeTruthy();
      if (f.intruders.length || f.moved.length) expect(v.verdict).toBe('reshoot');
    }),
  );
});
