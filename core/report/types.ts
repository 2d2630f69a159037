/** The report on one take, as it is stored, sent and printed. Field names, units and meanings are the contract in docs/reports. */

export type VerdictWord = 'holds' | 'workable' | 'reshoot' | 'unjudged';

/** A side, or an edge, of the picture. */
export type Side = 'left' | 'right' | 'top' | 'bottom';

/** A run of frames, both ends included. */
export interface Run {
  start: number;
  end: number;
}

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

/** A verdict, or a plain fact where nobody asked: then its verdict is null and it has no limits. */
export type Said = Omit<Verdict, 'verdict'> & { verdict: VerdictWord | null };

/** One of the numbers that decided a verdict, ready to be read out. */
export interface DecidingNumber {
  name: string;
  value: number;
  unit: 'px' | '%' | 'stop' | 'Hz';
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
  /** Frames missing in all, and the frame after which the first are. */
  missing_count: number;
  first_gap_after: number | null;
  timecode: string | null;
  /** The first frame of each further shot inside the file. */
  cuts: number[];
  /** Those of them from which on the same view goes on: the camera was stopped there. */
  stops?: number[];
  /** The frames that were measured: the longest shot, or the one that was asked for. */
  shot: Run;
  /** Frames that the container, its index or its times declare; null when they do not say. */
  declared_frames: number | null;
  /** Whether as many frames could be decoded as are declared, and the file does not break off. */
  complete: boolean;
  /** Runs of frames with errors in their coding. */
  broken_frames: Run[];
}

export interface Knock {
  start: number;
  end: number;
  peak_px: number;
  rest_px: number;
}

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
  /** The take less a useless head and tail; the numbers here speak of it. Null when nothing could be followed. */
  usable_run: Run | null;
  /** Whether the camera was held by hand. */
  handheld: boolean;
  /** Whether the camera moved all the time, by hand or on purpose. */
  moves: boolean;
  /** Median speed of the worst corner while the camera moves; null when it stands. */
  speed_px_per_s: number | null;
  /** The steadiest runs of some lengths, the shortest first, with how far the picture moves in each. */
  steadiest: { seconds: number; run: Run; peak_px: number }[];
  make_still_crop_pct: number | null;
  uncertainty_px: number | null;
  still_share: number | null;
  /** Share of the frames in which the camera's place could be measured. */
  measured_share: number;
  /** Share of the frames that could be followed only from one to the next, or that change nearly everywhere. */
  restless_share: number;
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

export interface LightMeasure {
  /** Light of the last second less that of the first (medians). */
  drift_stops: number | null;
  range_stops: number | null;
  steps: { frame: number; stops: number }[];
  flicker: { share_pct: number; seen_hz: number } | null;
  /** Red and blue against green, last second less first. */
  white: { red_stops: number; blue_stops: number } | null;
  uncertainty_stops: number | null;
  /** Share of the frames in which the light could be read. */
  measured_share: number;
  brightest_frame: number | null;
  darkest_frame: number | null;
  path: { stops: (number | null)[]; red_stops: (number | null)[]; blue_stops: (number | null)[] };
}

export interface FocusMeasure {
  worst_loss_pct: number | null;
  worst_frame: number | null;
  /** Runs in which fine detail is lost and comes back, or stays lost. */
  hunts: Run[];
  /** Whether the picture's size changes with a hunt: the lens moved. */
  breathing: boolean;
  /** Share of the picture with detail to judge by, 0 to 1. */
  textured_share: number;
  uncertainty_pct: number | null;
  path: { sharpness: (number | null)[] };
}

/** A box in pixels of the picture as shown. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface PresenceMeasure {
  clear_runs: Run[];
  present_runs: Run[];
  /** Runs in which a shadow is in the picture and nobody themselves. */
  shadow_runs: Run[];
  edge_runs: { left: Run[]; right: Run[]; top: Run[]; bottom: Run[] };
  /** Where the picture moves by itself: foliage, water, screens. */
  restless: Box[];
  restless_share: number;
  /** Which way whoever is in travels, degrees, and how fast; null when they do not. Takes measured before this was known have none. */
  travel?: { angle_deg: number; px_per_frame: number } | null;
  /** Why presence could not be told; null when it could. */
  unjudged: string | null;
  path: {
    area_share: (number | null)[];
    shadow_share: (number | null)[];
    left_px: (number | null)[];
    top_px: (number | null)[];
    right_px: (number | null)[];
    bottom_px: (number | null)[];
  };
}

/** What measuring a take by itself finds; the verdicts on it are worked out when they are read. */
export interface TakeMeasures {
  media: MediaFacts;
  lock: LockMeasure;
  light: LightMeasure;
  focus: FocusMeasure;
  presence: PresenceMeasure;
  /** Grain of the picture at measuring size, levels of 255; null in a blank or single picture. */
  grain_levels: number | null;
}

export interface TakeJudgedFor {
  verdict: VerdictWord;
  text: string;
  fix: string | null;
  line: string;
  judged_for: string;
  pending: boolean;
  findings: {
    kind: string;
    name: string;
    says: string;
    trick: string | null;
    verdict: VerdictWord;
    text: string;
    fix: string | null;
  }[];
  file: Verdict | null;
  hidden_share: number;
}

export interface TakeReport {
  file: string;
  /** The take as a whole, judged for what it is for. */
  take: TakeJudgedFor;
  delivery: { width: number; height: number; fps: number | null };
  media: MediaFacts;
  lock: Said & LockMeasure;
  light: Said & LightMeasure;
  focus: Said & FocusMeasure;
  presence: PresenceMeasure;
  /** Grain of the picture at measuring size, levels of 255; null in a blank or single picture. */
  grain_levels: number | null;
}

/** Where a plate comes from. */
export interface PlateSource {
  source: 'clear_run' | 'stitched' | 'file';
  /** The take it comes from, by name; null for a file. */
  take: string | null;
  run: Run | null;
  frames_used: number[];
  unseen_share: number;
  unseen: Box[];
}

/** What lies between a take and a plate, or another take. */
export interface PlateGap {
  /** The take's picture relative to the plate's; null when they could not be laid on each other. */
  offset: { dx_px: number; dy_px: number; rotation_deg: number; scale: number; uncertainty_px: number } | null;
  /** Take less plate: positive is a brighter take. */
  light: {
    gap_stops: number;
    red_stops: number | null;
    blue_stops: number | null;
    worst_region: (Box & { stops: number }) | null;
    fade_in_frames: number;
    uncertainty_stops: number;
  } | null;
  focus: { loss_pct: number; softer: 'plate' | 'take' } | null;
  /** Grain of the take over that of the plate. */
  grain: { ratio: number } | null;
  /** `only` says in which of the two alone a thing stands; null for one that stands elsewhere. */
  moved: (Box & { strength: number; only: 'take' | null })[];
  intruders: Box[];
  settings: { field: string; take: string; plate: string }[];
}

/** A plate against a take, judged. */
export type PlateComparison = PlateGap & Verdict;

export type PlateReport = PlateSource & { [K in keyof PlateComparison]: PlateComparison[K] | null };
