/** What the numbers of a cover are given in. */
export interface CoverContext {
  /** Size of the picture as shown, source pixels, and source pixels for one measuring pixel. */
  width: number;
  height: number;
  factorX: number;
  factorY: number;
  delivery: { width: number; height: number };
}

/** The picture counts as full when no more than this share of it is open. */
export const FULL = 0.998;
/** What covers less than this at most covers nothing. */
export const LEAST_COVER = 0.05;
