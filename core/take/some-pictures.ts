import type { Picture } from '../base/image/picture';

/** A picture of a take that was kept. */
export type KeptPicture = Picture & { frame: number };

/** At most so many pictures are kept. */
const MOST = 24;

/** Keeps some of a take's pictures at measuring size, spread over all of it, however long it is. */
export class SomePictures {
  pictures: KeptPicture[] = [];
  private step = 1;
  private count = 0;

  /** Takes the next frame's picture, which may be used again afterwards. */
  frame({ luma, small }: Picture): void {
    const frame = this.count++;
    if (frame % this.step !== 0) return;
    if (this.pictures.length === MOST) {
      this.step *= 2;
      this.pictures = this.pictures.filter((p) => p.frame % this.step === 0);
      if (frame % this.step !== 0) return;
    }
    this.pictures.push({ frame, ...ownPicture({ luma, small }) });
  }
}

/** A picture in memory of its own. */
export const ownPicture = ({ luma, small }: Picture): Picture => ({
  luma: { ...luma, data: luma.data.slice() },
  small: { luma: small.luma.slice(), blue: small.blue.slice(), red: small.red.slice() },
});
