import { createWriteStream } from 'node:fs';
import { rename, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { bytesInWords } from '../core/base/numeric/bytes';
import { config } from '../package.json';
import { UsageError } from './arguments';
import type { Told } from './pair';

export interface PackValues {
  server?: string;
  shoot?: string;
  setup?: string;
  trick?: string;
  recordings?: boolean;
  mattes?: boolean;
  standing?: boolean;
  all?: boolean;
  out?: string;
}

interface Made {
  id: string;
  state: string;
  failure: string | null;
  doing: string;
  made: {
    name: string;
    bytes: number;
    files: number;
    hash: string;
    /** Servers of before do not say. */
    left_behind?: string[];
    unmeasured?: string[];
  } | null;
}

/** Where ./start serves when it is told nothing else. */
export const USUAL_SERVER = `http://127.0.0.1:${config.port}`;
const ASK_MS = 700;
/** A download that breaks off is gone on with so often. */
const MOST_TRIES = 5;

/** Has a running server make a pack, and saves it; gives the exit code. */
export async function pack(
  files: readonly string[],
  values: PackValues,
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length) throw new UsageError('pack takes no files: say --shoot, --setup or --trick. See umbrastat --help.');
  const server = (values.server ?? USUAL_SERVER).replace(/\/+$/, '');
  const shoots = await ask<{ id: string; name: string }[]>(server, '/shoots');
  const shoot = pick(shoots, values.shoot, 'shoot');
  const page = await ask<Page>(server, `/shoots/${shoot.id}`);
  const setup = values.setup === undefined ? null : page.setups.find((s) => String(s.number) === values.setup);
  if (setup === undefined)
    throw new UsageError(`--setup ${values.setup} is not in "${shoot.name}". It has ${numbers(page)}.`);
  const tricks = (setup ? [setup] : page.setups).flatMap((s) =>
    s.planned.map((t) => ({ id: t.id, name: t.trick.name })),
  );
  const trick = values.trick === undefined ? null : pick(tricks, values.trick, 'trick');
  const { recordings = false, mattes = false, standing = false, all = false } = values;
  const wish = { recordings, mattes, plates: true, takes: all ? 'all' : standing ? 'standing' : 'circled' };
  const scope = { setup_id: setup?.id ?? null, planned_id: trick?.id ?? null };
  let made = await ask<Made>(server, `/shoots/${shoot.id}/packs`, { ...scope, ...wish });
  while (!made.made) {
    if (made.failure) throw new UsageError(made.failure);
    say(made.doing || made.state);
    await new Promise((resolve) => setTimeout(resolve, ASK_MS));
    made = await ask<Made>(server, `/packs/${made.id}`);
  }
  const out = values.out ?? `${made.made.name}.zip`;
  await save(`${server}/api/packs/${made.id}/zip`, out, made.made.bytes, say);
  const { bytes, files: count, hash, left_behind = [], unmeasured = [] } = made.made;
  const lists = [
    ['Not in this pack:', left_behind],
    ['Recordings of which nothing is known:', unmeasured],
  ] as const;
  const lines = lists.flatMap(([title, all]) => (all.length ? [title, ...all.map((text) => `  ${text}`)] : []));
  print(
    { file: out, bytes, files: count, hash, left_behind, unmeasured },
    [...lines, `${out}: ${count} files, ${bytesInWords(bytes)}, known by ${hash}`].join('\n'),
  );
  return 0;
}

interface Page {
  setups: { id: string; number: number; planned: { id: string; trick: { name: string } }[] }[];
}

const numbers = ({ setups }: Page) => `setups ${setups.map((s) => s.number).join(', ')}`;

/** The one of this name; the only one where none is given. @throws UsageError */
function pick<T extends { name: string }>(all: readonly T[], name: string | undefined, what: string): T {
  const found = all.filter((one) => name === undefined || one.name.toLowerCase() === name.toLowerCase());
  if (found.length === 1) return found[0];
  const names = all.map((one) => `"${one.name}"`).join(', ');
  if (all.length === 0) throw new UsageError(`There is no ${what} on this server. Plan one first.`);
  throw new UsageError(
    name === undefined ? `Say which ${what} with --${what}: ${names}.` : `--${what} "${name}" is not one of: ${names}.`,
  );
}

/** Asks a running server. @throws UsageError with its sentence where it refuses */
export async function ask<T>(server: string, path: string, body?: object): Promise<T> {
  const answer = await fetch(`${server}/api${path}`, {
    method: body ? 'POST' : 'GET',
    headers: { 'Content-Type': 'application/json' },
    body: body && JSON.stringify(body),
  }).catch(() => {
    throw new UsageError(
      `No Umbrastat answers at ${server}. Start it with ./start, or give its address with --server.`,
    );
  });
  const said = (await answer.json().catch(() => null)) as (T & { error?: string }) | null;
  if (!answer.ok || said === null) throw new UsageError(said?.error ?? `The server at ${server} is no Umbrastat.`);
  return said;
}

/** Saves what an address gives, going on where it broke off; nothing half is left under the name. */
async function save(address: string, out: string, bytes: number, say: (text: string) => void): Promise<void> {
  const part = `${out}.part`;
  for (let tries = 1; ; tries++) {
    const have = await stat(part).then(
      (s) => s.size,
      () => 0,
    );
    if (have === bytes) break;
    const from = have < bytes ? have : 0;
    say(`saving ${bytesInWords(from)} of ${bytesInWords(bytes)}`);
    try {
      const answer = await fetch(address, { headers: from ? { Range: `bytes=${from}-` } : {} });
      if (!answer.ok || !answer.body)
        throw new UsageError(`The pack could not be had: ${answer.status}. Make it again.`);
      const flags = answer.status === 206 ? 'a' : 'w';
      await pipeline(Readable.fromWeb(answer.body as ReadableStream), createWriteStream(part, { flags }));
    } catch (error) {
      if (error instanceof UsageError || tries >= MOST_TRIES) throw error;
    }
  }
  await rename(part, out);
}
