import { COMPILED } from './compiled';

/** What `assembly/` exports; addresses are bytes in the memory of the instance. The sources say what each does. */
interface KernelFunctions {
  alignTemplate(plane: number, width: number, height: number, template: number, size: number, stride: number, mask: number, scratch: number, steps: number, reach: number, out: number): number;
  sampleWindow(plane: number, width: number, left: number, top: number, size: number, stride: number, scratch: number, out: number): void;
  addDetail(from: number, to: number, width: number, out: number): void;
  countChanges(now: number, before: number, count: number, counts: number): void;
}

const PAGE = 65536;
/** No address is 0, and reading a little before the first is harmless. */
const FIRST = 256;
/** Loops read up to so many bytes past the end of what they are given. */
const SLACK = 32;

let compiled: WebAssembly.Module | null = null;

/**
 * The pixel loops of the core, compiled to WebAssembly, with a memory of their own: several pixels at a time, and no branch that a
 * pixel's noise decides.
 */
export class Kernels {
  readonly run: KernelFunctions;
  private readonly memory: WebAssembly.Memory;
  private top = FIRST;

  /** @param bytes room made at once; more is taken as it is reserved, which ends earlier arrays over the memory */
  constructor(bytes: number) {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (c) => c.charCodeAt(0)));
    this.memory = new WebAssembly.Memory({ initial: Math.ceil((FIRST + bytes + SLACK) / PAGE) });
    this.run = new WebAssembly.Instance(compiled, { env: { memory: this.memory } }).exports as unknown as KernelFunctions;
  }

  /** Sets room aside and gives its address, a multiple of 16. Throws RangeError when there is no memory left. */
  reserve(bytes: number): number {
    const at = this.top;
    this.top += (bytes + 15) & ~15;
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
