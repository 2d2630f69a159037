import fc from 'fast-check';
import type { LockMeasure } from '../report/types';
import { judgeGate, standingTake, type GatePart, type GateTake } from './gate';
import { deliveryScale, headroomPct, judgeLock } from './lock';

const HD = { width: 1920, height: 1080 };

function lock(more: Partial<LockMeasure>): LockMeasure {
  return {
    reference_frame: 0,
    peak_px: 0.1,
    sure_peak_px: null,
    peak_frame: 10,
    drift_px: 0.02,
    jitter_px: 0.02,
    peak_rotation_deg: 0,
    peak_scale_pct: 0,
    knocks: [],
    make_still_crop_pct: 0.1,
    uncertainty_px: 0.02,
    still_share: 0.9,
    measured_share: 1,
    patches: [],
    spread_share: 1,
    rival_ratio: 0,
    textured_share: 0.9,
    path: { dx_px: [], dy_px: [], rotation_deg: [], scale: [], displacement_px: [] },
    ...more,
  };
}

test('up to 0.35 px at delivery holds; beyond, a small crop is workable and a large one is a reshoot', () => {
  expect(judgeLock(lock({ peak_px: 0.34 }), HD, HD, 100).verdict).toBe('holds');
  expect(judgeLock(lock({ peak_px: 6, drift_px: 6, make_still_crop_pct: 0.6 }), HD, HD, 100).verdict).toBe('workable');
  const bad = judgeLock(lock({ peak_px: 90, drift_px: 90, make_still_crop_pct: 9 }), HD, HD, 100);
  expect(bad.verdict).toBe('reshoot');
  expect(bad.reasons[0]).toMatchObject({ code: 'drift', value: 90 });
  expect(bad.reasons[0].fix).toContain('9.0 %');
});

test('when spots stay put beside those that move, no movement of the camera is claimed', () => {
  const moved = { peak_px: 30, drift_px: 30, make_still_crop_pct: 4 };
  expect(judgeLock(lock({ ...moved, rival_ratio: 0.1 }), HD, HD, 100).verdict).toBe('workable');
  expect(judgeLock(lock({ ...moved, rival_ratio: 0.5 }), HD, HD, 100)).toMatchObject({
    verdict: 'unjudged',
    reasons: [{ code: 'two-movements', value: 0.5 }],
  });
});

test('movement is judged at delivery size, and headroom counts', () => {
  const uhd = { width: 3840, height: 2160 };
  expect(deliveryScale(uhd, HD)).toBe(0.5);
  expect(headroomPct(uhd, HD)).toBe(50);
  expect(headroomPct(HD, HD)).toBe(5);
  expect(judgeLock(lock({ peak_px: 0.6 }), uhd, HD, 100).verdict).toBe('holds');
  expect(judgeLock(lock({ peak_px: 0.6, make_still_crop_pct: 12 }), uhd, uhd, 100).verdict).toBe('reshoot');
  expect(judgeLock(lock({ peak_px: 200, make_still_crop_pct: 12 }), uhd, HD, 100).verdict).toBe('workable');
});

test('a knock says when, how far, and where it came to rest', () => {
  const v = judgeLock(
    lock({ peak_px: 9.8, make_still_crop_pct: 1, knocks: [{ start: 145, end: 160, peak_px: 9.8, rest_px: 2.43 }] }),
    HD,
    HD,
    251,
  );
  expect(v.reasons[0]).toMatchObject({ code: 'knock', frames: [{ start: 145, end: 160 }] });
  expect(v.reasons[0].text).toContain('settled 2.43 px off');
  expect(v.deciding.map((n) => n.name)).toEqual(['peak', 'rest']);
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

const take = (
  number: number,
  verdict: 'holds' | 'workable' | 'reshoot' | 'unjudged' | null,
  circled = false,
): GateTake => ({
  id: `t${number}`,
  number,
  circled,
  state: verdict ? 'done' : 'working',
  lock: verdict && { verdict, text: `${verdict}.`, fix: verdict === 'holds' ? null : 'Do it.' },
});
const part = (name: string, takes: GateTake[], optional = false): GatePart => ({
  id: name,
  name,
  optional,
  takes,
  planned: false,
  elsewhere: false,
});

test('a part stands on its circled take, else on its best', () => {
  expect(standingTake([take(1, 'holds'), take(2, 'reshoot', true)])?.number).toBe(2);
  expect(standingTake([take(1, 'holds'), take(2, 'reshoot')])?.number).toBe(1);
  expect(standingTake([take(1, 'holds'), take(2, 'holds')])?.number).toBe(2);
  expect(standingTake([])).toBeNull();
});

test('the gate names what to do first', () => {
  expect(judgeGate([], [])).toMatchObject({ verdict: 'unjudged', mayStrike: false });
  expect(judgeGate([part('Plate', []), part('Pass A', [take(1, 'holds')])], [])).toMatchObject({
    mayStrike: false,
    headline: 'Not yet. Roll the plate.',
    rollNext: { partId: 'Plate', again: false },
  });
  expect(judgeGate([part('Plate', [take(1, 'holds')]), part('Pass A', [take(1, 'reshoot')])], [])).toMatchObject({
    verdict: 'reshoot',
    headline: 'Not yet. Roll pass A again.',
    rollNext: { again: true },
  });
  expect(judgeGate([part('Plate', [take(1, null)])], [])).toMatchObject({
    mayStrike: false,
    headline: 'Wait: a take is being measured.',
  });
  expect(judgeGate([part('Plate', [take(1, 'holds')]), part('Still', [], true)], [])).toMatchObject({
    verdict: 'holds',
    mayStrike: true,
  });
  expect(
    judgeGate([part('Plate', [take(1, 'holds')]), { ...part('In side', []), planned: true, elsewhere: true }], []),
  ).toMatchObject({ verdict: 'holds', mayStrike: true, rows: [{}, { text: 'belongs to the other place' }] });
  expect(judgeGate([part('Plate', [take(1, 'workable')])], [])).toMatchObject({ verdict: 'workable', mayStrike: true });
  expect(judgeGate([part('Plate', [take(1, 'unjudged')])], [])).toMatchObject({
    verdict: 'unjudged',
    mayStrike: false,
  });
});
