import { runWorker } from './run-worker';

runWorker().catch((error: Error) => {
  process.stderr.write(`The worker stopped: ${error.message}\n`);
  process.exit(1);
});
