import { recordTake } from './record';
import type { CameraSettings } from './settings';

/** Records one take in a process of its own: settings as JSON, the file to write, and a preview to keep if wished; prints the truth as JSON. */
const [settings, path, preview] = process.argv.slice(2);
recordTake(JSON.parse(settings) as CameraSettings, path, preview ? { preview } : {})
  .then((truth) => process.stdout.write(JSON.stringify(truth)))
  .catch((error: Error) => {
    process.stderr.write(error.message);
    process.exitCode = 1;
  });
