import { judgeRates, rateName, type RateClip, type RatePlan } from './rates';

const clip = (more: Partial<RateClip['media']> & { speedPct?: number | null; name?: string } = {}): RateClip => {
  const { speedPct, name, ...media } = more;
  const measured = media.measured_fps === undefined ? 25 : media.measured_fps;
  return {
    name: name ?? 'Pass A',
    number: 1,
    speedPct: speedPct ?? null,
    media: {
      container_fps: '25/1',
      measured_fps: measured,
      real_fps: measured,
      variable_rate: false,
      frame_count: 100,
      ...media,
    },
  };
};
const PLAN: RatePlan = { deliveryFps: 25, notedFps: null, notedShutterS: null };
const row = (c: RateClip, plan: Partial<RatePlan> = {}) => judgeRates([c], { ...PLAN, ...plan })[0];
const texts = (c: RateClip, plan: Partial<RatePlan> = {}) => row(c, plan).findings.map((f) => f.text);

test.each([
  [25, '25'],
  [25.005, '25'],
  [25.05, '25.050'],
  [59.94, '59.94'],
  [119.88, '119.88'],
  [12.5, '12.500'],
])('%d is called %s', (fps, name) => {
  expect(rateName(fps)).toBe(name);
});

test('a file of one frame has no rate to be judged', () => {
  const r = row(clip({ measured_fps: null, frame_count: 1 }));
  expect(r).toMatchObject({
    verdict: 'unjudged',
    rate: '25/1 fps declared, 1 frame',
    shutter: null,
    pattern: 'not known',
  });
  expect(r.findings[0].fix).toBe('Roll it again, longer.');
  expect(row(clip({ measured_fps: null, frame_count: 2 })).rate).toContain('2 frames');
});

test('a wandering rate is workable, and says to what to convert', () => {
  const r = row(clip({ measured_fps: 29.4, variable_rate: true }), { notedFps: 30 });
  expect(r.verdict).toBe('workable');
  expect(r.rate).toBe('29.400 fps, wandering');
  expect(r.findings[0].fix).toContain('Convert it to a steady 30 fps');
});

test('fewer distinct pictures than frames are a reshoot', () => {
  const r = row(clip({ measured_fps: 30, real_fps: 24 }));
  expect(r.verdict).toBe('reshoot');
  expect(r.rate).toBe('30 fps, 24.00 distinct');
  expect(r.findings[0].text).toContain('only 24.00 distinct pictures a second in a file of 30');
});

test('another rate than noted is said; two clocks of one rate are not', () => {
  expect(texts(clip({ measured_fps: 50 }), { notedFps: 25 })[0]).toBe(
    '25 fps is noted for this setup, the file has 50.',
  );
  expect(texts(clip({ measured_fps: 25.001 }), { notedFps: 25 })).toEqual([]);
});

describe('the planned speed', () => {
  test.each<[number, number | null, RegExp]>([
    [25, null, /^at 25 fps: every frame once$/],
    [50, null, /^at 25 fps: every 2\. frame$/],
    [50, 50, /^at 50 % in 25 fps: every frame once$/],
    [25, 40, /^at 40 % in 25 fps: 15 frames a second repeat, at 1, 2, 4, 6 …$/],
    [100, 40, /^at 40 % in 25 fps: uneven steps, blends at /],
    [100, 25, /^at 25 % in 25 fps: every frame once$/],
  ])('%d fps at %s %%', (measured_fps, speedPct, pattern) => {
    expect(row(clip({ measured_fps, speedPct })).pattern).toMatch(pattern);
  });

  test('slower than the rate can carry says the rate that can, and the slowest that goes', () => {
    const [f] = row(clip({ speedPct: 40 })).findings;
    expect(f).toMatchObject({ verdict: 'reshoot', text: 'At 40 % of its speed 15 of 25 frames a second are repeats.' });
    expect(f.fix).toBe('Record at 63 fps or more, or go no slower than 100 %.');
    expect(row(clip({ measured_fps: 100, speedPct: 40 })).findings).toEqual([]);
  });
});

describe('the noted shutter', () => {
  test('is shown as a time and as an angle', () => {
    expect(row(clip(), { notedShutterS: 1 / 50 }).shutter).toBe('1/50 s, 180°');
    expect(row(clip({ measured_fps: 50 }), { notedShutterS: 1 / 200 }).shutter).toBe('1/200 s, 90°');
    expect(row(clip()).shutter).toBeNull();
  });

  test('longer than a frame lasts cannot be', () => {
    expect(texts(clip({ measured_fps: 50 }), { notedShutterS: 1 / 25 })[0]).toContain(
      'longer than one frame of 50 fps',
    );
    expect(texts(clip({ measured_fps: 50 }), { notedShutterS: 1 / 50 })).toEqual([]);
  });

  test('short beside the edit’s frames strobes', () => {
    const [f] = row(clip(), { notedShutterS: 1 / 400 }).findings;
    expect(f.text).toMatch(/looks like 23°.*will strobe/);
    expect(f.fix).toBe('Use 1/50 s, or add blur in the edit.');
  });
});

describe('parts against each other', () => {
  const verdicts = (...rates: number[]) =>
    judgeRates(
      rates.map((measured_fps, k) => clip({ measured_fps, name: `Part ${k}` })),
      PLAN,
    ).map((r) => r.verdict);

  test.each<[number[], string[]]>([
    [
      [25, 25, 25],
      ['holds', 'holds', 'holds'],
    ],
    [
      [25, 25, 50],
      ['holds', 'holds', 'reshoot'],
    ],
    [
      [50, 25, 25],
      ['reshoot', 'holds', 'holds'],
    ],
    [
      [24, 24, 24000 / 1001],
      ['holds', 'holds', 'workable'],
    ],
    [
      [25, 25.004],
      ['holds', 'holds'],
    ],
  ])('%j: %j', (rates, found) => {
    expect(verdicts(...rates)).toEqual(found);
  });

  test('near rates can be read as one, with the speed they then play at', () => {
    const rows = judgeRates(
      [24, 24, 24000 / 1001].map((measured_fps) => clip({ measured_fps })),
      PLAN,
    );
    expect(rows[2].findings[0].fix).toBe('Let the edit read it as 24 fps: it plays at 100.10 % of its speed.');
    const far = judgeRates(
      [25, 25, 50].map((measured_fps) => clip({ measured_fps })),
      PLAN,
    );
    expect(far[2].findings[0].fix).toContain('it would play at 50 % of its speed');
  });

  test('what is wandering or has no rate does not decide what the others should be', () => {
    const rows = judgeRates(
      [clip({ measured_fps: 28, variable_rate: true }), clip({ measured_fps: null }), clip()],
      PLAN,
    );
    expect(rows.map((r) => r.verdict)).toEqual(['workable', 'unjudged', 'holds']);
  });

  test('of one rate hold, whatever it is, and two clocks of one rate are one', () => {
    for (const fps of [24, 25, 30000 / 1001, 50]) {
      const rows = judgeRates([clip({ measured_fps: fps }), clip({ measured_fps: fps * 1.0002 })], {
        ...PLAN,
        deliveryFps: fps,
      });
      expect(rows.map((r) => r.verdict)).toEqual(['holds', 'holds']);
    }
  });
});
