import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FrameStore } from '../../core/base/image/stack';

/** Small pictures up to this many bytes stay in memory; a long take's further ones go to a file. */
const MEMORY_BYTES = 64 * 1024 * 1024;

/** The same for what the lock saw of its patches, and for the detail of cells. */
export const SEEN_BYTES = 8 * 1024 * 1024;

const SLAB_BYTES = 4 * 1024 * 1024;

/** Keeps the small pictures of a take in memory, and those of a long one in a file that is gone when it is closed. */
export class SpillStore implements FrameStore {
  private readonly kept: Uint8Array[] = [];
  /** Room for the next pictures: memory is taken for many at a time. */
  private slab = new Uint8Array(0);
  private used = 0;
  private bytes = 0;
  private file = -1;
  /** Where each of the further ones begins in the file, and where the next will. */
  private readonly places: number[] = [];
  private end = 0;

  constructor(private readonly most = MEMORY_BYTES) {}

  write(index: number, bytes: Uint8Array): void {
    if (this.file < 0 && this.bytes + bytes.length <= this.most) {
      if (this.used + bytes.length > this.slab.length) {
        this.slab = new Uint8Array(Math.max(SLAB_BYTES, bytes.length));
        this.used = 0;
      }
      this.kept[index] = this.slab.subarray(this.used, this.used + bytes.length);
      this.kept[index].set(bytes);
      this.used += bytes.length;
      this.bytes += bytes.length;
      return;
    }
    if (this.file < 0) {
      // It has no name once it is open: however this process ends, nothing is left over.
      const folder = mkdtempSync(join(tmpdir(), 'umbrastat-frames-'));
      this.file = openSync(join(folder, 'small'), 'w+');
      rmSync(folder, { recursive: true, force: true });
    }
    this.places[index - this.kept.length] = this.end;
    writeSync(this.file, bytes, 0, bytes.length, this.end);
    this.end += bytes.length;
  }

  read(index: number, into: Uint8Array): void {
    if (index < this.kept.length) into.set(this.kept[index]);
    else readSync(this.file, into, 0, into.length, this.places[index - this.kept.length]);
  }

  close(): void {
    if (this.file >= 0) closeSync(this.file);
    this.file = -1;
  }
}
