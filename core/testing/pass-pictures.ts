import { IDENTITY } from '../base/geometry/similarity';
import { BT709, type Picture } from '../base/image/picture';
import { keepLasting } from '../presence/measure';
import { analyseScene } from '../take/analyse-scene';
import { PictureStack } from '../base/image/stack';
import { SteadyReader } from '../scene/steady-reader';

/** Every third picture of a locked take with who is in it, and what the take tells of its background. */
export function passPictures(take: Iterable<Picture>) {
  const stack = new PictureStack();
  for (const picture of take) stack.frame(picture);
  const { factor, width, height } = stack.size;
  const poses = Array.from({ length: stack.count }, () => IDENTITY);
  const scene = analyseScene({ stack, poses, factor, fps: 25, transfer: null, matrix: BT709 })!;
  const figures = keepLasting(scene.figures);
  const reader = new SteadyReader(stack, poses, factor);
  const pictures = poses.flatMap((_, frame) => {
    const { luma, ...rest } = reader.read(frame)!;
    return frame % 3 ? [] : [{ frame, picture: { ...rest, luma: luma.slice() }, figures: figures[frame] ?? [] }];
  });
  /** 1 at the small pixels to the right of a source column. */
  const rightOf = (line: number) =>
    Uint8Array.from({ length: width * height }, (_, i) => ((i % width) * factor > line ? 1 : 0));
  return { pictures, scene, figures, factor, rightOf };
}
