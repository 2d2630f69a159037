import fc from 'fast-check';
import { asLine, readShape } from './shapes-in';
import { shapesSvg } from './shapes-svg';

const SIZE = { width: 1280, height: 720 };
const svg = (inside: string, more = 'viewBox="0 0 1280 720"') =>
  `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ${more}>${inside}</svg>`;

test('what a pack wrote is read back to a hundredth of a pixel', () => {
  const point = fc.tuple(fc.double({ min: 0, max: 1280, noNaN: true }), fc.double({ min: 0, max: 720, noNaN: true }));
  fc.assert(
    fc.property(fc.array(point, { minLength: 2, maxLength: 12 }), fc.boolean(), (points, closed) => {
      const read = readShape(shapesSvg('A & B', SIZE, [{ id: 'seam', points, closed, says: '<' }]), SIZE);
      expect(read).toHaveLength(points.length);
      read.forEach(([x, y], i) => {
        expect(Math.hypot(x - points[i][0], y - points[i][1])).toBeLessThan(0.01);
      });
    }),
  );
});

test('other programs write groups, units of their own, transforms, curves and other shapes', () => {
  const moved = svg('<g transform="translate(100,50)"><g><polyline points="0,0 10,20"/></g></g>');
  expect(readShape(moved, SIZE)).toEqual([
    [100, 50],
    [110, 70],
  ]);
  expect(readShape(svg('<rect x="10" y="20" width="30" height="40"/>'), SIZE).slice(0, 4)).toEqual([
    [10, 20],
    [40, 20],
    [40, 60],
    [10, 60],
  ]);
  // Half the size of the take.
  expect(readShape(svg('<line x1="1" y1="2" x2="3" y2="4"/>', 'viewBox="0 0 640 360"'), SIZE)).toEqual([
    [2, 4],
    [6, 8],
  ]);
  const bent = readShape(svg('<path d="m 0 0 q 100 0 100 100 l 5 5"/>'), SIZE);
  expect([bent[4], bent.at(-1)]).toEqual([
    [75, 25],
    [105, 105],
  ]);
});

test('what holds no shape says so', () => {
  for (const [text, why] of [
    ['not xml', 'no SVG'],
    ['<html><body/></html>', 'no SVG'],
    [svg('<text>hi</text>'), 'no line or outline'],
    [svg('<path d="M5 5"/>'), 'no length'],
    [svg(`<path d="M0 0${'L1 1'.repeat(600)}"/>`), 'Make it simpler'],
  ])
    expect(() => readShape(text, SIZE)).toThrow(why);
});

test('a line runs from edge to edge, and keeps the first on its side', () => {
  expect(
    asLine(
      [
        [600, 715],
        [640, 300],
        [650, 4],
      ],
      SIZE,
      'right',
    ),
  ).toEqual({
    points: [
      [650, 0],
      [640, 300],
      [600, 720],
    ],
    first_side: 'right',
  });
  expect(
    asLine(
      [
        [3, 300],
        [1270, 310],
      ],
      SIZE,
      'left',
    ).first_side,
  ).toBe('top');
  expect(() =>
    asLine(
      [
        [600, 0],
        [640, 400],
        [600, 300],
        [610, 720],
      ],
      SIZE,
      'left',
    ),
  ).toThrow('turns back');
  expect(() =>
    asLine(
      [
        [600, 200],
        [640, 500],
      ],
      SIZE,
      'left',
    ),
  ).toThrow('does not reach');
});
