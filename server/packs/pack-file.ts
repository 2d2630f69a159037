import { createWriteStream } from 'node:fs';
import { open, readFile } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { text as readText } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import { SHOOT_FILE } from '../../core/packs/shoot-file';
import { Refusal } from '../platform/http';

/** `shoot.json` is not longer than this, bytes. */
const MOST_TEXT = 20e6;
/** Files in a pack: a season's, with all its pictures, has some thousands. */
const MOST_FILES = 100_000;
const NO_PACK = 'This is neither a pack of this app nor the shoot.json of one. Choose the ZIP as it was saved.';

const TOO_LONG = `Its ${SHOOT_FILE} is longer than ${MOST_TEXT / 1e6} MB; none that this app writes is. Choose the pack as it was saved.`;

/** A pack as it was uploaded: its shoot as text, and the recordings in it. */
export interface PackFile {
  text: string;
  /** Whether it holds a file under this path, with so many bytes. */
  has(path: string, bytes: number): boolean;
  /** Writes one of its files to a new place. */
  extract(path: string, to: string, signal?: AbortSignal): Promise<void>;
  close(): void;
}

const withoutMark = (text: string) => text.replace(/^\uFEFF/, '');

/** Opens a pack, or the shoot of one by itself, by what is in it. @throws Refusal 422 where it is neither */
export async function openPack(path: string): Promise<PackFile> {
  const head = Buffer.alloc(4);
  const file = await open(path);
  const { size } = await file.stat();
  await file.read(head, 0, 4, 0).finally(() => file.close());
  if (head.toString('latin1') === 'PK\x03\x04') return openPackZip(path);
  if (size > MOST_TEXT) throw new Refusal(422, TOO_LONG, 'invalid');
  if (!/^\s*\{/.test(head.toString('utf8').replace(/^\uFEFF/, ''))) throw new Refusal(422, NO_PACK, 'invalid');
  const none = () => Promise.reject(new Error('There are no recordings in it.'));
  return { text: withoutMark(await readFile(path, 'utf8')), has: () => false, extract: none, close: () => undefined };
}

async function openPackZip(path: string): Promise<PackFile> {
  const broken = () =>
    new Refusal(422, 'This ZIP breaks off or is damaged. Copy it again from where it was saved.', 'invalid');
  const options = { lazyEntries: true, autoClose: false, strictFileNames: true };
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    openZip(path, options, (error, opened) => (error ? reject(broken()) : resolve(opened))),
  );
  const entries = await entriesOf(zip).catch(() => {
    zip.close();
    throw broken();
  });
  // All of a pack lies in one folder; whoever packs it anew may leave that out.
  const shoot = [...entries.values()].find((e) => e.fileName.split('/').length <= 2 && e.fileName.endsWith(SHOOT_FILE));
  if (shoot && shoot.uncompressedSize > MOST_TEXT) {
    zip.close();
    throw new Refusal(422, TOO_LONG, 'invalid');
  }
  if (!shoot) {
    zip.close();
    throw new Refusal(422, `There is no ${SHOOT_FILE} in this ZIP. ${NO_PACK}`, 'invalid');
  }
  const folder = shoot.fileName.slice(0, -SHOOT_FILE.length);
  const stream = promisify<Entry, Readable>(zip.openReadStream.bind(zip) as never);
  const text = await stream(shoot)
    .then((content) => readText(content))
    .catch(() => {
      zip.close();
      throw broken();
    });
  return {
    text: withoutMark(text),
    has: (name, bytes) => entries.get(folder + name)?.uncompressedSize === bytes,
    async extract(name, to, signal) {
      const content = await stream(entries.get(folder + name)!);
      await pipeline(content, createWriteStream(to, { flags: 'wx' }), { signal }).catch(
        (error: NodeJS.ErrnoException) => {
          // What the disk or the caller says is not the ZIP's fault.
          throw error.code && error.code !== 'Z_DATA_ERROR' ? error : broken();
        },
      );
    },
    close: () => zip.close(),
  };
}

/** All files of a ZIP by their names. */
function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  const entries = new Map<string, Entry>();
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      if (entries.size > MOST_FILES) reject(new Error('too many files'));
      else zip.readEntry();
    });
    zip.on('end', () => resolve(entries));
    zip.on('error', reject);
    zip.readEntry();
  });
}
