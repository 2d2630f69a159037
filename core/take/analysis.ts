import type { Similarity } from '../base/geometry/similarity';
import type { CellDetail } from '../measures/focus/free-detail';
import type { Figure } from '../presence/figures';
import { measurePresence } from '../presence/measure';
import type {
  FocusMeasure,
  LightMeasure,
  LockMeasure,
  MediaFacts,
  PresenceMeasure,
  TakeMeasures,
} from '../report/types';
import type { SceneAnalysis } from './analyse-scene';
import type { FollowedScene } from './followed';
import type { FineOutlines } from './fine-outlines';
import type { KeptPicture } from './some-pictures';
import type { PictureFacts } from './source';

type SmallFrame = { width: number; height: number };

/** What one decode of a take gives, before it is put into a report. */
export interface TakeAnalysis {
  probe: PictureFacts;
  media: MediaFacts;
  lock: LockMeasure;
  fps: number;
  poses: (Similarity | null)[];
  unjudged: string | null;
  /** Source pixels for one small pixel. */
  factor: number;
  scene: SceneAnalysis | null;
  figures: (Figure[] | null)[];
  /** Who is in while the camera goes far, each frame as it lies on another; null where one background serves. */
  followed: (Pick<FollowedScene, 'figures' | 'poses' | 'restless' | 'unjudged'> & SmallFrame) | null;
  light: LightMeasure;
  focus: FocusMeasure;
  /** Detail of the still parts that nobody covers. */
  detail: CellDetail;
  /** Grain of the first picture, levels at measuring size. */
  grain: number;
  /** Whoever is in, outlined finely, where that was asked for. */
  fine: FineOutlines | null;
  /** Some of its pictures; null where they were not kept. */
  kept?: KeptPicture[] | null;
}

/** What was measured, without what is only drawn or kept for other measures. */
export function measuresOf(a: TakeAnalysis): TakeMeasures {
  const { media, lock, light, focus } = a;
  return {
    media,
    lock,
    light,
    focus,
    presence: presenceOf(a),
    grain_levels: Number.isFinite(a.grain) ? a.grain : null,
  };
}

/** Who is in, and when. */
export function presenceOf(a: TakeAnalysis): PresenceMeasure {
  const { figures, poses } = a.followed ?? a;
  return measurePresence(
    figures,
    a.followed ?? a.scene?.background ?? null,
    { width: a.probe.width, height: a.probe.height, factor: a.factor, poses },
    a.followed ? a.followed.unjudged : a.unjudged,
  );
}
