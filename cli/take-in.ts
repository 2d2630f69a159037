import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Upload } from 'tus-js-client';
import { bytesInWords } from '../core/base/numeric/bytes';
import { ask, USUAL_SERVER } from './pack';
import { UsageError } from './arguments';
import type { Told } from './pair';

export interface TakeInValues {
  server?: string;
  apply?: boolean;
  differing?: string;
}

interface TakenIn {
  shoot: { id: string; name: string } | null;
  errors: { line: number; text: string }[];
  changes: { kind: string; text: string }[];
  recordings: { count: number; bytes: number };
  applied: boolean;
}

const CHUNK = 16 * 1024 * 1024;
const NOTHING = 'nothing would change: all of it is here already';

/** Has a running server take a pack in, or say what that would change; gives the exit code: 1 where the file has errors. */
export async function takeIn(
  files: readonly string[],
  { server: given, apply = false, differing = 'keep' }: TakeInValues,
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`take-in wants one file, ${files.length} were given. Use: umbrastat take-in PACK.zip.`);
  if (differing !== 'keep' && differing !== 'take') throw new UsageError('--differing is keep or take.');
  const server = (given ?? USUAL_SERVER).replace(/\/+$/, '');
  // Whether anybody is there, before anything is sent.
  await ask(server, '/shoots');
  const upload_id = await send(server, files[0], say);
  const asked = (really: boolean) => ask<TakenIn>(server, '/packs/taken-in', { upload_id, apply: really, differing });
  say('looking into it');
  const seen = await asked(false);
  say('taking it in');
  const said = apply && seen.errors.length === 0 ? await asked(true) : seen;
  print(said, textOf(files[0], said));
  return said.errors.length ? 1 : 0;
}

function textOf(file: string, { shoot, errors, changes, recordings, applied }: TakenIn): string {
  if (errors.length)
    return [`${file}: nothing is taken in, it has errors`, ...errors.map((e) => `  line ${e.line}: ${e.text}`)].join(
      '\n',
    );
  const lines = changes.map((c) => `  ${c.text}`);
  if (recordings.count) lines.push(`  ${recordings.count} recordings, ${bytesInWords(recordings.bytes)}`);
  const head = `${shoot?.name}: ${applied ? 'taken in' : lines.length ? 'would be taken in; say --apply to do it' : NOTHING}`;
  return [head, ...lines].join('\n');
}

/** Sends a file in pieces, going on after a dropped connection; gives its id there. */
async function send(server: string, path: string, say: (text: string) => void): Promise<string> {
  const { size } = await stat(path).catch(() => {
    throw new UsageError(`"${path}" cannot be read. Give a pack as it was saved.`);
  });
  if (size === 0) throw new UsageError(`"${path}" is empty. Copy it again from where it was saved.`);
  return new Promise((resolve, reject) => {
    const upload = new Upload(createReadStream(path), {
      endpoint: `${server}/api/uploads`,
      uploadSize: size,
      chunkSize: CHUNK,
      retryDelays: [500, 1500, 4000],
      onProgress: (sent) => say(`sending ${bytesInWords(sent)} of ${bytesInWords(size)}`),
      onError: (error) => {
        const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
        reject(new UsageError(body || `The connection to ${server} dropped. Try again.`));
      },
      onSuccess: () => resolve(upload.url?.split('/').pop() ?? ''),
    });
    upload.start();
  });
}
