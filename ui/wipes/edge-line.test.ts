import fc from 'fast-check';
import { moved, type EdgeLineAt, type Grip } from './edge-line';

const share = fc.double({ min: -1, max: 2, noNaN: true });
const line = fc.record({ from: share, to: share });
const at = (l: EdgeLineAt, s: number) => l.from + s * (l.to - l.from);
/** Where each grip holds the line, and what it turns about; null for the whole line. */
const HELD: [Grip, number, number | null][] = [
  ['from', 0.15, 0.85],
  ['to', 0.85, 0.15],
  ['both', 0.5, null],
];

test.each(HELD)('held at %s the line follows the finger, and turns about the other grip', (grip, held, about) => {
  fc.assert(
    fc.property(line, share, (l, by) => {
      const m = moved(l, grip, by);
      expect(at(m, held)).toBeCloseTo(at(l, held) + by, 9);
      if (about === null) expect(m.to - m.from).toBeCloseTo(l.to - l.from, 9);
      else expect(at(m, about)).toBeCloseTo(at(l, about), 9);
    }),
  );
});

test('there and back again is no movement', () => {
  fc.assert(
    fc.property(line, share, fc.constantFrom<Grip>('from', 'both', 'to'), (l, by, grip) => {
      const back = moved(moved(l, grip, by), grip, -by);
      expect(back.from).toBeCloseTo(l.from, 9);
      expect(back.to).toBeCloseTo(l.to, 9);
    }),
  );
});
