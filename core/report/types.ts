/** The report on one take, as it is stored, sent and printed. Field names, units and meanings are the contract in docs/reports. */

export type VerdictWord = 'holds' | 'workable' | 'reshoot' | 'unjudged';

/** A run of frames, both ends included. */
export interface Run { start: number; end: number }

export interface Reason {
  code: string;
  text: string;
  frames: Run[];
  value: number | null;
  limit: number | null;
  /** What to do now; null when nothing needs doing. */
  fix: string | null;
}

export interface Verdict {
  verdict: VerdictWord;
  /** The worst first. */
  reasons: Reason[];
  /** The numbers that decided it, at delivery size, two at most. */
  deciding: DecidingNumber[];
}

/** One of the numbers that decided a verdict, ready to be read out. */
export interface DecidingNumber {
  name: string;
  value: number;
  unit: 'px' | '%';
  limit: number | null;
  frame: number | null;
}

export interface MediaFacts {
  width: number;
  height: number;
  rotation_deg: number;
  codec: string;
  pixel_format: string;
  bit_depth: number;
  frame_count: number;
  duration_s: number | null;
  container_fps: string;
  measured_fps: number | null;
  variable_rate: boolean | null;
  repeated_frames: number[];
  repeated_share: number;
  real_fps: number | null;
  missing_frames: { after: number; count: number }[];
  timecode: string | null;
}

export interface Knock { start: number; end: number; peak_px: number; rest_px: number }

export interface LockMeasure {
  reference_frame: number | null;
  peak_px: number | null;
  /** The greatest displacement that measuring error does not explain; at most the peak. */
  sure_peak_px: number | null;
  /** The frame in which the peak lies. */
  peak_frame: number | null;
  drift_px: number | null;
  jitter_px: number | null;
  peak_rotation_deg: number | null;
  peak_scale_pct: number | null;
  knocks: Knock[];
  make_still_crop_pct: number | null;
  uncertainty_px: number | null;
  still_share: number | null;
  /** Share of the frames in which the camera's place could be measured. */
  measured_share: number;
  /** Spots of the reference frame that the measure rests on: centre and side in source pixels, trust 0 to 1. */
  patches: { x_px: number; y_px: number; size_px: number; trust: number; witness: boolean }[];
  /** Share of twelve equal fields of the picture that hold a patch which was seen to make the greatest movement, 0 to 1. */
  spread_share: number;
  /** How many spots stayed where they were for each that went with the movement, where it moved: 0 when all went along. */
  rival_ratio: number;
  /** Share of the picture that has enough texture to follow, 0 to 1. */
  textured_share: number;
  path: {
    dx_px: (number | null)[];
    dy_px: (number | null)[];
    rotation_deg: (number | null)[];
    scale: (number | null)[];
    /** Greatest displacement of a corner or the centre. */
    displacement_px: (number | null)[];
  };
}

export interface TakeReport {
  file: string;
  delivery: { width: number; height: number; fps: number | null };
  media: MediaFacts;
  lock: Verdict & LockMeasure;
  light: null;
  focus: null;
  presence: null;
}
