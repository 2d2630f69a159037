import type { CameraNotes } from '../../core/plan/types';
import type { SumKind, SumValues } from '../../core/calculators/kinds';
import type { TrickWishes } from '../../core/tricks/types';
import type { Zone } from '../../core/tricks/zones';
import type { CameraSettings } from '../../standin/settings';

export type DemoTake = Partial<CameraSettings> & {
  circled?: true;
  /** Frames that somebody marked in it. */
  marks?: { frame: number; name: string }[];
};
export interface DemoTrick {
  key: string;
  wishes?: Partial<TrickWishes>;
  /** Shares of the picture. */
  zone?: Zone;
  sums?: { kind: SumKind; inputs: SumValues }[];
}
export interface DemoSetup {
  name: string;
  place: string;
  notes: string;
  scene: CameraSettings['scene'];
  camera: Partial<CameraNotes>;
  tricks: DemoTrick[];
  /** Takes rolled by the stand-in camera, by the name of the part. */
  takes: Record<string, DemoTake[]>;
}

export const BODY: Partial<CameraNotes> = {
  camera: 'B camera',
  width: 1920,
  height: 1080,
  fps: 25,
  shutter_s: 1 / 50,
  iso: 1600,
  white_k: 3600,
};
