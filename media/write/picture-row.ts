import { createReadStream } from 'node:fs';
import { open, readFile, writeFile } from 'node:fs/promises';

/** Writes beside a row of JPEGs where each of them starts, once the row is whole; gives their number. */
export async function indexRow(path: string, index = `${path}.index`): Promise<number> {
  const offsets: number[] = [];
  let at = 0;
  let previous = 0;
  let inside = false;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    const bytes = chunk as Buffer;
    for (let i = 0; i < bytes.length; i++) {
      const b = bytes[i];
      // JPEG pictures start with FF D8 and end with FF D9; neither occurs inside coded data.
      if (previous === 0xff && b === 0xd8 && !inside) {
        offsets.push(at + i - 1);
        inside = true;
      } else if (previous === 0xff && b === 0xd9) {
        inside = false;
      }
      previous = b;
    }
    at += bytes.length;
  }
  offsets.push(at);
  await writeFile(index, Buffer.from(Float64Array.from(offsets).buffer));
  return offsets.length - 1;
}

/** One picture of a row; null when there is no such frame (yet). */
export async function pictureOf(path: string, frame: number): Promise<Buffer | null> {
  const raw = await readFile(`${path}.index`).catch(() => null);
  if (!raw) return null;
  const offsets = new Float64Array(raw.buffer, raw.byteOffset, raw.length / 8);
  if (frame < 0 || frame + 1 >= offsets.length) return null;
  const length = offsets[frame + 1] - offsets[frame];
  const file = await open(path, 'r');
  try {
    const out = Buffer.alloc(length);
    await file.read(out, 0, length, offsets[frame]);
    return out;
  } finally {
    await file.close();
  }
}
