import { MemoryStore, type FrameStore } from '../../base/image/stack';
import type { Sighting } from './consensus';

/** What was seen in one frame, kept for later. */
export interface KeptSighting {
  /** A copy of it; in `room`, where that is given, which ends what was read into it before. */
  read: (room?: SightingRoom) => Sighting;
}

/** Memory that is used again for each sighting that is read: so that those of a long take leave no heaps behind. */
export class SightingRoom {
  private bytes = new ArrayBuffer(0);

  /** So many bytes; what was there before is lost. */
  take(size: number): ArrayBuffer {
    if (this.bytes.byteLength !== size) this.bytes = new ArrayBuffer(size);
    return this.bytes;
  }
}

/** Numbers a patch takes: three of four bytes, besides two of one. */
const FLOATS = 3;

/** A sighting's arrays, laid over bytes. */
function over(bytes: ArrayBuffer, patches: number): Sighting {
  const floats = (k: number) => new Float32Array(bytes, 4 * k * patches, patches);
  const flags = (k: number) => new Uint8Array(bytes, 4 * FLOATS * patches + k * patches, patches);
  return { dx: floats(0), dy: floats(1), residual: floats(2), looked: flags(0), found: flags(1) };
}

/** Keeps what was seen in each frame of a take, however long, where the store keeps it. */
export class Sightings {
  private count = 0;

  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  keep(seen: Sighting): KeptSighting {
    const patches = seen.dx.length;
    const size = (4 * FLOATS + 2) * patches;
    const bytes = new ArrayBuffer(size);
    const copy = over(bytes, patches);
    for (const key of ['dx', 'dy', 'residual', 'looked', 'found'] as const) copy[key].set(seen[key]);
    const index = this.count++;
    this.store.write(index, new Uint8Array(bytes));
    return {
      read: (room) => {
        const again = room?.take(size) ?? new ArrayBuffer(size);
        this.store.read(index, new Uint8Array(again));
        return over(again, patches);
      },
    };
  }
}
