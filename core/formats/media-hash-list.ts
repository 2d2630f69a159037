import { XMLBuilder, XMLParser } from 'fast-xml-parser';

/**
 * ASC Media Hash List 2.0: a manifest of the files of a folder with their hashes (namespace "urn:ASC:MHL:v2.0"), and the
 * chain file that names the manifests in their order, each with its C4 id (SMPTE ST 2114).
 */

export interface HashedFile {
  /** From the folder that holds the list, with "/" between folders. */
  path: string;
  bytes: number;
  /** As text, with the zone: "2027-10-05T14:03:00+00:00". */
  changed: string;
  /** xxHash of 64 bits, as 16 hexadecimal digits. */
  xxh64: string;
}

export interface HashList {
  made: string;
  tool: { name: string; version: string };
  /** The machine it was made on. */
  host: string;
  files: HashedFile[];
}

/** The folder of the lists, and of their chain file in it. */
export const LIST_FOLDER = 'ascmhl';
export const CHAIN_FILE = 'ascmhl_chain.xml';
/** What lists pass over. */
const IGNORED = ['.DS_Store', LIST_FOLDER, `${LIST_FOLDER}/`];

const HEAD = { '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' } };
const builder = new XMLBuilder({ ignoreAttributes: false, format: true, suppressBooleanAttributes: false });
const parser = new XMLParser({
  ignoreAttributes: false,
  parseTagValue: false,
  parseAttributeValue: false,
  isArray: (name) => name === 'hash' || name === 'hashlist',
  processEntities: true,
});

/** A manifest's name: its number in the chain, the folder, and when it was made, as the standard has it. */
export function listName(number: number, folder: string, made: string): string {
  const [day, time] = made.split('T');
  return `${String(number).padStart(4, '0')}_${folder}_${day}_${time.slice(0, 8).replace(/:/g, '')}Z.mhl`;
}

/** A manifest as XML. */
export function hashListXml({ made, tool, host, files }: HashList): string {
  return builder.build({
    ...HEAD,
    hashlist: {
      '@_version': '2.0',
      '@_xmlns': 'urn:ASC:MHL:v2.0',
      creatorinfo: { creationdate: made, hostname: host, tool: { '@_version': tool.version, '#text': tool.name } },
      processinfo: { process: 'transfer', ignore: { pattern: IGNORED } },
      hashes: {
        hash: files.map(({ path, bytes, changed, xxh64 }) => ({
          path: { '@_size': bytes, '@_lastmodificationdate': changed, '#text': path },
          xxh64: { '@_action': 'original', '@_hashdate': made, '#text': xxh64 },
        })),
      },
    },
  });
}

/** The chain file. @param lists manifests in their order, with their C4 ids */
export function chainXml(lists: readonly { path: string; c4: string }[]): string {
  return builder.build({
    ...HEAD,
    ascmhldirectory: {
      '@_xmlns': 'urn:ASC:MHL:DIRECTORY:v2.0',
      hashlist: lists.map(({ path, c4 }, i) => ({ '@_sequencenr': i + 1, path, c4 })),
    },
  });
}

/** Reads a manifest; null when it is none. Files without an xxh64 are left out. */
export function readHashList(xml: string): HashedFile[] | null {
  const list = (parser.parse(xml) as { hashlist?: [{ hashes?: { hash?: ReadHash[] } }] }).hashlist?.[0];
  if (!list) return null;
  return (list.hashes?.hash ?? []).flatMap(({ path, xxh64 }) => {
    const hash = typeof xxh64 === 'string' ? xxh64 : xxh64?.['#text'];
    const name = typeof path === 'string' ? path : path?.['#text'];
    if (!hash || !name) return [];
    const more = typeof path === 'string' ? null : path;
    return [
      {
        path: name,
        bytes: Number(more?.['@_size'] ?? -1),
        changed: more?.['@_lastmodificationdate'] ?? '',
        xxh64: hash.toLowerCase(),
      },
    ];
  });
}

/** Reads a chain file: the manifests in their order; null when it is none. */
export function readChain(xml: string): { path: string; c4: string }[] | null {
  const read = parser.parse(xml) as { ascmhldirectory?: { hashlist?: { path: string; c4: string }[] } };
  return read.ascmhldirectory?.hashlist?.map(({ path, c4 }) => ({ path: String(path), c4: String(c4) })) ?? null;
}

interface ReadHash {
  path?: string | { '#text': string; '@_size'?: string; '@_lastmodificationdate'?: string };
  xxh64?: string | { '#text': string };
}

const BASE58 = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';

/** The C4 id of what has this SHA-512: "c4" and 88 digits to the base of 58 (SMPTE ST 2114). @param digest 64 bytes */
export function c4Of(digest: Uint8Array): string {
  let value = 0n;
  for (const byte of digest) value = (value << 8n) | BigInt(byte);
  let text = '';
  while (value > 0n) {
    text = BASE58[Number(value % 58n)] + text;
    value /= 58n;
  }
  return `c4${text.padStart(88, '1')}`;
}
