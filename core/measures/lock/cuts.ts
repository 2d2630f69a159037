import { median } from '../../base/numeric/quantile';
import type { Run } from '../../report/types';
import type { Anchor, FrameRecord } from './anchor';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, round } = Math;

/** Frames between two shots that belong to neither, at most: a blended one. */
const BLENDED = 1;
/** Just before a cut the picture is still seen as well as it was, or nearly: what is covered bit by bit is not. */
const AS_BEFORE = 0.6;
/** And it is a picture that can be followed at all: so many of its patches are found. */
const LEAST_SEEN = 0.3;
/** A shot amid the file is at least this long; something held before the lens and taken away again is at most so long, s. */
const LEAST_SHOT_S = 0.4;
const LONGEST_COVER_S = 4;
/** At the head and at the end of a file what lasts no longer is the rest of another shot, s: no hand takes a slate away so soon. */
const REST_S = 0.12;

/**
 * The first frame of each further shot: there what was followed is gone from one frame to the next, and something else is
 * followed from there on. What comes back after a while was only covered.
 */
export function findCuts(anchors: readonly Anchor[], records: readonly FrameRecord[], fps: number): number[] {
  const runs: (Run & { island: number })[] = [];
  records.forEach(({ anchor }, f) => {
    if (anchor < 0) return;
    const { island } = anchors[anchor];
    const last = runs[runs.length - 1];
    if (last?.island === island) last.end = f;
    else runs.push({ start: f, end: f, island });
  });
  const least = leastShot(fps),
    rest = round(REST_S * fps),
    cover = round(LONGEST_COVER_S * fps);
  const cuts: number[] = [];
  for (let k = 1; k < runs.length; k++) {
    const [a, b] = [runs[k - 1], runs[k]];
    const comesBack = runs.slice(k + 1).some((r) => r.island === a.island && r.start - a.end <= cover);
    const cameBack = runs.slice(0, k - 1).some((r) => r.island === b.island && b.start - r.end <= cover);
    if (b.start - a.end - 1 > BLENDED || comesBack || cameBack) continue;
    // What is left of another shot at either end is of a few frames; a slate stays for longer.
    const isRest = (r: Run) => (r.start === 0 || r.end === records.length - 1) && r.end - r.start + 1 <= rest;
    const isShot = (r: Run) => r.end - r.start + 1 >= least || isRest(r);
    if (!isShot(a) || !isShot(b)) continue;
    const ends = [seenAt(records, a.end), usual(records, a, false)],
      begins = [seenAt(records, b.start + 1), usual(records, b, true)];
    if ([ends, begins].every(([seen, before]) => seen >= max(LEAST_SEEN, AS_BEFORE * before))) cuts.push(b.start);
  }
  return cuts;
}

/** The least length of a shot, in frames. */
export const leastShot = (fps: number): number => max(2, round(LEAST_SHOT_S * fps));

/** Share of the patches looked for that were found. */
function seenAt(records: readonly FrameRecord[], f: number): number {
  const s = records[f]?.sighting?.read();
  if (!s) return 0;
  const looked = s.looked.reduce((a, b) => a + b, 0);
  return s.found.reduce((a, b) => a + b, 0) / max(1, looked);
}

/** The same over the frames nearest to one end of a run. */
function usual(records: readonly FrameRecord[], { start, end }: Run, first: boolean): number {
  const shares: number[] = [];
  for (let n = 1; n <= 12; n++) {
    const f = first ? start + n : end - n;
    if (f >= start && f <= end && records[f].sighting) shares.push(seenAt(records, f));
  }
  return shares.length ? median(shares) : 0;
}

/** The shots of a file of so many frames. */
export function shotsOf(cuts: readonly number[], count: number): Run[] {
  const starts = [0, ...cuts];
  return starts.map((start, k) => ({ start, end: (starts[k + 1] ?? count) - 1 }));
}
