import { asBytes, type Plane } from '../base/image/plane';

/** A picture of a take that was kept. */
export interface KeptPicture {
  frame: number;
  luma: Plane;
}

/** At most so many pictures are kept. */
const MOST = 24;

/** Keeps some of a take's pictures at measuring size, spread over all of it, however long it is. */
export class SomePictures {
  pictures: KeptPicture[] = [];
  private step = 1;
  private count = 0;

  /** Takes the next frame's picture, which may be used again afterwards. */
  frame(luma: Plane): void {
    const frame = this.count++;
    if (frame % this.step !== 0) return;
    if (this.pictures.length === MOST) {
      this.step *= 2;
      this.pictures = this.pictures.filter((p) => p.frame % this.step === 0);
      if (frame % this.step !== 0) return;
    }
    this.pictures.push({ frame, luma: { ...luma, data: asBytes(luma).slice() } });
  }
}
