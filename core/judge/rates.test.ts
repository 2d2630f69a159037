import { judgeRates, rateName, type RateClip } from './rates';

const clip = (
  name: string,
  fps: number | null,
  more: { real?: number; variable?: boolean; speed?: number } = {},
): RateClip => ({
  name,
  number: 1,
  speedPct: more.speed ?? null,
  media: {
    container_fps: '25/1',
    measured_fps: fps,
    real_fps: fps === null ? null : (more.real ?? fps),
    variable_rate: fps === null ? null : (more.variable ?? false),
    frame_count: fps === null ? 1 : 100,
  },
});
const plan = { deliveryFps: 25, notedFps: null, notedShutterS: null };

test('rates are named as the trade names them', () => {
  expect([30000 / 1001, 24000 / 1001, 25, 59.9402, 24.83].map(rateName)).toEqual([
    '29.97',
    '23.976',
    '25',
    '59.94',
    '24.830',
  ]);
});

test('parts of one rate hold, whatever it is', () => {
  for (const fps of [24, 25, 30000 / 1001, 50])
    expect(
      judgeRates([clip('A', fps), clip('B', fps * 1.0002)], { ...plan, deliveryFps: fps }).map((r) => r.verdict),
    ).toEqual(['holds', 'holds']);
});

test('25 against 29.97 is found on the odd one out, with what it would play at', () => {
  const rows = judgeRates([clip('Pass A', 25), clip('Pass B', 25), clip('Plate', 30000 / 1001)], plan);
  expect(rows.map((r) => r.verdict)).toEqual(['holds', 'holds', 'reshoot']);
  expect(rows[2].findings[0].text).toBe('Plate is 29.97 fps, the other parts 25.');
  expect(rows[2].findings[0].fix).toMatch(
    /Set the camera to 25 fps and roll Plate again\. Read as 25 fps it would play at 83 % of its speed/,
  );
  // Clocks of two cameras: a rate that is nearly the same may be read as it.
  expect(
    judgeRates([clip('A', 24), clip('B', 24), clip('C', 24000 / 1001)], { ...plan, deliveryFps: 24 })[2].verdict,
  ).toBe('workable');
});

test('a wandering rate, repeated frames, a rate other than noted and too long a shutter each have their fix', () => {
  const [wandering] = judgeRates([clip('Plate', 24.83, { variable: true })], plan);
  expect(wandering.verdict).toBe('workable');
  expect(wandering.findings[0].fix).toMatch(/Convert it to a steady 25 fps/);
  const [repeating] = judgeRates([clip('Plate', 25, { real: 12.5 })], plan);
  expect(repeating.verdict).toBe('reshoot');
  expect(repeating.findings[0].text).toMatch(/only 12\.50 distinct pictures a second in a file of 25/);
  const [other] = judgeRates([clip('Plate', 25)], { ...plan, notedFps: 50, notedShutterS: 1 / 20 });
  expect(other.findings.map((f) => f.text)).toEqual([
    expect.stringMatching(/^50 fps is noted/),
    expect.stringMatching(/^A shutter of 1\/20 s is noted, longer than one frame/),
  ]);
  expect(judgeRates([clip('Still', null)], plan)[0].verdict).toBe('unjudged');
});

test('the planned slow-down says which frames repeat, and holds when the rate is high enough', () => {
  const [slow] = judgeRates([clip('Pass', 25, { speed: 40 })], plan);
  expect(slow.verdict).toBe('reshoot');
  expect(slow.findings[0].text).toBe('At 40 % of its speed 15 of 25 frames a second are repeats.');
  expect(slow.findings[0].fix).toMatch(/Record at 63 fps or more, or go no slower than 100 %/);
  expect(slow.pattern).toMatch(/at 40 % in 25 fps: 15 frames a second repeat, at 1, 2, 4, 6 …/);
  const [fine] = judgeRates([clip('Pass', 50, { speed: 50 })], plan);
  expect(fine.verdict).toBe('holds');
  expect(fine.pattern).toBe('at 50 % in 25 fps: every frame once');
  expect(judgeRates([clip('Pass', 50)], plan)[0].pattern).toBe('at 25 fps: every 2. frame');
});
