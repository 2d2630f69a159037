/** Every tolerance that turns a number into a verdict. Pixels are pixels at delivery size. */
export const LIMITS = {
  lock: {
    /** Up to this movement of the frame's worst corner, passes can be laid over each other as shot. */
    holds_px: 0.35,
    /** The largest crop to make a take still, when it was not recorded larger than delivery, per cent of width. */
    crop_pct: 5,
    /** Movement is told from measuring error when it exceeds this many standard deviations. */
    sure_sigmas: 3,
    /** At least this share of the frames must be measured before a take counts as still. */
    measured_share: 0.6,
    /** Less of the picture than this with detail says nothing. */
    textured_share: 0.05,
    /** Movement seen in fewer frames than this share may belong to something in front of the camera. */
    believable_share: 0.3,
    /** Nor is movement of a small part of the picture believed when nothing can be said of the rest. */
    spread_share: 0.55,
    /** Nor when this many spots stayed put for each that moved. */
    rival_ratio: 0.3,
    /** A camera that moves all the time is called so from this movement on, delivery pixels; less is a tremor. */
    moves_px: 3,
    /** The whole picture moves when so many frames can be followed from one to the next at best. */
    restless_share: 0.4,
    /** The steadiest run that is named lasts so long, s, where nobody asks for a length. */
    steady_s: 2,
  },
  light: {
    /** Up to this change, stops, nobody sees a seam between two halves of the picture. */
    holds_stops: 0.1,
    /** Up to this change it can be graded out. */
    grade_stops: 0.7,
    /** A jump is seen sooner than a slow change. */
    step_stops: 0.06,
    /** A rhythm of this share of the light begins to be seen beside a still plate, per cent. */
    flicker_pct: 1,
    grade_flicker_pct: 12,
    /** Red or blue against green. */
    white_stops: 0.07,
    /** Light must be read in this share of the frames. */
    measured_share: 0.5,
  },
  focus: {
    /** Fine detail that may be lost before a plate looks sharper than the take, per cent. */
    holds_pct: 15,
    /** A loss up to here can be softened in the plate, per cent. */
    soften_pct: 35,
    textured_share: 0.02,
  },
  cover: {
    /** Speed that varies by more than this share of itself shows beside an even in side. */
    uneven_share: 0.35,
    /** An edge softer than this share of the picture's width is more guessed than seen. */
    soft_share: 0.08,
    /** The background must be well seen in this share of the frames that show it. */
    sure_share: 0.5,
    /** Of what seems open, so much may look like the object itself. */
    alike_share: 0.5,
    /** An object covers and frees each pixel once; more changes than this on the mean are no object's. */
    changes: 3.3,
    /** No edge covers more than this from one frame to the next. */
    jump_share: 0.7,
    /** Something that covers less than this was never meant to cover. */
    tried_share: 0.35,
    /** A closing edge may bend by this share of the width before a straight mask shows it. */
    bend_share: 0.004,
    roll_deg: 2,
    sway_share: 0.02,
  },
  cut: {
    /** Two movements this far apart still read as one way. */
    angle_deg: 20,
    /** Speeds this near, octaves, cut without a jump; further apart than the second a change of speed shows. */
    speed_octaves: 0.16,
    retime_octaves: 1,
    /** So many of the frames must keep to one speed. */
    steady_share: 0.6,
    /** Shutters this near, octaves, blur alike. */
    shutter_octaves: 0.34,
  },
  plate: {
    /** Up to this offset of the worst corner, source pixels, a plate lies on the take as shot. */
    offset_px: 0.5,
    light_stops: 0.1,
    /** Things smaller than this share of the picture may have moved. */
    moved_share: 0.0015,
    /** A plate is brought in so slowly that each frame changes by no more than this, stops, over so many frames at most. */
    fade_step_stops: 0.02,
    fade_frames: 250,
    /** A gap up to here is not seen even at once. */
    unseen_stops: 0.03,
    /** Restless regions larger than this share of the picture hide too much to call a plate clean. */
    restless_share: 0.35,
  },
  pair: {
    /** A soft line wants this share of the picture's width; a harder one is seen. */
    feather_share: 0.015,
    /** Up to this step of light, stops, a soft line between two passes is not seen. */
    light_stops: 0.1,
    /** Light that somebody throws over the line, stops: more shows where it ends at a soft line. */
    thrown_stops: 0.15,
    /** Who is in must be known in this share of the frames. */
    known_share: 0.9,
  },
  zone: {
    /** Of an opening's edge so much must be readable that a mask is drawn by hand in a few places only. */
    readable_share: 0.85,
  },
  hide: {
    /** A soft split wants this share of the picture's width to whatever is nearest. */
    margin_share: 0.0075,
    /** What crosses the split in so many frames at most is drawn by hand. */
    by_hand_frames: 25,
  },
  still: {
    /** A held figure smeared by more than this, delivery pixels, looks soft; by more than the second, nobody can cut it out. */
    blur_px: 4,
    most_blur_px: 12,
    /** Of the sharpest its take shows, so much. */
    sharpness: 0.45,
  },
  figure: {
    /** What is whole in fewer of the take's frames than this share is not what the take is of. */
    run_share: 0.4,
    /** A held thing may drift by this share of its size, per cent; by so many times that it can be held still in the edit. */
    drift_pct: 10,
    drift_mend: 4,
    /** A jump is cut out in so many frames. */
    cut_frames: 8,
    /** An outline can be followed in a frame where so much of it stands out; where so much does, the rest can be drawn. */
    outline_share: 0.75,
    outline_mend: 0.5,
  },
  spot: {
    /** Delivery pixels, where nothing else is asked for; so many times that is too far to be moved in the edit. */
    usual_px: 20,
    far: 3,
    /** Sizes further apart than this, octaves, show; than the second, too much to be mended. */
    size_octaves: 0.08,
    size_far: 0.3,
  },
  beats: {
    /** Sound further off its strike than this, frames, is noticed; further than the second, it is of something else. */
    sound_frames: 2,
    same_event_frames: 12,
    /** A mark by hand within so many frames of a beat that was found is of that beat. */
    mark_frames: 4,
  },
  cloth: {
    /** Cloth and performer must differ in so much of their colours. */
    told_apart: 0.35,
    /** A cloth that falls tilted by more is let go of at one corner. */
    tilt_deg: 8,
  },
  one_roll: {
    /** Nothing may have shifted by more than this, delivery pixels and stops, when the camera was stopped between two parts. */
    px: 0.5,
    stops: 0.05,
  },
  rate: {
    /** Rates closer than this, as a share, are the same: containers round their times. */
    same: 0.0005,
    /** Clocks of two cameras of one nominal rate. */
    near: 0.002,
    /** A wandering rate strays by less than this from what the camera was set to. */
    wandering: 0.1,
    /** With fewer distinct pictures than this share of its rate a file repeats frames. */
    distinct_share: 0.97,
    /** What containers' rounded times and one repeated frame may cost of a rate that was asked for. */
    asked_share: 0.99,
  },
  meter: {
    /** A meter read by hand is good for this, stops; readings further apart than the second differ. */
    error_stops: 0.08,
    differs_stops: 0.15,
  },
  /** Grain of two takes that differs by more than this factor is seen. */
  grain_ratio: 1.4,
  /** Headroom may fall short of what was asked for by this, per cent. */
  headroom_slack_pct: 0.5,
  /** A move that varies by up to so many times its tolerance can be mended in the edit. */
  uneven_mend: 2.5,
} as const;
