import type { Outline } from '../presence/fine-background';
import type { KindFrames } from '../presence/kinds';
import { BODY, SHADOW } from '../presence/shade';

export interface Block {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What is in one frame: bodies and shadows as blocks of pixels; null where nothing is known. */
export type BlockFrame = { body?: Block[]; shadow?: Block[] } | null;

/** Frames of blocks, some of which a fixed thing hides. */
export function blockFrames(width: number, height: number, frames: readonly BlockFrame[], thing?: Block): KindFrames {
  const hides = (x: number, y: number) =>
    thing && x >= thing.x && x < thing.x + thing.width && y >= thing.y && y < thing.y + thing.height;
  return {
    width,
    height,
    always: null,
    frames: frames.map((frame): Outline[] | null => {
      if (!frame) return null;
      const rows: number[] = [];
      const add = (blocks: readonly Block[], kind: number) => {
        for (const b of blocks)
          for (let y = Math.max(0, b.y); y < Math.min(height, b.y + b.height); y++)
            for (let x = Math.max(0, b.x); x < Math.min(width, b.x + b.width); x++)
              if (!hides(x, y)) rows.push(y, x, x, kind);
      };
      add(frame.shadow ?? [], SHADOW);
      add(frame.body ?? [], BODY);
      return rows.length ? [{ rows: Int16Array.from(rows) }] : [];
    }),
  };
}
