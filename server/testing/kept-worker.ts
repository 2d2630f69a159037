import { join } from 'node:path';
import { runWorker } from '../worker';

runWorker({ thread: join(__dirname, 'kept-measuring.ts'), rolling: join(__dirname, 'kept-rolling.ts') }).catch(
  (error: Error) => {
    process.stderr.write(`The worker under test stopped: ${error.message}\n`);
    process.exit(1);
  },
);
