/** How the stand-in camera is to record. */
export interface CameraSettings {
  scene: 'kiosk' | 'pillar' | 'bench';
  tripod: 'still' | 'drift' | 'knock' | 'handheld' | 'breathing';
  crossing: 'nobody' | 'left-to-right' | 'right-to-left' | 'stands';
  seconds: number;
  fps: number;
  /** Picture width in pixels; the height follows at 16:9. */
  width: number;
  /** Standard deviation of the grain, in levels of 255. */
  grain: number;
  seed: number;
}
