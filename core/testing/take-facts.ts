import type {
  FocusSummary,
  LightSummary,
  LockSummary,
  PresenceSummary,
  MediaSummary,
  TakeFacts,
} from '../report/summaries';
import type { JudgedTake } from '../judge/measure';

const LAST = 149;

/** Facts of a whole file of 150 frames, 1280 x 720 at 25 a second. */
export const mediaSummary = (more: Partial<MediaSummary> = {}): MediaSummary => ({
  width: 1280,
  height: 720,
  rotation_deg: 0,
  codec: 'h264',
  pixel_format: 'yuv420p',
  container_fps: '25/1',
  repeated_share: 0,
  timecode: null,
  bit_depth: 8,
  frame_count: LAST + 1,
  duration_s: 6,
  measured_fps: 25,
  real_fps: 25,
  variable_rate: false,
  missing_count: 0,
  first_gap_after: null,
  cuts: [],
  shot: { start: 0, end: LAST },
  declared_frames: LAST + 1,
  complete: true,
  broken_frames: [],
  ...more,
});

/** A camera that stood, known to a fiftieth of a pixel. */
export const lockSummary = (more: Partial<LockSummary> = {}): LockSummary => ({
  reference_frame: 0,
  peak_px: 0.1,
  sure_peak_px: null,
  peak_frame: 10,
  drift_px: 0.02,
  jitter_px: 0.02,
  peak_rotation_deg: 0,
  peak_scale_pct: 0,
  knocks: [],
  usable_run: null,
  handheld: false,
  moves: false,
  speed_px_per_s: null,
  steadiest: [],
  make_still_crop_pct: 0.1,
  uncertainty_px: 0.02,
  still_share: 0.9,
  measured_share: 1,
  restless_share: 0,
  spread_share: 1,
  rival_ratio: 0,
  textured_share: 0.9,
  ...more,
});

/** Light that stays the same. */
export const lightSummary = (more: Partial<LightSummary> = {}): LightSummary => ({
  drift_stops: 0.01,
  range_stops: 0.03,
  steps: [],
  flicker: null,
  white: { red_stops: 0, blue_stops: 0 },
  uncertainty_stops: 0.004,
  measured_share: 1,
  brightest_frame: 100,
  darkest_frame: 20,
  ...more,
});

/** A focus that holds. */
export const focusSummary = (more: Partial<FocusSummary> = {}): FocusSummary => ({
  worst_loss_pct: 2,
  worst_frame: 3,
  hunts: [],
  breathing: false,
  textured_share: 0.5,
  uncertainty_pct: 1,
  ...more,
});

/** Nobody in. */
export const presenceSummary = (more: Partial<PresenceSummary> = {}): PresenceSummary => ({
  clear_runs: [{ start: 0, end: LAST }],
  present_runs: [],
  shadow_runs: [],
  edge_runs: { left: [], right: [], top: [], bottom: [] },
  restless: [],
  restless_share: 0,
  unjudged: null,
  ...more,
});

/** A sound take. @param facts what differs */
export const soundTake = (
  facts: { [K in keyof Omit<TakeFacts, 'grain_levels'>]?: Partial<TakeFacts[K]> } = {},
  more: Partial<JudgedTake> = {},
): JudgedTake => ({
  id: 't',
  number: 2,
  name: 'Part',
  isPlate: false,
  facts: {
    media: mediaSummary(facts.media),
    lock: lockSummary(facts.lock),
    light: lightSummary(facts.light),
    focus: focusSummary(facts.focus),
    presence: presenceSummary(facts.presence),
    grain_levels: 2,
  },
  ...more,
});
