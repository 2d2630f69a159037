import { DEMO_TAKES, testVerdicts } from '../testing/demo-table';

test('the table is of every take of the demo, sound and faulty ones', () => {
  expect(DEMO_TAKES.length).toBeGreaterThan(25);
  expect(DEMO_TAKES.filter((t) => t.fault === null).length).toBeGreaterThan(8);
});

testVerdicts(DEMO_TAKES.filter((t) => !t.take.wipe && !t.take.act));
