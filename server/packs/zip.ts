import { createReadStream } from 'node:fs';
import { Transform, type Readable } from 'node:stream';
import { ZipFile } from 'yazl';

/** A file as it lies in a ZIP: under this path, read from there. */
export interface ZipEntry {
  path: string;
  bytes: number;
  from: string;
}

const CHUNK = 1 << 18;
const MODE = 0o100644;

/**
 * A ZIP of files that are stored as they are: its length is known before anything of it is read, and the same files give
 * the same bytes, so that it can be gone on with in the middle. @param folder the one in which all of them lie
 */
export async function openZip(
  folder: string,
  entries: readonly ZipEntry[],
  at: Date,
): Promise<{ bytes: number; stream: Readable }> {
  const zip = new ZipFile();
  for (const { path, bytes, from } of entries) {
    const options = { size: bytes, compress: false, mtime: at, mode: MODE };
    zip.addReadStreamLazy(`${folder}/${path}`, options, (ready) => {
      ready(null, createReadStream(from, { highWaterMark: CHUNK }));
    });
  }
  const stream = zip.outputStream as Readable;
  // What cannot be read ends whoever reads, too.
  zip.on('error', (error: Error) => stream.destroy(error));
  const bytes = await new Promise<number>((resolve) => {
    const options = { forceZip64Format: false, comment: '' };
    (zip.end as (o: object, known: (size: number) => void) => void).call(zip, options, resolve);
  });
  return { bytes, stream };
}

/** Lets through the bytes from `start` to `end`, both included, of what is read. */
export function cutOutOf(start: number, end: number): Transform {
  let at = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      const from = Math.max(0, start - at),
        to = Math.min(chunk.length, end + 1 - at);
      at += chunk.length;
      done(null, from < to ? chunk.subarray(from, to) : undefined);
    },
  });
}
