import fc from 'fast-check';
import { presenceSummary, focusSummary, lightSummary, lockSummary, mediaSummary } from '../testing/take-facts';
import type { TakeMeasures } from './types';
import { masked, padded, placeInFile } from './within';

const SHOT = 30;
const row = () => Array.from({ length: SHOT }, (_, k): number | null => (k % 7 === 3 ? null : k));

/** What was measured of a shot of 30 frames. */
const shot = () =>
  ({
    media: { ...mediaSummary(), repeated_frames: [], missing_frames: [] },
    lock: {
      ...lockSummary({
        peak_frame: 12,
        usable_run: { start: 2, end: 29 },
        knocks: [{ start: 11, end: 13, peak_px: 5, rest_px: 1 }],
        steadiest: [{ seconds: 0.5, run: { start: 15, end: 27 }, peak_px: 0.1 }],
      }),
      patches: [],
      path: { dx_px: row(), dy_px: row(), rotation_deg: row(), scale: row(), displacement_px: row() },
    },
    light: {
      ...lightSummary({ brightest_frame: 4, darkest_frame: null, steps: [{ frame: 9, stops: 0.3 }] }),
      path: { stops: row(), red_stops: row(), blue_stops: row() },
    },
    focus: { ...focusSummary({ worst_frame: 20, hunts: [{ start: 18, end: 22 }] }), path: { sharpness: row() } },
    presence: {
      ...presenceSummary({
        clear_runs: [{ start: 0, end: 5 }],
        present_runs: [{ start: 6, end: 29 }],
        edge_runs: { left: [{ start: 6, end: 8 }], right: [], top: [], bottom: [] },
      }),
      path: {
        area_share: row(),
        shadow_share: row(),
        left_px: row(),
        top_px: row(),
        right_px: row(),
        bottom_px: row(),
      },
    },
    grain_levels: 2,
  }) as TakeMeasures;

test('a shot’s frames are numbered as in the whole file, and beside it nothing is known', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 80 }), fc.integer({ min: 0, max: 80 }), (start, after) => {
      const total = start + SHOT + after;
      const placed = placeInFile(shot(), start, total);
      const { lock, light, focus, presence } = placed;
      for (const path of [lock.path.dx_px, light.path.stops, focus.path.sharpness, presence.path.area_share]) {
        expect(path).toHaveLength(total);
        expect(path.slice(start, start + SHOT)).toEqual(row());
        expect([...path.slice(0, start), ...path.slice(start + SHOT)].every((v) => v === null)).toBe(true);
      }
      expect(lock).toMatchObject({
        reference_frame: start,
        peak_frame: start + 12,
        usable_run: { start: start + 2, end: start + 29 },
        knocks: [{ start: start + 11, end: start + 13, peak_px: 5 }],
        steadiest: [{ run: { start: start + 15, end: start + 27 } }],
      });
      expect(light).toMatchObject({ brightest_frame: start + 4, darkest_frame: null, steps: [{ frame: start + 9 }] });
      expect(focus).toMatchObject({ worst_frame: start + 20, hunts: [{ start: start + 18, end: start + 22 }] });
      expect(presence.edge_runs.left).toEqual([{ start: start + 6, end: start + 8 }]);
      expect(presence.present_runs).toEqual([{ start: start + 6, end: start + 29 }]);
      expect(placed.media).toEqual(shot().media);
    }),
    { numRuns: 40 },
  );
});

test('values outside a run are left out, and a list is padded to the file', () => {
  expect(masked([1, 2, null, 4, 5], { start: 1, end: 3 })).toEqual([null, 2, null, 4, null]);
  expect(masked([1, 2], null)).toEqual([1, 2]);
  expect(padded(['a', 'b'], 2, 5)).toEqual([null, null, 'a', 'b', null]);
});
