import { serve } from './serve';

serve().catch((error: Error) => {
  process.stderr.write(`Umbrastat could not start: ${error.message}\n`);
  process.exit(1);
});
