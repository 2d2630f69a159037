import { open } from 'node:fs/promises';

const ENOUGH_BYTES = 1024;
/** MPEG transport streams have a sync byte at the head of each packet of 188 bytes; cards put 4 bytes before each. */
const SYNC = 0x47;
const PACKET = 188;
const PREFIXED = 192;

/** First bytes of containers, with the ending of each (ISO/IEC 13818-1, RFC 8794, SMPTE 377, RFC 3533, and the makers' own). */
const SIGNS: readonly [RegExp, string][] = [
  [/^.{4}ftypqt {2}/s, '.mov'],
  [/^.{4}ftyp/s, '.mp4'],
  [/^.{4}(moov|mdat|wide|free|skip|pnot)/s, '.mov'],
  [/^\x1aE\xdf\xa3.{0,60}webm/s, '.webm'],
  [/^\x1aE\xdf\xa3/, '.mkv'],
  [/^RIFF.{4}AVI /s, '.avi'],
  [/^\0\0\x01[\xb3\xba]/, '.mpg'],
  [/^\x06\x0e\x2b\x34/, '.mxf'],
  [/^OggS/, '.ogv'],
  [/^0&\xb2u/, '.wmv'],
  [/^FLV\x01/, '.flv'],
  [/^YUV4MPEG2/, '.y4m'],
  [/^\x1f\x07\0/, '.dv'],
];
/** For what is opened, but says what it is further on. */
const OTHER = '.mov';

/** The usual ending of a recording's name, by the container that its first bytes are of; never by the name it came with. */
export function endingOf(head: Buffer): string {
  const text = head.toString('latin1');
  const known = SIGNS.find(([sign]) => sign.test(text));
  if (known) return known[1];
  if (head[0] === SYNC && head[PACKET] === SYNC) return '.ts';
  if (head[4] === SYNC && head[4 + PREFIXED] === SYNC) return '.mts';
  return OTHER;
}

/** The same of a file. @throws when it cannot be read */
export async function endingOfFile(path: string): Promise<string> {
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(ENOUGH_BYTES), 0, ENOUGH_BYTES, 0);
    return endingOf(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}
