import { againstOf } from '../media/ffmpeg/file-source';
import { measureTake, openTake } from '../media/feeds/measure-take';
import { measureCover, measureCut } from '../media/feeds/measure-files';
import type { MeasuredTake } from '../core/take/measured-take';
import type { Delivery } from '../core/take/cover';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { comparePlate } from '../core/take/compare';
import { UnusableMedia } from '../media/errors';
import { makePlate, plateReport } from '../core/take/plate';
import { writePng, writeStillClip } from '../media/write/still-out';
import {
  parseDelivery,
  parseFrame,
  parsePurpose,
  parseShot,
  parseShutter,
  shutterSeconds,
  UsageError,
} from './arguments';
import { plateText, takeText } from './text-report';
import type { KnownMeasures } from '../media/feeds/plain-measures';
import { coverText, cutText } from './wipe-text';

const HELP = `umbrastat: checks takes for masking effects

  umbrastat take FILE [--for locked|plate|out|in|moving|still] [--shot N] [--delivery 1920x1080@24] [--json] [--gate]
      Was the camera locked, the light steady, the focus held, and when was the picture empty? Judged for what it is for.

  umbrastat plate TAKE... [--out plate.png] [--keep-grain] [--json]
      The best empty picture of one or several takes, stitched from their free parts when no frame is empty.
  umbrastat plate TAKE --against PLATE [--json] [--gate]
      Does this plate (a picture or a recording) fit the take?

  umbrastat cover FILE [--delivery 1920x1080@24] [--json] [--gate]
      Does the object cover the whole picture, when, and does it leave?

  umbrastat cut OUT IN [--at FRAME] [--in-at FRAME] [--out-shutter 1/50] [--in-shutter 180deg] [--delivery 1920x1080@24] [--json] [--gate]
      Do the two sides of a cut move the same way, at a matching speed, rate and shutter?

  umbrastat proof OUT IN --out proof.mp4 [--at FRAME] [--in-at FRAME] [--mirror] [--speed 100] [--json]
      The in side appearing behind the object's edge, small, with frame numbers; --at is the out side's frame to cut at.

  umbrastat pair A B [--plate FILE] [--slide N] [--delivery 1920x1080@24] [--json] [--gate]
      Do two passes of one setup ever meet, and which line parts them?

  umbrastat hide TAKE --plate FILE [--at FRAME] [--delivery 1920x1080@24] [--json] [--gate]
      When does nothing show of somebody who goes behind something, and along which line does the plate take over?

  umbrastat zone TAKE --box x,y,width,height [--plate FILE] [--json] [--gate]
      Was a zone of the picture kept free, of shadows and stray light too, and can its edge be read?

  umbrastat matte TAKE [--plate FILE] [--cover] [--out matte.mkv] [--feather N] [--no-shadow] [--json]
      The rough matte of whoever is in, or of what covers the picture: .mkv (lossless), .mp4, or numbered .png.

  umbrastat stills TAKE [--plate FILE] [--count N] [--out DIR] [--delivery 1920x1080@24] [--json] [--gate]
      Which frames are worth holding: whole, sharp, and by how much they are smeared; saved as pictures and cut-outs.

  umbrastat spot A B [--at-a FRAME] [--at-b FRAME] [--plate FILE] [--delivery 1920x1080@24] [--json] [--gate]
      Does what is in the second take start where what is in the first ended: place, size, angle?

  umbrastat beats TAKE [--box x,y,width,height] [--json] [--gate]
      Frames on which something starts, stops, turns, strikes, lights up or is heard.

  umbrastat meet A B [--plate FILE] [--at x,y] [--rate-pct N] [--json] [--gate]
      A performer who reacts (A) and a vehicle that passes (B): which frames meet, how far B slides, does it strobe?

  umbrastat cloth TAKE --plate FILE [--look x,y@FRAME] [--json] [--gate]
      Does a cloth hide its performer whole, from when to when, and what shows beside it afterwards?

  umbrastat bars TAKE [--plate FILE] [--ratio 2.39] [--delivery 1920x1080@24] [--json] [--gate]
      Where and how far does a figure step over the bars of a wide picture?

  umbrastat figure TAKE [--plate FILE] [--box x,y,width,height] [--speed 40] [--json] [--gate]
      How far does a held thing drift and turn; when is somebody who jumps off the ground, and does the outline stand out?

  umbrastat take|plate|cover|cut|pair|hide|zone|spot|stills|beats|meet|cloth|figure|compare … --pack DIR [--recordings]
                [--mattes]
      The same, and everything that whoever draws the masks needs of these files, in a folder that is empty or new.
  umbrastat pack [--server URL] [--shoot NAME] [--setup N] [--trick NAME] [--recordings] [--mattes] [--standing | --all]
                [--out FILE.zip]
      Has a running server put together everything that whoever draws the masks needs, and saves it.
  umbrastat take-in PACK.zip|shoot.json [--server URL] [--apply] [--differing keep|take]
      What a pack would add to a running server, and change there; with --apply it is taken in.
  umbrastat check FOLDER [--out report.html] [--delivery 1920x1080@24] [--json] [--gate]
      Judges every recording in a folder, tells which plates and passes belong together, writes a page and a CSV.

  umbrastat verify DIR [--json]
      Is every file of an unzipped pack as it was? Says which is missing, changed or new.
  umbrastat validate report.json [--json]
      Is a pack's report as its schema has it?

  umbrastat compare TAKE AGAINST [--json] [--gate]
      What lies between two takes of one setup: place, light, and what stands in one of them only?

  --edges FILE  (cover, proof) edges set by hand, as JSON: {"kind","way","keys":[{"frame","edge","from","to"}]}
  --for         what the take is for (default: locked)
  --shot        which shot of a file that holds several (default: the longest)
  --delivery    what the edit is finished at (default: the clip's own size and rate)
  --json        one JSON object on standard output
  --gate        exit code 1 when something must be shot again
  --out         where to save the plate: .png (16 bit when the take has more than 8), or .mp4 for a still clip
  --seconds     length of a still clip (default 5)
  --at          the last frame of the out side that is seen (default: its last); for hide: the first of the plate alone
  --in-at       the first frame of the in side that is seen (default: its first)
  --out-shutter, --in-shutter  what the sides were shot with, as noted: a time (1/50) or an angle (180deg)
  --plate       the empty picture of a setup, a still or a recording
  --box         the zone, in pixels of the picture as shown
  --feather     how soft a matte's edges are, 10 to 90 %, pixels
  --slide       lays B so many frames later (negative: earlier) before anything is measured
  --keep-grain  the plate keeps a frame's own grain instead of the smooth mean of many
  With --delivery a saved plate has that size.

  --server      address of a running Umbrastat (default: http://127.0.0.1:4190)
  --standing    of parts without a circled take the best one goes along
  --all         every take that is measured goes along, as a backup
  --apply       take in what was only looked into
  --differing   what becomes of what says something else on the server: keep it (usual), or take the pack’s

Exit code: 0 report made; 1 with --gate and a reshoot, or something is not as it was; 2 the input cannot be used.`;

/** Runs the command line; gives the exit code. */
export async function main(argv: string[], known: KnownMeasures = {}): Promise<number> {
  try {
    return await run(argv, known);
  } catch (error) {
    if (error instanceof UnusableMedia || error instanceof UsageError) {
      process.stderr.write(`umbrastat: ${error.message}\n`);
    } else if ((error as NodeJS.ErrnoException).code === 'ENOENT' && /prlimit|ff(mpeg|probe)/.test(String(error))) {
      process.stderr.write('umbrastat: ffmpeg is not installed. Run ./start once, or install the package ffmpeg.\n');
    } else {
      process.stderr.write(
        `umbrastat: something went wrong inside: ${(error as Error).message}. The file was not changed.\n`,
      );
    }
    return 2;
  }
}

/** Everything that may be said of a command. */
const OPTIONS = {
  delivery: { type: 'string' },
  against: { type: 'string' },
  out: { type: 'string' },
  seconds: { type: 'string' },
  'keep-grain': { type: 'boolean' },
  at: { type: 'string' },
  'in-at': { type: 'string' },
  'out-shutter': { type: 'string' },
  'in-shutter': { type: 'string' },
  edges: { type: 'string' },
  plate: { type: 'string' },
  box: { type: 'string' },
  cover: { type: 'boolean' },
  feather: { type: 'string' },
  'no-shadow': { type: 'boolean' },
  slide: { type: 'string' },
  count: { type: 'string' },
  ratio: { type: 'string' },
  'at-a': { type: 'string' },
  'at-b': { type: 'string' },
  'rate-pct': { type: 'string' },
  look: { type: 'string' },
  mirror: { type: 'boolean' },
  speed: { type: 'string' },
  server: { type: 'string' },
  shoot: { type: 'string' },
  setup: { type: 'string' },
  trick: { type: 'string' },
  recordings: { type: 'boolean' },
  mattes: { type: 'boolean' },
  standing: { type: 'boolean' },
  all: { type: 'boolean' },
  pack: { type: 'string' },
  apply: { type: 'boolean' },
  differing: { type: 'string' },
  wish: { type: 'string' },
  for: { type: 'string' },
  shot: { type: 'string' },
  json: { type: 'boolean' },
  gate: { type: 'boolean' },
  help: { type: 'boolean', short: 'h' },
} as const;

async function run(argv: string[], known: KnownMeasures): Promise<number> {
  let parsed;
  try {
    parsed = parseArgs({ args: argv, allowPositionals: true, options: OPTIONS });
  } catch (error) {
    throw new UsageError(`${(error as Error).message.split('. ')[0]}. See umbrastat --help.`);
  }
  const { values, positionals } = parsed;
  const [command, ...files] = positionals;
  if (values.help || (!command && argv.length === 0)) {
    process.stdout.write(`${HELP}\n`);
    return command || values.help ? 0 : 2;
  }
  const delivery = values.delivery === undefined ? undefined : parseDelivery(values.delivery);
  const say = (text: string) => {
    if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
  };
  const print = (report: object, text: string) => {
    say('');
    process.stdout.write(values.json ? `${JSON.stringify(report)}\n` : `${text}\n`);
  };
  if (values.pack === undefined) return runCommand(command, files, values, { delivery, say, print, known });
  const { needPlainPack, plainPack } = await import('./plain-pack');
  await needPlainPack(command, files, values);
  // What is wrong with what is asked for is said first.
  const code = await runCommand(command, files, values, { delivery, say, print, known });
  const folder = await plainPack(command, files, values, { delivery, say });
  say('');
  process.stderr.write(`packed: ${folder}\n`);
  return code;
}

type Values = ReturnType<typeof parseArgs<{ allowPositionals: true; options: typeof OPTIONS }>>['values'];

interface Tools {
  delivery: ReturnType<typeof parseDelivery> | undefined;
  say: (text: string) => void;
  print: (report: object, text: string) => void;
  known: KnownMeasures;
}

async function runCommand(
  command: string | undefined,
  files: string[],
  values: Values,
  { delivery, say, print, known }: Tools,
): Promise<number> {
  if (command === 'plate') return plate(files, { ...values, keepGrain: values['keep-grain'] }, delivery, say, print);
  if (command === 'cover') {
    if (files.length !== 1)
      throw new UsageError(`cover wants one file, ${files.length} were given. Use: umbrastat cover FILE.`);
    const report = await measureCover(files[0], {
      delivery,
      hand: values.edges === undefined ? null : await (await import('./edges')).readEdges(values.edges),
      onProgress: (done) => say(`frame ${done} `),
    });
    print(report, coverText(report));
    return values.gate && report.verdict === 'reshoot' ? 1 : 0;
  }
  if (command === 'cut') {
    if (files.length !== 2)
      throw new UsageError(`cut wants two files, ${files.length} were given. Use: umbrastat cut OUT IN.`);
    const outShutter = parseShutter('--out-shutter', values['out-shutter']),
      inShutter = parseShutter('--in-shutter', values['in-shutter']);
    const report = await measureCut(files[0], files[1], {
      delivery,
      at: parseFrame('--at', values.at),
      inAt: parseFrame('--in-at', values['in-at']),
      shutters: (rate) => ({
        out: shutterSeconds(outShutter, rate.out_fps),
        in: shutterSeconds(inShutter, rate.in_fps),
      }),
      onProgress: say,
    });
    print(report, cutText(report));
    return values.gate && report.verdict === 'reshoot' ? 1 : 0;
  }
  if (command === 'stills') return (await import('./stills')).stills(files, values, { delivery, say, print });
  if (command === 'spot') return (await import('./spot')).spot(files, values, { delivery, say, print });
  if (command === 'beats') return (await import('./beats')).beats(files, values, { say, print });
  if (command === 'meet') return (await import('./meet')).meet(files, values, { say, print });
  if (command === 'cloth') return (await import('./cloth')).cloth(files, values, { say, print });
  if (command === 'bars') return (await import('./bars')).bars(files, values, { delivery, say, print });
  if (command === 'figure') return (await import('./figure')).figure(files, values, { say, print });
  if (command === 'matte') return (await import('./matte')).matte(files, values, { say, print });
  if (command === 'zone') return (await import('./zone')).zone(files, values, { say, print });
  if (command === 'hide') return (await import('./hide')).hide(files, values, { delivery, say, print });
  if (command === 'pair') return (await import('./pair')).pair(files, values, { delivery, say, print });
  if (command === 'pack') return (await import('./pack')).pack(files, values, { say, print });
  if (command === 'take-in') return (await import('./take-in')).takeIn(files, values, { say, print });
  if (command === 'check') return (await import('./check')).check(files, values, { delivery, say, print });
  if (command === 'verify') return (await import('./verify')).verify(files, { say, print });
  if (command === 'validate') return (await import('./verify')).validate(files, { print });
  // Drawing and checking of edges are loaded only where they are wanted: starting is part of every check's time.
  if (command === 'proof') return (await import('./proof')).proof(files, values, say, print);
  if (command !== 'take') {
    // What has no command of its own is asked for as the app asks for it.
    const { measureFiles } = await import('./measure');
    return measureFiles(command ?? '', files, { wish: values.wish, gate: values.gate, delivery, say, print, known });
  }
  if (files.length !== 1)
    throw new UsageError(`take wants one file, ${files.length} were given. Use: umbrastat take FILE.`);
  const report = await measureTake(files[0], {
    delivery,
    purpose: parsePurpose(values.for),
    shot: parseShot(values.shot),
    onProgress: (done, total) => say(`frame ${done} of ${total} `),
  });
  print(report, takeText(report));
  return values.gate && report.take.verdict === 'reshoot' ? 1 : 0;
}

interface PlateValues {
  against?: string;
  out?: string;
  seconds?: string;
  keepGrain?: boolean;
  gate?: boolean;
}

async function plate(
  files: string[],
  values: PlateValues,
  delivery: Delivery | undefined,
  say: (text: string) => void,
  print: (report: object, text: string) => void,
): Promise<number> {
  if (files.length === 0)
    throw new UsageError('plate wants at least one take. Use: umbrastat plate TAKE [--out plate.png].');
  if (values.against !== undefined) {
    if (files.length !== 1)
      throw new UsageError(
        `A plate is held against one take, ${files.length} were given. Use: umbrastat plate TAKE --against PLATE.`,
      );
    if (values.out !== undefined)
      throw new UsageError('--out saves a plate that is made from takes; leave --against out to make one.');
    say('measuring the take');
    const take = await openTake(files[0]);
    const plate = await againstOf(values.against);
    const gap = await comparePlate(take, plate, { onProgress: say });
    const report = plateReport(null, { gap, size: take.analysis.probe });
    print(report, plateText(report, values.against, files[0]));
    return values.gate && report.verdict === 'reshoot' ? 1 : 0;
  }
  const seconds = values.seconds === undefined ? 5 : Number(values.seconds);
  if (!(seconds > 0 && seconds <= 600))
    throw new UsageError(`--seconds ${values.seconds} is not a length. Give seconds from 0.1 to 600.`);
  const clip = values.out !== undefined && /\.mp4$/i.test(values.out);
  if (values.out !== undefined && !clip && !/\.png$/i.test(values.out))
    throw new UsageError(
      `--out ${values.out} names no kind that can be written. Use a name that ends in .png or .mp4.`,
    );
  const takes: MeasuredTake[] = [];
  for (const path of files) {
    say(`measuring ${basename(path)}`);
    takes.push(await openTake(path));
  }
  const made = await makePlate(takes, { keepGrain: values.keepGrain, onProgress: say });
  if (values.out !== undefined) {
    if (clip)
      await writeStillClip(made.picture, values.out, seconds, delivery?.fps ?? made.take.analysis.fps, delivery ?? {});
    else await writePng(made.picture, values.out, delivery ?? {});
  }
  const report = plateReport(made.source, null);
  print(report, plateText(report, values.out ?? null, null));
  return 0;
}
