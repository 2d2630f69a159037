import type { TakeAnalysis } from '../../core/take/analysis';
import { deserialize, serialize } from 'node:v8';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { FineOutlines } from '../../core/take/fine-outlines';

/** Raised whenever the meaning of what is kept changes; older ones are measured anew. */
const VERSION = 3;

const pack = (kept: object) => gzipSync(serialize({ version: VERSION, ...kept }), { level: 1 });

/** Reads what `pack` wrote; null when it is of another version or not whole. */
const unpack = <T>(bytes: Buffer): T | null => read<T>(() => gunzipSync(bytes));

function read<T>(bytes: () => Buffer): T | null {
  try {
    const kept = deserialize(bytes()) as T & { version: number };
    return kept.version === VERSION ? kept : null;
  } catch {
    return null;
  }
}

/** What was found in a take, as bytes to be kept, so that plates and comparisons need not measure it again. */
export function packAnalysis(analysis: TakeAnalysis): Buffer {
  const scene = analysis.scene && { ...analysis.scene, zones: [] };
  return pack({ analysis: { ...analysis, scene, kept: null } });
}

/** Reads what `packAnalysis` wrote; null when it is of another version or not whole. */
export function unpackAnalysis(bytes: Buffer): TakeAnalysis | null {
  return unpack<{ analysis: TakeAnalysis }>(bytes)?.analysis ?? null;
}

/** Some pictures of a take, as bytes to be kept: grain is hardly packed by anything that is quick. */
export const packPictures = ({ kept }: TakeAnalysis): Buffer => serialize({ version: VERSION, kept: kept ?? null });

/** Reads what `packPictures` wrote; null when it is of another version or not whole, or none were kept. */
export const unpackPictures = (bytes: Buffer): TakeAnalysis['kept'] =>
  read<{ kept: TakeAnalysis['kept'] }>(() => bytes)?.kept ?? null;

/** Who is in a take, outlined finely, as bytes to be kept. */
export const packFine = (fine: FineOutlines | null): Buffer => pack({ fine });

/** Reads what `packFine` wrote; null when it is of another version or not whole, or nothing is known of who is in. */
export function unpackFine(bytes: Buffer): FineOutlines | null {
  return unpack<{ fine: FineOutlines | null }>(bytes)?.fine ?? null;
}
