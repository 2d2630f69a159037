import type { TakeAnalysis } from './measure-take';

/** Who stands where in each frame, as rows of a small picture, and the light of the picture's zones now and then. */
export interface Outlines {
  width: number;
  height: number;
  /** For each frame rows of four numbers: y, first x, last x, kind (1 body, 2 shadow). */
  frames: number[][];
  /** Every so many frames the light of 16 x 9 zones beside the whole picture's, in hundredths of a stop. */
  zone_step: number;
  zones: number[][];
}

/** What a take's page draws over its pictures; null where nothing is known of who is in. */
export function outlinesOf({ scene, figures }: TakeAnalysis): Outlines | null {
  if (!scene) return null;
  const { background, zones, zoneStep } = scene;
  return {
    width: background.width,
    height: background.height,
    zone_step: zoneStep,
    frames: figures.map((all) => (all ?? []).flatMap((a) => Array.from(a.rows))),
    zones: zones.map((z) => Array.from(z, (v) => Math.round(100 * v))),
  };
}
