import type { TakeAnalysis } from './analysis';
import { applySimilarity } from '../base/geometry/similarity';

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

type Told = Pick<TakeAnalysis, 'scene' | 'figures' | 'followed' | 'factor' | 'probe'>;

/** What a take's page draws over its pictures; null where nothing is known of who is in. */
export function outlinesOf(take: Told): Outlines | null {
  const { scene, figures, followed } = take;
  if (followed)
    return { width: followed.width, height: followed.height, zone_step: 1, frames: whereSeen(take), zones: [] };
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

/** Whoever is followed lies where another frame shows the place: their rows as each frame itself shows them. */
function whereSeen({ followed, factor, probe }: Told): number[][] {
  const { figures, poses, width, height } = followed!;
  const [cx, cy] = [probe.width / 2, probe.height / 2];
  return figures.map((all, f) => {
    const pose = poses[f];
    const out: number[] = [];
    for (const { rows } of all ?? [])
      for (let r = 0; r < rows.length; r += 4) {
        const [y, from, to, kind] = [rows[r], rows[r + 1], rows[r + 2], rows[r + 3]];
        const middle: [number, number] = [((from + to + 1) / 2) * factor, (y + 0.5) * factor];
        const [u, v] = pose ? applySimilarity(pose, middle[0] - cx, middle[1] - cy) : [middle[0] - cx, middle[1] - cy];
        const [dx, dy] = [u + cx - middle[0], v + cy - middle[1]].map((d) => Math.round(d / factor));
        const [first, last] = [Math.max(0, from + dx), Math.min(width - 1, to + dx)];
        if (first <= last && y + dy >= 0 && y + dy < height) out.push(y + dy, first, last, kind);
      }
    return out;
  });
}
