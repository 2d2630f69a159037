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
    /** Movement seen in fewer frames than this share may belong to something in front of the camera. */
    believable_share: 0.3,
    /** Nor is movement of a small part of the picture believed when nothing can be said of the rest. */
    spread_share: 0.55,
    /** Nor when this many spots stayed put for each that moved. */
    rival_ratio: 0.3,
  },
} as const;
