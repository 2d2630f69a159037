import { deserialize, serialize } from 'node:v8';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { FineOutlines } from './fine-outlines';
import type { TakeAnalysis } from './measure-take';

/** Raised whenever the meaning of what is kept changes; older ones are measured anew. */
const VERSION = 3;

/** What was found in a take, as bytes to be kept, so that plates and comparisons need not measure it again. */
export function packAnalysis(analysis: TakeAnalysis): Buffer {
  const scene = analysis.scene && { ...analysis.scene, zones: [] };
  return gzipSync(serialize({ version: VERSION, analysis: { ...analysis, scene } }), { level: 1 });
}

/** Reads what `packAnalysis` wrote; null when it is of another version or not whole. */
export function unpackAnalysis(bytes: Buffer): TakeAnalysis | null {
  try {
    const kept = deserialize(gunzipSync(bytes)) as { version: number; analysis: TakeAnalysis };
    return kept.version === VERSION ? kept.analysis : null;
  } catch {
    return null;
  }
}

/** Who is in a take, outlined finely, as bytes to be kept. */
export function packFine(fine: FineOutlines | null): Buffer {
  return gzipSync(serialize({ version: VERSION, fine }), { level: 1 });
}

/** Reads what `packFine` wrote; null when it is of another version or not whole, or nothing is known of who is in. */
export function unpackFine(bytes: Buffer): FineOutlines | null {
  try {
    const kept = deserialize(gunzipSync(bytes)) as { version: number; fine: FineOutlines | null };
    return kept.version === VERSION ? kept.fine : null;
  } catch {
    return null;
  }
}
