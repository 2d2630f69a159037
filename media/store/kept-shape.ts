import { deserialize, serialize } from 'node:v8';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { CoverShape } from '../../core/measures/cover/measure';

/** Raised whenever the meaning of what is kept changes. */
const VERSION = 1;

/** The object in every frame as bytes to be kept, eight mask pixels a byte. */
export function packShape(shape: CoverShape): Buffer {
  const bits = shape.masks.map((mask) => {
    const out = new Uint8Array((mask.length + 7) >> 3);
    for (let i = 0; i < mask.length; i++) if (mask[i]) out[i >> 3] |= 1 << (i & 7);
    return out;
  });
  return gzipSync(serialize({ version: VERSION, shape: { ...shape, masks: bits } }), { level: 1 });
}

/** Reads what `packShape` wrote; null when it is of another version or not whole. */
export function unpackShape(bytes: Buffer): CoverShape | null {
  try {
    const { version, shape } = deserialize(gunzipSync(bytes)) as { version: number; shape: CoverShape };
    if (version !== VERSION) return null;
    const pixels = shape.width * shape.height;
    return {
      ...shape,
      masks: shape.masks.map((bits) => {
        const out = new Uint8Array(pixels);
        for (let i = 0; i < pixels; i++) out[i] = (bits[i >> 3] >> (i & 7)) & 1;
        return out;
      }),
    };
  } catch {
    return null;
  }
}
