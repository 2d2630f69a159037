import { NO_NOTES } from '../../core/plan/types';
import { settingLines, shutterText } from './setting-lines';

test('what is noted is read out with its unit, what is not is left out', () => {
  expect(settingLines(NO_NOTES)).toEqual([]);
  const lines = settingLines({
    ...NO_NOTES,
    camera: 'B camera',
    focal_mm: 35,
    width: 1920,
    height: 1080,
    fps: 23.976,
    shutter_s: 1 / 48,
    iso: 800,
    white_k: 3600,
    tilt_deg: 0,
  });
  expect(lines.map((l) => `${l.name}: ${l.value}`)).toEqual([
    'Camera: B camera',
    'Lens: 35 mm',
    'Size: 1920 × 1080 px',
    'Rate: 23.976 fps',
    'Shutter: 1/48 s',
    'ISO: 800',
    'White: 3600 K',
    'Tilt: 0°',
  ]);
  expect(new Set(lines.map((l) => l.key)).size).toBe(lines.length);
});

test('a lens by its name, else by its focal length; a width alone is no size', () => {
  expect(settingLines({ ...NO_NOTES, lens: 'Old 50', focal_mm: 50 })).toEqual([
    { key: 'lens', name: 'Lens', value: 'Old 50' },
  ]);
  expect(settingLines({ ...NO_NOTES, width: 1920 })).toEqual([]);
});

test('shutters as they are said', () => {
  expect([1 / 50, 1 / 8000, 0.5, 2, 1 / 3].map(shutterText)).toEqual(['1/50 s', '1/8000 s', '0.5 s', '2 s', '1/3 s']);
});
