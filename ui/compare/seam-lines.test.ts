import { pairFound } from '../../core/testing/pair-found';
import { insideOf } from '../../core/base/geometry/outline';
import { drawSeam, partBeside } from './seam-lines';

test.each([
  ['left', 0.4],
  ['right', 0.6],
  ['top', 0.25],
  ['bottom', 0.75],
] as const)('the part %s of a line is what lies there, all of it', (side, share) => {
  const line: [number, number][] =
    side === 'left' || side === 'right'
      ? [
          [30, 0],
          [50, 50],
        ]
      : [
          [0, 10],
          [100, 15],
        ];
  const part = insideOf(partBeside(line, side, 100, 50), 100, 50);
  expect(part.reduce((n, v) => n + v, 0) / part.length).toBeCloseTo(share, 1);
  const at = { left: [5, 25], right: [95, 25], top: [50, 2], bottom: [50, 48] }[side];
  expect(part[at[1] * 100 + at[0]]).toBe(1);
});

test('the second picture stands where the other pass does, whichever of the two comes first', () => {
  const { seam } = pairFound();
  expect(drawSeam(seam, true, 1280, 720)!.second).toContainEqual([1280, 720]);
  expect(drawSeam(seam, false, 1280, 720)!.second).toContainEqual([0, 720]);
  expect(drawSeam(null, true, 1280, 720)).toBeNull();
});
