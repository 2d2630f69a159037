import fc from 'fast-check';
import { DateTime } from 'luxon';
import { panPast, walkIn } from './approach';
import { angleOfView, cover, fieldAt, type CoverInput } from './cover';
import { doubleRoom } from './double-room';
import { lampFlicker, steadyShutters } from './flicker';
import { headroom } from './headroom';
import { SUM_KINDS, tidy } from './kinds';
import { clearSkyLux, sunDrift, sunTimes } from './light';
import { maskWork } from './mask-work';
import { rateNeeded, retime } from './retime';
import { SENSORS, usedArea } from './sensors';
import { SUM_SHEETS, usualValues, workOut } from './sheets';
import { blurDisc, motionBlur } from './softness';
import { fromTimecode, TIMECODE_RATES, toTimecode } from './timecode';
import { vehicleSpeed } from './vehicle';

const rate = fc.double({ min: 10, max: 240, noNaN: true });

describe('retime', () => {
  test('25 fps cannot carry 40 %: three of five frames are repeats', () => {
    const r = retime(25, 25, 0.4, 1 / 50);
    expect(r.used.slice(0, 6)).toEqual([0, 0, 0, 1, 1, 2]);
    expect(r.repeats).toHaveLength(15);
    expect(r.cleanest_pct).toBe(100);
    expect(rateNeeded(25, 0.4)).toBeCloseTo(62.5);
  });
  test('50 fps at 50 % uses each frame once; 100 fps at 40 % is uneven but repeats nothing', () => {
    expect(retime(50, 25, 0.5, 1 / 100)).toMatchObject({ step: 1, repeats: [], blends: [], even: true });
    expect(retime(100, 25, 0.4, 1 / 200)).toMatchObject({ repeats: [], even: false });
  });
  test('speeding up strobes with a short shutter only', () => {
    expect(retime(25, 25, 4, 1 / 50).strobes).toBe(true);
    expect(retime(25, 25, 1, 1 / 50).strobes).toBe(false);
  });
  test('no repeat at or above the clean speed, at least one below it', () => {
    fc.assert(
      fc.property(rate, rate, fc.double({ min: 0.05, max: 1, noNaN: true }), (capture, delivery, share) => {
        expect(retime(capture, delivery, (delivery / capture) * (1 + share), 0.01).repeats).toHaveLength(0);
        const slow = retime(capture, delivery, (delivery / capture) * 0.5 * share, 0.01);
        expect(slow.repeats.length).toBeGreaterThan(0);
        expect([...slow.used].sort((a, b) => a - b)).toEqual(slow.used);
      }),
    );
  });
  test('nothing is worked out from nothing', () => {
    expect(() => retime(0, 25, 1, 0.01)).toThrow('capture rate');
  });
});

describe('timecode', () => {
  const drop = { nominal: 30, drop: true };
  test('known places of drop-frame counting', () => {
    expect(toTimecode(1799, drop)).toBe('00:00:59;29');
    expect(toTimecode(1800, drop)).toBe('00:01:00;02');
    expect(toTimecode(17982, drop)).toBe('00:10:00;00');
    expect(toTimecode(107892, drop)).toBe('01:00:00;00');
    expect(() => fromTimecode('00:01:00;00', drop)).toThrow('left out');
    expect(() => fromTimecode('00:00:60:00', { nominal: 25, drop: false })).toThrow('does not exist');
    expect(() => toTimecode(1, { nominal: 25, drop: true })).toThrow('30 or 60');
  });
  test.each(Object.entries(TIMECODE_RATES))('%s goes there and back', (_name, r) => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: r.nominal * 86000 }), (frame) => {
        expect(fromTimecode(toTimecode(frame, r), r)).toBe(frame);
      }),
    );
  });
  test('drop-frame stays within a sixth of a second of the clock for a day', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 23 * 107892 }), (frame) => {
        const [h, m, s, f] = toTimecode(frame, drop).split(/[:;]/).map(Number);
        expect(Math.abs(h * 3600 + m * 60 + s + f / 30 - (frame * 1001) / 30000)).toBeLessThan(0.17);
      }),
    );
  });
});

const crossing: CoverInput = {
  width: 1.2,
  height: 1.9,
  base: 0,
  distance: 0.9,
  focalMm: 35,
  sensorWidth: 36,
  sensorHeight: 20.25,
  cameraHeight: 1.3,
  speed: 1.4,
  fps: 25,
};

describe('cover', () => {
  test('a lens sees its sensor’s width at its focal length’s distance', () => {
    expect(fieldAt(1, 50, 50)).toBe(1);
    expect(angleOfView(18, 36)).toBeCloseTo(90);
  });
  test('full cover exactly up to the distance it says, and never from beyond', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        fc.double({ min: 0.5, max: 3, noNaN: true }),
        fc.double({ min: 15, max: 120, noNaN: true }),
        (width, height, focalMm) => {
          const { coversFrom } = cover({ ...crossing, width, height, focalMm });
          fc.pre(coversFrom > 0);
          const near = cover({ ...crossing, width, height, focalMm, distance: coversFrom * 0.999 });
          const far = cover({ ...crossing, width, height, focalMm, distance: coversFrom * 1.01 });
          expect(Math.min(near.across, near.down)).toBeCloseTo(1, 5);
          expect(Math.min(far.across, far.down)).toBeLessThan(1);
          expect(far.fullFrames).toBe(0);
        },
      ),
    );
  });
  test('faster is fewer frames, of cover and to mask', () => {
    const slow = cover({ ...crossing, speed: 0.5 }),
      fast = cover({ ...crossing, speed: 2 });
    expect(fast.fullFrames).toBeLessThanOrEqual(slow.fullFrames);
    expect(fast.edgeFrames).toBeLessThan(slow.edgeFrames);
    expect(cover({ ...crossing, base: 2 }).coversFrom).toBe(0);
  });
  test('panning past, and walking up to', () => {
    const pan = panPast(0.6, 0.3, 50, 36, 40, 25);
    expect(pan.objectDeg).toBeCloseTo(90);
    expect(pan.fullFrames).toBe(Math.floor(((90 - angleOfView(50, 36)) / 40) * 25));
    expect(pan.fillFrame).toBe(Math.ceil((angleOfView(50, 36) / 40) * 25));
    expect(panPast(0.2, 3, 50, 36, 40, 25).fillFrame).toBeNull();
    const walk = walkIn(0.9, 2, 4, 1, 25, 36, 36, 20.25);
    expect(walk.fillsAt).toBeCloseTo(0.9);
    expect(walk.fillFrame).toBe(Math.ceil(3.1 * 25));
    expect(walkIn(0.9, 2, 0.5, 1, 25, 36, 36, 20.25).fillFrame).toBeNull();
  });
});

test('softness: sharp in focus, 1 mm at a known place, growing with speed and shutter', () => {
  expect(blurDisc(50, 2.8, 3, 3)).toBe(0);
  // 50 mm at f/2 focused at 5 m, object at 1 m: 2500 * 4000 / (2 * 1000 * 4950) mm.
  expect(blurDisc(50, 2, 5, 1)).toBeCloseTo(1.0101, 4);
  expect(motionBlur(1, 1 / 50, 50, 1)).toBeCloseTo(1);
  expect(() => blurDisc(100, 2, 0.05, 1)).toThrow('longer than the focal length');
  fc.assert(
    fc.property(
      fc.double({ min: 0.5, max: 20, noNaN: true }),
      fc.double({ min: 0.5, max: 20, noNaN: true }),
      fc.double({ min: 1.4, max: 16, noNaN: true }),
      (focus, object, n) => {
        expect(blurDisc(35, n, focus, object)).toBeGreaterThanOrEqual(blurDisc(35, n * 1.4, focus, object));
      },
    ),
  );
});

test('headroom: what is left and the largest clean push agree', () => {
  expect(headroom(3840, 2160, 1920, 1080, 200, 0).left_px).toBeCloseTo(0);
  expect(headroom(3840, 2160, 1920, 1080, 100, 0).left_pct).toBeCloseTo(100);
  // A squarer picture is cut to the delivery's shape first.
  expect(headroom(3000, 3000, 1920, 1080, 100, 0).fittedWidth).toBe(3000);
  expect(headroom(4000, 1080, 1920, 1080, 100, 0).fittedWidth).toBe(1920);
  fc.assert(
    fc.property(fc.integer({ min: 640, max: 8000 }), fc.double({ min: 0, max: 20, noNaN: true }), (width, edge) => {
      const most = headroom(width, (width * 9) / 16, 1280, 720, 100, edge).mostPush_pct;
      expect(headroom(width, (width * 9) / 16, 1280, 720, most, edge).left_px).toBeCloseTo(0, 6);
    }),
  );
});

test('room for a double grows with the feather and with the picture', () => {
  const r = doubleRoom(4, 36, 36, 0.9, 192, 1920);
  expect(r.field).toBeCloseTo(4);
  expect(r.marks).toBeCloseTo(1.3);
  expect(r.spare).toBeCloseTo(4 - 1.3 - 0.9);
});

test('mask work: keys at both ends, range round the middle', () => {
  expect(maskWork(40, 4, 4, 6, 2)).toMatchObject({ keys: 11 });
  const r = maskWork(40, 4, 4, 6, 2);
  expect(r.high_h / r.low_h).toBeCloseTo(4);
  expect(Math.sqrt(r.low_h * r.high_h)).toBeCloseTo((44 + 4) / 60);
  expect(maskWork(0, 4, 4, 6, 2).high_h).toBe(0);
});

test('a vehicle: four times as fast cannot keep its blur at 25 fps, but at 6.25', () => {
  const r = vehicleSpeed(10, 40, 25, 25, 180);
  expect(r.retime_pct).toBeCloseTo(400);
  expect(r.shutter).toBeGreaterThan(r.longest);
  expect(r.look_deg).toBeCloseTo(90);
  expect(r.evenRate).toBeCloseTo(6.25);
  expect(vehicleSpeed(10, 40, 6.25, 25, 180).look_deg).toBeCloseTo(180);
});

test('flicker: whole pulses are steady, others beat', () => {
  expect(steadyShutters(50, 25).map((s) => Math.round(1 / s))).toEqual([25, 33, 50, 100]);
  expect(lampFlicker(50, 25, 1 / 50).left).toBeLessThan(1e-9);
  expect(lampFlicker(60, 25, 1 / 50)).toMatchObject({ pulse_hz: 120, seen_hz: 5 });
  expect(lampFlicker(60, 25, 1 / 50).left).toBeGreaterThan(0.1);
  for (const fps of [24, 25, 29.97, 50, 60])
    for (const mains of [50, 60])
      for (const s of steadyShutters(mains, fps)) {
        expect(lampFlicker(mains, fps, s).left).toBeLessThan(1e-9);
        expect(s).toBeLessThanOrEqual(1 / fps + 1e-9);
      }
});

describe('light', () => {
  test('known brightness of the sky, without steps between the pieces', () => {
    expect(clearSkyLux(60)).toBeGreaterThan(80000);
    expect(clearSkyLux(60)).toBeLessThan(120000);
    expect(clearSkyLux(-6)).toBeGreaterThan(2);
    expect(clearSkyLux(-6)).toBeLessThan(5);
    for (let h = -17.5; h < 89; h += 0.1)
      expect(Math.abs(Math.log2(clearSkyLux(h + 0.1) / clearSkyLux(h)))).toBeLessThan(0.2);
  });
  test('the sun of an equinox noon stands at 90 degrees less the latitude, in the south', () => {
    const noon = DateTime.fromISO('2027-03-20T12:08', { zone: 'utc' });
    const { start } = sunDrift(noon, 10, 51.5, 0);
    expect(Math.abs(start.height_deg - 38.5)).toBeLessThan(0.6);
    expect(Math.abs(start.direction_deg - 180)).toBeLessThan(2);
  });
  test('evening gets darker, faster the later; the range holds the middle', () => {
    const evening = sunDrift(DateTime.fromISO('2027-06-12T22:30', { zone: 'Europe/Oslo' }), 20, 59.4, 10.5);
    expect(evening.stops).toBeLessThan(-0.3);
    expect(evening.low).toBeLessThanOrEqual(evening.stops);
    expect(evening.high).toBeGreaterThanOrEqual(evening.stops);
    const noon = sunDrift(DateTime.fromISO('2027-06-12T12:30', { zone: 'Europe/Oslo' }), 20, 59.4, 10.5);
    expect(Math.abs(noon.stops)).toBeLessThan(0.1);
  });
  test('sun times come in order, and are missing where the sun does not set', () => {
    const t = sunTimes('2027-10-05', 'Europe/Oslo', 59.4, 10.5);
    const all = [t.dawn, t.sunrise, t.goldenEnd, t.goldenStart, t.sunset, t.dusk];
    expect(all.every((x) => x !== null)).toBe(true);
    expect([...all].sort()).toEqual(all);
    expect(sunTimes('2027-06-20', 'Europe/Oslo', 70, 20).sunset).toBeNull();
    expect(() => sunTimes('soon', 'Europe/Oslo', 59, 10)).toThrow('not a day');
  });
});

test('sensors: the picture’s shape decides which part is used', () => {
  for (const s of SENSORS) {
    const used = usedArea(s.width_mm, s.height_mm, 16 / 9);
    expect(used.width / used.height).toBeCloseTo(16 / 9);
    expect(used.width).toBeLessThanOrEqual(s.width_mm + 1e-9);
    expect(used.height).toBeLessThanOrEqual(s.height_mm + 1e-9);
  }
});

describe('sheets', () => {
  test.each(SUM_KINDS)('%s answers its usual values, and refuses nonsense with a sentence', (kind) => {
    const { result, error } = workOut(kind, usualValues(kind));
    expect(error).toBeNull();
    expect(result!.answers.some((a) => a.main)).toBe(true);
    expect(result!.working).not.toMatch(/NaN|undefined|Infinity/);
    for (const a of result!.answers) expect(a.value).not.toMatch(/NaN|undefined/);
    for (const p of result!.curve?.points ?? []) expect(Number.isFinite(p.x) && Number.isFinite(p.y)).toBe(true);
    for (const input of SUM_SHEETS[kind].inputs) {
      if (input.kind !== 'number') continue;
      const values = { ...usualValues(kind), [input.key]: 'abc', from: 'frames' };
      if (kind !== 'timecode') expect(workOut(kind, values).error).toContain(input.label);
    }
  });
  test('numbers are written without needless digits', () => {
    expect([tidy(0.12345), tidy(12), tidy(12.5), tidy(1234.5), tidy(0), tidy(Infinity), tidy(100)]).toEqual([
      '0.123',
      '12',
      '12.5',
      '1235',
      '0',
      '∞',
      '100',
    ]);
  });
});
