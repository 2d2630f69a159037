/** Brings the tables of a database up to date, and those of its queue: what tests copy theirs from. */
import { migrate } from '../server/platform/database';
import { WorkQueue } from '../server/work/queue';

async function run(database: string): Promise<void> {
  await migrate(database);
  await (await WorkQueue.open(database, 'server')).close();
}

void run(process.argv[2]).then(() => process.exit(0));
