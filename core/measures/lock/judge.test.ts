import fc from 'fast-check';
import type { LockSummary } from '../../report/summaries';
import { lockSummary } from '../../testing/take-facts';
import { LIMITS } from '../../judge/limits';
import { deliveryScale, headroomPct, judgeLock } from './judge';

const HD = { width: 1920, height: 1080 };
const UHD = { width: 3840, height: 2160 };
const FRAMES = 200;

const lock = lockSummary;
const judge = (more: Partial<LockSummary>, frames = FRAMES) => judgeLock(lock(more), HD, HD, frames);
const moved = { peak_px: 6, make_still_crop_pct: 0.8 };

test.each<[string, Partial<LockSummary>, string]>([
  ['nothing to follow', { peak_px: null, textured_share: LIMITS.lock.textured_share / 2 }, 'no-texture'],
  ['nothing that stays', { peak_px: null }, 'no-agreement'],
  ['hidden, and still as far as seen', { measured_share: LIMITS.lock.measured_share - 0.01 }, 'hidden'],
  ['hidden, and moved as far as seen', { ...moved, measured_share: LIMITS.lock.believable_share - 0.01 }, 'hidden'],
  ['not known well enough', { uncertainty_px: 0.5, sure_peak_px: 0 }, 'unsure'],
  ['only a part of the picture moves', { ...moved, spread_share: LIMITS.lock.spread_share - 0.01 }, 'part-moves'],
  ['one part moves, one stays', { ...moved, rival_ratio: LIMITS.lock.rival_ratio + 0.01 }, 'two-movements'],
])('not judged: %s', (_, more, code) => {
  const v = judge(more);
  expect(v.verdict).toBe('unjudged');
  expect(v.reasons.map((r) => r.code)).toEqual([code]);
  expect(v.reasons[0].fix).toBeTruthy();
  expect(v.deciding.map((d) => d.name)).toEqual(['frames followed', 'of the picture has detail']);
});

test('one frame shows no movement, and none shows none', () => {
  expect(judge({}, 1)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'one-frame' }] });
  expect(judge({}, 0).reasons[0].frames).toEqual([]);
});

describe('what moved is called by what it was', () => {
  test.each<[string, Partial<LockSummary>, string[]]>([
    ['a knock', { ...moved, knocks: [{ start: 50, end: 60, peak_px: 6, rest_px: 0.1 }] }, ['knock']],
    ['a drift', { ...moved, drift_px: 5 }, ['drift']],
    ['a shake', { ...moved, jitter_px: 1.2 }, ['shake']],
    ['none of these', moved, ['moved']],
    [
      'a knock on a drifting head',
      { ...moved, drift_px: 5, knocks: [{ start: 50, end: 60, peak_px: 6, rest_px: 0.1 }] },
      ['knock', 'drift'],
    ],
  ])('%s', (_, more, codes) => {
    expect(judge(more).reasons.map((r) => r.code)).toEqual(codes);
  });

  test('of two knocks the worse is said first', () => {
    const knocks = [
      { start: 20, end: 30, peak_px: 2, rest_px: 0.1 },
      { start: 90, end: 99, peak_px: 6, rest_px: 3 },
    ];
    const v = judge({ ...moved, knocks });
    expect(v.reasons[0].text).toBe('Knocked at frame 90 by 6.00 px; it settled 3.00 px off.');
    expect(v.reasons[1].text).toContain('it came back to its place');
    expect(v.deciding[1]).toMatchObject({ name: 'rest', value: 3, frame: 100 });
  });

  test('a knock at the very end has its rest there', () => {
    const knocks = [{ start: 190, end: 199, peak_px: 6, rest_px: 3 }];
    expect(judge({ ...moved, knocks }).deciding[1]).toMatchObject({ name: 'rest', frame: 199 });
  });
});

describe('room to make it still', () => {
  test('recorded at delivery size, up to the crop that is allowed', () => {
    const crop = (make_still_crop_pct: number) => judge({ ...moved, make_still_crop_pct });
    expect(crop(LIMITS.lock.crop_pct).verdict).toBe('workable');
    const large = crop(LIMITS.lock.crop_pct + 0.1);
    expect(large.verdict).toBe('reshoot');
    expect(large.reasons[0].fix).toMatch(/Making it still would cost 5\.1 % of the width; 5 % is spare\.$/);
  });

  test('recorded larger, as much as is spare', () => {
    expect([headroomPct(UHD, HD), deliveryScale(UHD, HD)]).toEqual([50, 0.5]);
    const v = judgeLock(lock({ ...moved, make_still_crop_pct: 40 }), UHD, HD, FRAMES);
    expect(v.verdict).toBe('workable');
    // Judged at delivery size: half as many pixels.
    expect(v.deciding[0]).toMatchObject({ name: 'peak', value: 3 });
  });
});

test('up to 0.35 px at delivery holds, whatever the size of the recording', () => {
  expect(judge({ peak_px: 0.34 }).verdict).toBe('holds');
  expect(judge({ peak_px: 0.36 }).verdict).not.toBe('holds');
  expect(judgeLock(lock({ peak_px: 0.68 }), UHD, HD, FRAMES).verdict).toBe('holds');
  expect(judgeLock(lock({ peak_px: 0.6, make_still_crop_pct: 12 }), UHD, UHD, FRAMES).verdict).toBe('reshoot');
});

test('measuring error alone is never called movement, and great error is unjudged', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 0.34, noNaN: true }), (u) => {
      expect(judgeLock(lock({ peak_px: 3 * u, sure_peak_px: 0, uncertainty_px: u }), HD, HD, 50).verdict).toBe('holds');
    }),
  );
  expect(judgeLock(lock({ peak_px: 1, sure_peak_px: 0, uncertainty_px: 0.5 }), HD, HD, 50).verdict).toBe('unjudged');
  expect(judgeLock(lock({ measured_share: 0.4 }), HD, HD, 50)).toMatchObject({
    verdict: 'unjudged',
    reasons: [{ code: 'hidden' }],
  });
});

test('every verdict has a reason, and every bad one something to do', () => {
  const maybe = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  fc.assert(
    fc.property(
      maybe(0, 300),
      maybe(0, 2),
      maybe(0, 40),
      maybe(0, 20),
      maybe(0, 100),
      maybe(0, 1),
      maybe(0, 1),
      (peak, u, drift, jitter, crop, measured, spread) => {
        const v = judgeLock(
          lock({
            peak_px: peak,
            uncertainty_px: u,
            drift_px: drift,
            jitter_px: jitter,
            make_still_crop_pct: crop,
            measured_share: measured,
            spread_share: spread,
          }),
          HD,
          HD,
          80,
        );
        expect(v.reasons.length).toBeGreaterThan(0);
        expect(v.deciding.length).toBeLessThanOrEqual(2);
        if (v.verdict !== 'holds') expect(v.reasons[0].fix).toBeTruthy();
        if (v.verdict === 'reshoot') expect(peak).toBeGreaterThan(0.35);
      },
    ),
  );
});

test('of a moving take the steadiest run of the wanted length is named, and the longest where there is none so long', () => {
  const steadiest = [1, 2, 5].map((seconds) => ({
    seconds,
    run: { start: 10, end: 10 + 25 * seconds },
    peak_px: seconds,
  }));
  const said = (wanted?: number) =>
    judgeLock(
      lock({ peak_px: 90, make_still_crop_pct: 30, moves: true, handheld: true, steadiest }),
      HD,
      HD,
      FRAMES,
      undefined,
      wanted,
    ).reasons[0].fix;
  expect(said()).toContain('The steadiest 2 s are frames 10 to 60');
  expect(said(3)).toContain('The steadiest 5 s are frames 10 to 135');
  expect(said(60)).toContain('The steadiest 5 s');
});
