import { smallSize, type Picture, type SmallPicture, type SmallSize } from './picture';

/** Where the small pictures of a take are kept until all have been seen. */
export interface FrameStore {
  write(index: number, bytes: Uint8Array): void;
  read(index: number, into: Uint8Array): void;
}

export class MemoryStore implements FrameStore {
  private readonly frames: Uint8Array[] = [];

  write(index: number, bytes: Uint8Array): void {
    this.frames[index] = bytes.slice();
  }

  read(index: number, into: Uint8Array): void {
    into.set(this.frames[index]);
  }
}

/** The small pictures of a take, or of some of its frames, to be read. */
export type Pictures = Pick<PictureStack, 'size' | 'count' | 'read'>;

/** All pictures of a take, small, in order: filled frame by frame, read as often as wished. */
export class PictureStack {
  size: SmallSize = { width: 0, height: 0, colourWidth: 0, colourHeight: 0, factor: 1 };
  count = 0;
  private bytes = new Uint8Array(0);
  private at = -1;

  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  frame({ luma, small }: Picture): void {
    this.add(small, this.count ? this.size : smallSize(luma.width, luma.height));
  }

  /** Adds a picture by itself. */
  add({ luma, blue, red }: SmallPicture, size: SmallSize): void {
    if (this.count === 0) {
      this.size = size;
      this.bytes = new Uint8Array(luma.length + blue.length + red.length);
    }
    this.bytes.set(luma, 0);
    this.bytes.set(blue, luma.length);
    this.bytes.set(red, luma.length + blue.length);
    this.store.write(this.count++, this.bytes);
    this.at = -1;
  }

  /** The picture of a frame; valid until the next call. */
  read(frame: number): SmallPicture {
    if (frame !== this.at) this.store.read(frame, this.bytes);
    this.at = frame;
    const { width, height, colourWidth, colourHeight } = this.size;
    const luma = width * height,
      colour = colourWidth * colourHeight;
    return {
      luma: this.bytes.subarray(0, luma),
      blue: this.bytes.subarray(luma, luma + colour),
      red: this.bytes.subarray(luma + colour, luma + 2 * colour),
    };
  }
}
