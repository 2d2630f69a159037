/**
 * How long somebody on set waits for the gate: from the last byte of a double's second pass until nothing that its trick
 * asks for is being measured any more. Run by `npm run bench:gate`, which starts a database; nothing of a shoot is
 * touched. Goals on two quiet cores: 15 s for 6 s of 960x540, 30 s for 10 s of 1920x1080.
 */
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Take, TakePage } from '../api/takes';
import { Caller, freshDatabase, startServer, until } from '../server/testing/running-server';
import { recordTake } from '../standin/record';
import type { CameraSettings } from '../standin/settings';

const FOLDER = join(__dirname, '..', '.cache', 'bench');
const ROUNDS = 3;
const PATIENCE_S = 120;
const LOOK_MS = 50;
const SIZES = [
  { width: 960, seconds: 6 },
  { width: 1920, seconds: 10 },
];

/** The parts in the order in which they are rolled, and who is in them. */
const PARTS = [
  { part: 'Plate', crossing: 'nobody' },
  { part: 'Pass A', crossing: 'stands-across' },
  { part: 'Pass B', crossing: 'comes-and-stays' },
] as const;

/** A take of the stand-in camera, recorded once. */
async function clipOf(k: number, width: number, seconds: number): Promise<Buffer> {
  const path = join(FOLDER, `gate-${width}-${k}.mp4`);
  if (!existsSync(path)) {
    mkdirSync(FOLDER, { recursive: true });
    const settings: CameraSettings = {
      scene: 'kiosk',
      tripod: 'still',
      crossing: PARTS[k].crossing,
      fps: 25,
      grain: 3,
      seed: k + 2,
      width,
      seconds,
    };
    await recordTake(settings, `${path}.part.mp4`);
    renameSync(`${path}.part.mp4`, path);
  }
  return readFileSync(path);
}

/** Seconds from the last byte of the second pass to the gate's word, and to the second pass's own. */
async function wait(width: number, seconds: number): Promise<{ gate: number; own: number; says: string }> {
  const data = mkdtempSync(join(tmpdir(), 'umbrastat-bench-'));
  const server = await startServer(await freshDatabase(), data);
  try {
    const ask = new Caller(server.url);
    const { setupId } = await ask.newSetup({ name: 'Kiosk', parts: [] });
    await ask.putTrick(setupId, 'double');
    const partOf = async (name: string) => (await ask.board(setupId)).parts.find((p) => p.name === name)!.id;
    for (const k of [0, 1]) {
      const bytes = await clipOf(k, width, seconds);
      const made = await ask.addTake(await partOf(PARTS[k].part), bytes, `${PARTS[k].part}.mp4`);
      await ask.measured(made.body.id);
    }
    const bytes = await clipOf(2, width, seconds);
    const [part, upload] = [await partOf(PARTS[2].part), await ask.upload(bytes)];
    const began = performance.now();
    const second = await ask.call<Take>('POST', `/parts/${part}/takes`, { upload_id: upload, name: 'pass-b.mp4' });
    const since = () => (performance.now() - began) / 1000;
    const looking = async () => {
      await new Promise((resolve) => {
        setTimeout(resolve, LOOK_MS);
      });
    };
    for (;;) {
      const { body } = await ask.call<TakePage>('GET', `/takes/${second.body.id}`);
      if (body.state === 'failed') throw new Error(`The take could not be measured: ${body.failure}`);
      if (body.state === 'done') break;
      await looking();
    }
    const own = since();
    const { gate } = await until(
      async () => {
        await looking();
        return ask.board(setupId);
      },
      ({ gate }) => gate.tricks[0].requirements.every((r) => !r.pending && r.ready),
      PATIENCE_S,
    );
    return { gate: since(), own, says: gate.headline };
  } finally {
    await server.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

async function main(): Promise<void> {
  for (const { width, seconds } of SIZES) {
    const rounds = [];
    for (let i = 0; i < ROUNDS; i++) rounds.push(await wait(width, seconds));
    const [best] = rounds.sort((a, b) => a.gate - b.gate);
    console.log(
      `double's second pass, ${seconds} s, ${width} wide: measured by itself after ${best.own.toFixed(1)} s, the gate's ` +
        `word after ${best.gate.toFixed(1)} s (${best.says})`,
    );
  }
}

void main();
