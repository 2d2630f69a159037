import { parseArgs } from 'node:util';
import { UnusableMedia } from '../media/errors';
import { measureTake } from '../media/measure-take';
import { parseDelivery, UsageError } from './arguments';
import { takeText } from './text-report';

const HELP = `umbrastat: checks takes for masking effects

  umbrastat take FILE [--delivery 1920x1080@24] [--json] [--gate]
      Was the camera locked? Facts of the file, movement, verdict.

  --delivery  what the edit is finished at (default: the clip's own size and rate)
  --json      one JSON object on standard output
  --gate      exit code 1 when something must be shot again

Exit code: 0 report made; 1 with --gate and a reshoot; 2 the input cannot be used.`;

/** Runs the command line; gives the exit code. */
export async function main(argv: string[]): Promise<number> {
  try {
    return await run(argv);
  } catch (error) {
    if (error instanceof UnusableMedia || error instanceof UsageError) {
      process.stderr.write(`umbrastat: ${error.message}\n`);
    } else if ((error as NodeJS.ErrnoException).code === 'ENOENT' && /prlimit|ff(mpeg|probe)/.test(String(error))) {
      process.stderr.write('umbrastat: ffmpeg is not installed. Run ./start once, or install the package ffmpeg.\n');
    } else {
      process.stderr.write(`umbrastat: something went wrong inside: ${(error as Error).message}. The file was not changed.\n`);
    }
    return 2;
  }
}

async function run(argv: string[]): Promise<number> {
  let parsed;
  try {
    parsed = parseArgs({
      args: argv, allowPositionals: true,
      options: {
        delivery: { type: 'string' }, json: { type: 'boolean' }, gate: { type: 'boolean' }, help: { type: 'boolean', short: 'h' },
      },
    });
  } catch (error) {
    throw new UsageError(`${(error as Error).message.split('. ')[0]}. See umbrastat --help.`);
  }
  const { values, positionals } = parsed;
  const [command, ...files] = positionals;
  if (values.help || (!command && argv.length === 0)) {
    process.stdout.write(`${HELP}\n`);
    return command || values.help ? 0 : 2;
  }
  if (command !== 'take') throw new UsageError(`"${command ?? ''}" is not a check. Use: umbrastat take FILE.`);
  if (files.length !== 1) throw new UsageError(`take wants one file, ${files.length} were given. Use: umbrastat take FILE.`);
  const delivery = values.delivery === undefined ? undefined : parseDelivery(values.delivery);
  const tell = process.stderr.isTTY;
  const report = await measureTake(files[0], {
    delivery,
    onProgress: (done, total) => { if (tell) process.stderr.write(`\rframe ${done} of ${total} `); },
  });
  if (tell) process.stderr.write('\r\x1b[K');
  process.stdout.write(values.json ? `${JSON.stringify(report)}\n` : `${takeText(report)}\n`);
  return values.gate && report.lock.verdict === 'reshoot' ? 1 : 0;
}
