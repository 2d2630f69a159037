import { open } from 'node:fs/promises';

const ENOUGH_BYTES = 1024;
/** MPEG transport streams have a sync byte at the head of each packet of 188 bytes; cards put 4 bytes before each. */
const SYNC = 0x47;
const PACKET = 188;
const PREFIXED = 192;

/** First bytes of containers, with the ending of each (ISO/IEC 13818-1, RFC 8794, SMPTE 377, RFC 3533, and the makers' own). */
const SIGNS: readonly { at: number; bytes: string; ending: string }[] = [
  { at: 4, bytes: 'ftypqt  ', ending: '.mov' },
  { at: 4, bytes: 'ftyp', ending: '.mp4' },
  ...['moov', 'mdat', 'wide', 'free', 'skip', 'pnot'].map((bytes) => ({ at: 4, bytes, ending: '.mov' })),
  { at: 8, bytes: 'AVI ', ending: '.avi' },
  { at: 0, bytes: '\0\0\x01\xb3', ending: '.mpg' },
  { at: 0, bytes: '\0\0\x01\xba', ending: '.mpg' },
  { at: 0, bytes: '\x06\x0e\x2b\x34', ending: '.mxf' },
  { at: 0, bytes: 'OggS', ending: '.ogv' },
  { at: 0, bytes: '0&\xb2u', ending: '.wmv' },
  { at: 0, bytes: 'FLV\x01', ending: '.flv' },
  { at: 0, bytes: 'YUV4MPEG2', ending: '.y4m' },
  { at: 0, bytes: '\x1f\x07\0', ending: '.dv' },
];
const EBML = '\x1aE\xdf\xa3';
/** Which kind of EBML it is stands within so many bytes. */
const KIND_WITHIN = 64;
/** For what is opened, but says what it is further on. */
const OTHER = '.mov';

/** The usual ending of a recording's name, by the container that its first bytes are of; never by the name it came with. */
export function endingOf(head: Buffer): string {
  const text = head.toString('latin1');
  if (text.startsWith(EBML)) return text.slice(0, KIND_WITHIN).includes('webm') ? '.webm' : '.mkv';
  const known = SIGNS.find(({ at, bytes }) => text.startsWith(bytes, at));
  if (known) return known.ending;
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
