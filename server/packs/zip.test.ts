import { closeSync, mkdtempSync, openSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import { cutOutOf, openZip } from './zip';

// The same sum as the package's own, which takes a minute and a half for so much in Jest's context.
jest.mock('buffer-crc32', () => ({ unsigned: jest.requireActual<typeof import('node:zlib')>('node:zlib').crc32 }));

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-zip-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const GB = 1e9;
/** Beyond what 32 bits can count. */
const LARGE = 4.4 * GB;
const TAIL = 1 << 17;
/** Nothing but what is on its way may be held: far less than any recording. */
const MOST_GROWTH = 250e6;

/** Serves the end of a ZIP, in which its list of files stands. */
class TailReader extends yauzl.RandomAccessReader {
  constructor(
    private readonly tail: Buffer,
    private readonly from: number,
  ) {
    super();
  }
  override _readStreamForRange(start: number, end: number) {
    return Readable.from([this.tail.subarray(start - this.from, end - this.from)]) as never;
  }
}

const listOf = (reader: yauzl.RandomAccessReader, bytes: number) =>
  new Promise<[string, number][]>((resolve, reject) => {
    yauzl.fromRandomAccessReader(reader, bytes, { lazyEntries: true }, (error, zip) => {
      if (error) return reject(error);
      const names: [string, number][] = [];
      zip.on('entry', (entry: yauzl.Entry) => {
        names.push([entry.fileName, entry.uncompressedSize]);
        zip.readEntry();
      });
      zip.on('end', () => resolve(names));
      zip.on('error', reject);
      zip.readEntry();
    });
  });

test('a pack of more than 4 GB is as long as was said, lists all its files, and is never held in memory', async () => {
  const large = join(folder, 'large.mov'),
    page = join(folder, 'README.html');
  closeSync(openSync(large, 'w'));
  // It takes no room on the disk: there is nothing in it.
  truncateSync(large, LARGE);
  writeFileSync(page, '<p>Night Ferry</p>');
  const entries = [
    { path: 'README.html', bytes: 18, from: page },
    { path: 'recordings/large.mov', bytes: LARGE, from: large },
  ];
  const { bytes, stream } = await openZip('night-ferry', entries, new Date('2027-10-05T18:30:00Z'));
  expect(bytes).toBeGreaterThan(LARGE);
  const before = process.memoryUsage().rss;
  let [sent, most] = [0, 0];
  let tail = Buffer.alloc(0);
  const reads = new Writable({
    write(chunk: Buffer, _encoding, done) {
      sent += chunk.length;
      most = Math.max(most, process.memoryUsage.rss() - before);
      if (sent > bytes - 2 * TAIL) tail = Buffer.concat([tail, chunk]).subarray(-TAIL);
      done();
    },
  });
  await pipeline(stream, cutOutOf(0, bytes - 1), reads);
  expect(sent).toBe(bytes);
  expect(most).toBeLessThan(MOST_GROWTH);
  expect(await listOf(new TailReader(tail, bytes - tail.length), bytes)).toEqual([
    ['night-ferry/README.html', 18],
    ['night-ferry/recordings/large.mov', LARGE],
  ]);
}, 600_000);
