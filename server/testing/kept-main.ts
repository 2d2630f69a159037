import { startedFrom } from '../../media/built';
import { serve } from '../serve';

// The server as it is, with a worker that uses again what was rolled and measured before.
serve(startedFrom('server/testing/kept-worker')).catch((error: Error) => {
  process.stderr.write(`The server under test could not start: ${error.message}\n`);
  process.exit(1);
});
