import { COMPILED } from './compiled';

/** What `assembly/` exports; addresses are bytes in the memory of the instance. The sources say what each does. */
interface KernelFunctions {
  alignTemplate(
    plane: number,
    width: number,
    height: number,
    template: number,
    size: number,
    stride: number,
    mask: number,
    scratch: number,
    steps: number,
    reach: number,
    out: number,
  ): number;
  prepareTemplate(
    plane: number,
    width: number,
    left: number,
    top: number,
    size: number,
    stride: number,
    mask: number,
    scratch: number,
    window: number,
    template: number,
    out: number,
  ): void;
  detailOfCells(
    plane: number,
    width: number,
    height: number,
    across: number,
    down: number,
    step: number,
    sums: number,
    fine: number,
    coarse: number,
  ): void;
  shrinkBlocks(
    plane: number,
    width: number,
    height: number,
    factor: number,
    across: number,
    down: number,
    rim: number,
    columns: number,
    out: number,
  ): void;
  widenLuma(plane: number, count: number): void;
  quantileOf(values: number, count: number, q: number): number;
  cellsOverFrames(
    energies: number,
    taken: number,
    frames: number,
    cells: number,
    grain: number,
    gain: number,
    values: number,
    out: number,
  ): void;
  framesOverCells(
    energies: number,
    taken: number,
    frames: number,
    cells: number,
    grain: number,
    gain: number,
    chosen: number,
    many: number,
    best: number,
    values: number,
    out: number,
  ): void;
  supportOf(evidence: number, count: number, pose: number, reach: number): number;
  solveFour(normal: number, right: number, scratch: number, out: number): number;
  fitPose(
    evidence: number,
    count: number,
    pose: number,
    reach: number,
    wide: number,
    rounds: number,
    prior: number,
    normal: number,
    scratch: number,
    out: number,
  ): void;
  countChanges(now: number, before: number, count: number, counts: number): void;
  subtract(
    luma: number,
    table: number,
    expected: number,
    extra: number,
    inverse: number,
    difference: number,
    scaled: number,
    count: number,
  ): void;
  strengthen(scaled: number, rows: number, strength: number, width: number, height: number, share: number): void;
  compareColour(
    blue: number,
    red: number,
    ownBlue: number,
    ownRed: number,
    stray: number,
    gain: number,
    doubt: number,
    colour: number,
    count: number,
  ): void;
  strengthenByColour(
    colour: number,
    across: number,
    down: number,
    width: number,
    height: number,
    noise: number,
    restless: number,
    strength: number,
  ): void;
  addZones(
    luma: number,
    zoneOf: number,
    strength: number,
    restless: number,
    difference: number,
    perStop: number,
    bound: number,
    pixels: number,
    sums: number,
    counts: number,
    all: number,
  ): void;
  layZones(
    stops: number,
    across: number,
    down: number,
    perStop: number,
    width: number,
    height: number,
    row: number,
    field: number,
  ): void;
  addSample(
    even: number,
    own: number,
    table: number,
    mask: number,
    low: number,
    high: number,
    middle: number,
    sums: number,
    squares: number,
    counts: number,
    seen: number,
    count: number,
  ): void;
  showPanorama(
    field: number,
    width: number,
    height: number,
    u0: number,
    v0: number,
    c: number,
    s: number,
    across: number,
    down: number,
    coloured: number,
    luma: number,
    blue: number,
    red: number,
    known: number,
  ): void;
  addToPanorama(
    field: number,
    weight: number,
    width: number,
    fromX: number,
    toX: number,
    fromY: number,
    toY: number,
    u0: number,
    v0: number,
    c: number,
    s: number,
    luma: number,
    blue: number,
    red: number,
    free: number,
    across: number,
    down: number,
    colourAcross: number,
    colourDown: number,
    gain: number,
    follow: number,
  ): void;
  allowances(
    luma: number,
    blue: number,
    red: number,
    width: number,
    height: number,
    slack: number,
    base: number,
    tintSlack: number,
    tinted: number,
    least: number,
    leastColour: number,
  ): void;
  squaresOf(
    luma: number,
    blue: number,
    red: number,
    colourAcross: number,
    ownLuma: number,
    ownBlue: number,
    ownRed: number,
    known: number,
    width: number,
    height: number,
    gain: number,
    least: number,
    leastColour: number,
    cap: number,
    wideCap: number,
    squares: number,
    cut: number,
  ): void;
  markAbove(values: number, count: number, limit: number, marks: number): number;
  leaveOut(values: number, count: number, limit: number, cut: number, rest: number): void;
  divideBy(sums: number, shares: number, count: number): void;
  boxMeans(values: number, width: number, height: number, r: number, columns: number, out: number): void;
  markOther(
    known: number,
    near: number,
    most: number,
    wide: number,
    count: number,
    other: number,
    otherWide: number,
    otherNear: number,
    out: number,
  ): number;
  explainByShift(
    out: number,
    near: number,
    luma: number,
    blue: number,
    red: number,
    colourAcross: number,
    ownLuma: number,
    ownBlue: number,
    ownRed: number,
    known: number,
    width: number,
    height: number,
    gain: number,
    least: number,
    leastColour: number,
    cap: number,
    shifts: number,
    many: number,
    other: number,
    most: number,
    explained: number,
  ): void;
  nextRegion(mask: number, width: number, height: number, start: number, queue: number, out: number): number;
  stepEquations(
    expected: number,
    seen: number,
    usable: number,
    width: number,
    height: number,
    cut: number,
    astray: number,
    whole: number,
    out: number,
  ): void;
  readLight(
    luma: number,
    seen: number,
    places: number,
    levels: number,
    reach: number,
    weight: number,
    stops: number,
    count: number,
    ratios: number,
    bins: number,
    many: number,
    bin: number,
    out: number,
  ): number;
  translate(codes: number, table: number, out: number, count: number): void;
  countAbove(values: number, count: number, bound: number): number;
  settle(
    samples: number,
    masks: number,
    count: number,
    pixels: number,
    noise: number,
    extra: number,
    sure: number,
    hist: number,
    middle: number,
    reach: number,
    unsure: number,
  ): void;
  countLeaving(
    samples: number,
    count: number,
    pixels: number,
    middle: number,
    far: number,
    inside: number,
    spells: number,
    away: number,
    times: number,
    when: number,
  ): void;
  averageColour(
    samples: number,
    blues: number,
    reds: number,
    gains: number,
    spells: number,
    trusted: number,
    count: number,
    width: number,
    height: number,
    across: number,
    down: number,
    middle: number,
    reach: number,
    blue: number,
    red: number,
  ): void;
}

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
  readonly run: KernelFunctions;
  private readonly memory: WebAssembly.Memory;
  private top = FIRST;

  /** @param bytes room made at once; more is taken as it is reserved, which ends earlier arrays over the memory */
  constructor(bytes: number) {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(COMPILED), (c) => c.charCodeAt(0)));
    this.memory = new WebAssembly.Memory({ initial: Math.ceil((FIRST + bytes + SLACK) / PAGE) });
    this.run = new WebAssembly.Instance(compiled, { env: { memory: this.memory } })
      .exports as unknown as KernelFunctions;
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

/** Makes room for pictures of a size once, and again only for another size; what is in it is kept between no two uses. */
export function onceForSize<T>(room: (pixels: number) => T): (pixels: number) => T {
  let made: { pixels: number; room: T } | null = null;
  return (pixels) => {
    if (made?.pixels !== pixels) made = { pixels, room: room(pixels) };
    return made.room;
  };
}
