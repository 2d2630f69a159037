import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';

/** The SHA-256 of a file, as hexadecimal digits. */
export async function hashFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  return hash.digest('hex');
}
