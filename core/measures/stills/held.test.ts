import type { Still } from '../../report/moment-types';
import { heldOf } from './held';

const still = (frame: number, hold: Still['hold'], speed_px: number | null) => ({ frame, hold, speed_px }) as Still;

test('in mid-movement is held before at rest, where that holds; else the best', () => {
  const rest = still(130, 'holds', 0),
    fall = still(70, 'holds', 23),
    smeared = still(60, 'workable', 40);
  expect(heldOf([rest, smeared, fall])).toBe(fall);
  expect(heldOf([rest, smeared])).toBe(rest);
  expect(heldOf([smeared, still(3, 'holds', null)])).toBe(smeared);
  expect(heldOf([])).toBeNull();
});
