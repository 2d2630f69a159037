import { startedFrom } from '../../media/built';
import { runWorker } from '../run-worker';

runWorker({
  thread: startedFrom('server/testing/kept-measuring'),
  rolling: startedFrom('server/testing/kept-rolling'),
}).catch((error: Error) => {
  process.stderr.write(`The worker under test stopped: ${error.message}\n`);
  process.exit(1);
});
