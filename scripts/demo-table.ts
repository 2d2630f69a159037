/**
 * Rolls, measures and judges every take of the demo shoot, and prints where the verdict is not what it should be:
 * `npm run demo-table`. Before a release; it takes some minutes.
 */
import { DEMO_TAKES, wrongOf } from '../server/testing/demo-table';

async function run(): Promise<void> {
  let wrong = 0;
  for (const [n, row] of DEMO_TAKES.entries()) {
    const said = await wrongOf(row);
    if (said !== null) wrong++;
    console.log(
      `${n + 1} of ${DEMO_TAKES.length}  ${row.title}: ${said ?? (row.fault ? `says ${row.fault}` : 'holds')}`,
    );
  }
  console.log(`${DEMO_TAKES.length - wrong} passed, ${wrong} failed`);
  process.exit(wrong ? 1 : 0);
}

void run();
