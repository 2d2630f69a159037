import fc from 'fast-check';
import { CellMarks } from './cell-marks';

test('what is marked is read back, frame by frame, for any number of cells', () => {
  const takes = fc
    .integer({ min: 1, max: 40 })
    .chain((cells) =>
      fc.tuple(
        fc.constant(cells),
        fc.array(fc.array(fc.boolean(), { minLength: cells, maxLength: cells }), { maxLength: 12 }),
      ),
    );
  fc.assert(
    fc.property(takes, ([cells, frames]) => {
      const given = frames.map((marks) => Uint8Array.from(marks, Number));
      const kept = new CellMarks(frames.length, cells, (f) => given[f]);
      given.forEach((marks, f) => expect(kept.read(f)).toEqual(marks));
    }),
  );
});

test('an array that is used again does not mark what it marked before', () => {
  const one = new Uint8Array(9);
  const kept = new CellMarks(3, 9, (f) => one.fill(0).fill(1, f, f + 1));
  expect([...kept.read(2)]).toEqual([0, 0, 1, 0, 0, 0, 0, 0, 0]);
});
