import { join } from 'node:path';
import { serve } from '../main';

// The server as it is, with a worker that uses again what was rolled and measured before.
serve(join(__dirname, 'kept-worker.ts')).catch((error: Error) => {
  process.stderr.write(`The server under test could not start: ${error.message}\n`);
  process.exit(1);
});
