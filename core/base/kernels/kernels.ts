import { COMPILED } from './compiled';
import { bindLoops, type Loops } from './loops';

const SIZES = { bytes: 1, words: 4, floats: 4, doubles: 8 };
type Kind = keyof typeof SIZES;
/** What an array holds and how many of it. */
type Shape = readonly [Kind, number];
interface Held {
  bytes: Uint8Array;
  words: Uint32Array;
  floats: Float32Array;
  doubles: Float64Array;
}
type Shapes = Record<string, Shape>;
type Arrays<T extends Shapes> = { [K in keyof T]: Held[T[K][0]] };

/** Bytes that arrays take together, at most. */
export function roomFor(shapes: Shapes): number {
  return Object.values(shapes).reduce((sum, [kind, count]) => sum + SIZES[kind] * count + 2 * ALIGNED, 0);
}

const PAGE = 65536;
/** No address is 0, and reading a little before the first is harmless. */
const FIRST = 256;
/** Loops read up to so many bytes past the end of what they are given. */
const SLACK = 32;
/** Arrays begin at multiples of this many bytes, with some room after them. */
const ALIGNED = 16;

let compiled: WebAssembly.Module | null = null;

/**
 * The pixel loops of the core, compiled to WebAssembly, with a memory of their own: several pixels at a time, and no
 * branch that a pixel's noise decides.
 */
export class Kernels {
  readonly run: Loops;
  private readonly memory: WebAssembly.Memory;
  private top = FIRST;

  /** @param bytes room made at once; more is taken as it is reserved, which ends earlier arrays over the memory */
  constructor(bytes: number) {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (c) => c.charCodeAt(0)));
    this.memory = new WebAssembly.Memory({ initial: Math.ceil((FIRST + bytes + SLACK) / PAGE) });
    const instance = new WebAssembly.Instance(compiled, { env: { memory: this.memory } });
    this.run = bindLoops(instance.exports as Parameters<typeof bindLoops>[0]);
  }

  /** Sets room aside and gives its address, a multiple of 16. Throws RangeError when there is no memory left. */
  reserve(bytes: number): number {
    const at = this.top;
    this.top += ((bytes + ALIGNED - 1) & -ALIGNED) + ALIGNED;
    const missing = this.top + SLACK - this.memory.buffer.byteLength;
    // Half as much again each time: growing may copy all there is.
    if (missing > 0) this.memory.grow(Math.ceil(Math.max(missing, this.memory.buffer.byteLength / 2) / PAGE));
    return at;
  }

  /** Bytes set aside so far. */
  get taken(): number {
    return this.top;
  }

  /** Gives back what was set aside since `taken` was this. */
  release(taken: number): void {
    this.top = taken;
  }

  /** Kernels with arrays in their memory, that will not grow any more, and with `spare` bytes for others. */
  static with<T extends Shapes>(shapes: T, spare = 0): { kernels: Kernels; arrays: Arrays<T> } {
    const kernels = new Kernels(roomFor(shapes) + spare);
    return { kernels, arrays: kernels.lay(shapes) };
  }

  /** Sets room aside for arrays one after the other and gives each. Growing the memory ends those given before. */
  lay<T extends Shapes>(shapes: T): Arrays<T> {
    const arrays: Record<string, unknown> = {};
    for (const [name, [kind, count]] of Object.entries(shapes))
      arrays[name] = this[kind](this.reserve(SIZES[kind] * count), count);
    return arrays as Arrays<T>;
  }

  bytes(at: number, count: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, count);
  }

  words(at: number, count: number): Uint32Array {
    return new Uint32Array(this.memory.buffer, at, count);
  }

  floats(at: number, count: number): Float32Array {
    return new Float32Array(this.memory.buffer, at, count);
  }

  doubles(at: number, count: number): Float64Array {
    return new Float64Array(this.memory.buffer, at, count);
  }
}

/** Where an array that kernels handed out begins in their memory. */
export function addressOf(array: { byteOffset: number }): number {
  return array.byteOffset;
}

/** Makes room for pictures of a size once, and again only for a larger one; what is in it is kept between no two uses. */
export function onceForSize<T>(room: (pixels: number) => T): (pixels: number) => T {
  let made: { pixels: number; room: T } | null = null;
  return (pixels) => {
    if (!made || made.pixels < pixels) made = { pixels, room: room(pixels) };
    return made.room;
  };
}
