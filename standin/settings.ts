/** What may be acted, and what may go wrong with it. */
export type ActName =
  | 'none'
  | 'jumps'
  | 'clothes-drop'
  | 'leaps'
  | 'falls'
  | 'reacts'
  | 'drives-by'
  | 'taps'
  | 'lights-lamp'
  | 'throws-cloth'
  | 'pulls-cloth'
  | 'mimes'
  | 'runs-out'
  | 'runs-in'
  | 'hangs';
export type ActFault =
  | 'none'
  | 'blurred'
  | 'elsewhere'
  | 'on-feet'
  | 'out-of-top'
  | 'arm-beside'
  | 'late'
  | 'wrong-way'
  | 'cut-off'
  | 'spills'
  | 'swings';

/** How the stand-in camera is to record. */
export interface CameraSettings {
  scene: 'kiosk' | 'pillar' | 'bench';
  /** `nudged`: still, but moved a little before this take. */
  tripod: 'still' | 'drift' | 'knock' | 'handheld' | 'breathing' | 'nudged';
  /**
   * Who is in. `stands-across`: at the second mark, across from the first; from there somebody `reaches-over` to the first
   * one's side with an arm, or their `shadow-crosses` to it. `in-opening`: somebody comes to the window and stays in it;
   * `leaves-opening`: they lean out of it for a while. `slips-behind`: somebody goes behind the pillar, side on, and stays
   * there; `slips-before`: they stop in front of it instead.
   */
  crossing:
    | 'nobody'
    | 'left-to-right'
    | 'right-to-left'
    | 'stands'
    | 'comes-and-stays'
    | 'shadow-only'
    | 'slips-behind'
    | 'slips-before'
    | 'stands-across'
    | 'reaches-over'
    | 'shadow-crosses'
    | 'in-opening'
    | 'leaves-opening';
  seconds: number;
  fps: number;
  /** Picture width in pixels; the height follows at 16:9. */
  width: number;
  /** Standard deviation of the grain, in levels of 255. */
  grain: number;
  seed: number;
  /** What the light does. `brighter` and `darker` are steady, but a third of a stop off: the camera was stopped between takes. */
  light?: 'steady' | 'drift' | 'step' | 'cloud' | 'flicker' | 'brighter' | 'darker';
  white?: 'steady' | 'shift';
  focus?: 'held' | 'hunt' | 'soft';
  /** A crate on the ground, where it belongs or a hand's breadth off; or the lantern taken away. */
  prop?: 'none' | 'crate' | 'crate-off' | 'lantern-off';
  /** A tree in the wind at the edge of the picture. */
  tree?: boolean;
  rate?: 'steady' | 'wandering';
  /**
   * What covers the picture: a cart or a coat that passes, a near post that the camera pans past, a door that it walks
   * up to, a lid that closes.
   */
  wipe?: 'none' | 'cart' | 'coat' | 'pan' | 'walk-in' | 'lid';
  wipe_way?: 'left-to-right' | 'right-to-left';
  /**
   * What goes wrong with it: a corner that it misses, an object that does not leave or never fills the frame, an
   * uneven pace, soft edges.
   */
  wipe_fault?: 'none' | 'misses-corner' | 'stays-in' | 'uneven' | 'soft';
  /**
   * What is done in front of the camera, in place of somebody who crosses. `jumps`: the take ends at the top of the jump;
   * `clothes-drop`: their clothes alone fall from there; `reacts`: to what comes from the left; `drives-by`: a van from the
   * left; `taps`: beside the lantern, three times; `lights-lamp`: the lantern's light comes on; `hangs`: a lantern in the air.
   */
  act?: ActName;
  /**
   * What goes wrong with it: never at rest and smeared; a hand's breadth off, or across the lantern; the cloth lands on the
   * feet, leaves the picture at the top, leaves an arm beside it, or is down before they have gone; carried off the wrong
   * way; out of the picture at the top; light over all of the place;
   * a hung thing that swings.
   */
  act_fault?: ActFault;
  /** Whether what is done makes a sound: a clap on each strike and each step of light. */
  clap?: boolean;
  /** The in side moves as the out side does, with nothing in front. */
  wipe_side?: 'out' | 'in';
}
