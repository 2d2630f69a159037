import { DEMO_TAKES, wrongOf } from '../testing/demo-table';

test('the table is of every take of the demo, sound and faulty ones', () => {
  expect(DEMO_TAKES.length).toBeGreaterThan(70);
  expect(DEMO_TAKES.filter((t) => t.fault === null).length).toBeGreaterThan(30);
});

/** One for each kind of finding; `npm run demo-table` judges all of them. */
const CHOSEN = [
  'setup 1, Plate, take 1', // a knock
  'setup 1, Plate, take 2', // a shadow in a plate
  'setup 1, Pass A, take 3', // sound
  'setup 1, Pass B, take 2', // a step of light
  'setup 2, Pass, take 1', // never hidden
  'setup 3, Pass, take 2', // held by hand
  'setup 3, Plate, take 1', // a hunting focus
  'setup 4, Out side, take 1', // a corner that is missed
  'setup 5, Plate, take 2', // a wandering rate, and white
  'setup 9, Pass, take 1', // shows beside the cloth
  'setup 10, Visitor, take 1', // leans out of the opening
  'setup 11, Jump (Pulled in), take 1', // cut off
];

test.each(CHOSEN)('%s', async (title) => {
  const row = DEMO_TAKES.find((t) => t.title === title)!;
  expect(await wrongOf(row)).toBe(null);
});
