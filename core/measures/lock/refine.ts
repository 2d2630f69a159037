import { composeSimilarity, cornersAndCentre, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { median, select } from '../../base/numeric/quantile';
import { seededRandom } from '../../base/numeric/random';
import {
  agrees,
  covarianceOf,
  fitPose,
  poseToSimilarity,
  searchPose,
  similarityToPose,
  strayOf,
  tellsApart,
  type Fit,
  type Pose,
} from './consensus';
import { reliabilities, type Anchor, type FrameRecord } from './anchor';
import { LEAST_MEMBERS, STILL_FAVOUR } from './recognise';
import { SightingRoom } from './sightings';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, hypot, max, min, sqrt } = Math;

/** The camera's movement over a take, in measuring pixels. Arrays have one entry a frame, null where not measured. */
export interface CameraPath {
  /** The frame all others are held against; null when nothing could be measured. */
  referenceFrame: number | null;
  poses: (Similarity | null)[];
  /** One standard deviation of the place of the frame's worst corner, in measuring pixels. */
  cornerSigma: (number | null)[];
  /** Movement within whatever piece of the take hangs together, the largest or another: where the frame lies in it. */
  pieces: ({ island: number; pose: Similarity } | null)[];
  /** The same for how far it goes from frame to frame, the middle of all. */
  stepSigma: number;
  /** Whether nothing could be followed in a frame and the picture changed nearly everywhere. */
  wholeMoves: boolean[];
  /** Frames that were not held against every picture that they might show. */
  passedOver: boolean[];
  /** Share of the textured patches in view that go with the camera, 0 to 1. */
  stillShare: (number | null)[];
  /**
   * Patches of the reference frame with the trust each earned over the take, 0 to 1, and whether each bears witness to
   * the greatest movement: it was seen to move by clearly more than its own error, which an edge along the movement
   * never is.
   */
  patches: { x: number; y: number; size: number; trust: number; witness: boolean }[];
  /** How many patches never left their place for each that moved, over the frames looked at; 0 when none was. */
  rival: number;
  /** Spots of the reference that were looked at for texture. */
  spots: number;
}

const QUIET_SPREAD = 0.03;
const LOUD_SPREAD = 0.2;
/** A patch that strays this far (px, over the take) has half the say of a quiet one. */
const STRAY = 0.1;
/** The lock rests on patches with at least this say; a frame counts when enough of those in view go along. */
export const TRUSTED = 0.2;
const LEAST_TRUSTED_SHARE = 0.05;
/** What is not known better of how two anchors lie on each other, measuring pixels. */
const LOOSE_LINK = 0.5;
/** Frames looked at for patches that bear witness to the movement. */
const WITNESS_FRAMES = 12;

/**
 * Looks at the whole take at once: a patch that strays from the common movement at any time (foliage, water, somebody
 * who stood still at first) loses its say in every frame, and each frame is fitted again from what remains.
 * @param againstFirst whether only what hangs together with the first picture counts, or the largest part of the take
 */
export function refinePath(
  anchors: readonly Anchor[],
  records: readonly FrameRecord[],
  againstFirst = false,
): CameraPath {
  const path: CameraPath = {
    referenceFrame: null,
    poses: records.map(() => null),
    cornerSigma: records.map(() => null),
    pieces: records.map(() => null),
    stepSigma: 0,
    wholeMoves: records.map((r) => r.wholeMoves ?? false),
    passedOver: records.map((r) => r.passedOver ?? false),
    stillShare: records.map(() => null),
    patches: [],
    spots: 0,
    rival: median(records.flatMap((r) => (r.rival === undefined ? [] : [r.rival]))) || 0,
  };
  if (anchors.length === 0) return path;
  const framesOf = anchors.map((): number[] => []);
  records.forEach((r, f) => {
    if (r.anchor >= 0 && r.sighting && r.pose) framesOf[r.anchor].push(f);
  });
  const refined = anchors.map((anchor, index) => refineAnchor(anchor, records, index, framesOf[index]));
  const links = linkAnchors(anchors, records, refined);
  const island = againstFirst ? 0 : largestIsland(links, records, refined);
  const first = anchors[island];
  path.referenceFrame = first.frame;
  path.spots = first.grid.spots;
  const witnesses = findWitnesses(first, records, refined[island].fits);
  path.patches = first.grid.patches.map((p, i) => ({
    x: p.x,
    y: p.y,
    size: p.size,
    trust: refined[island].trust[i],
    witness: witnesses[i] === 1,
  }));
  const steps: number[] = [];
  records.forEach((record, f) => {
    const fit = record.anchor < 0 ? undefined : refined[record.anchor].fits.get(f);
    if (!fit) return;
    const link = links[record.anchor];
    path.pieces[f] = { island: link.island, pose: composeSimilarity(poseToSimilarity(fit.pose), link.fromFirst) };
    if (link.island !== island) return;
    path.poses[f] = path.pieces[f].pose;
    const own = f === first.frame ? 0 : fit.sigma;
    path.cornerSigma[f] = own === null ? null : hypot(own, links[record.anchor].sigma);
    path.stillShare[f] = fit.share;
    if (own !== null) steps.push(own);
  });
  path.stepSigma = steps.length ? median(steps) : 0;
  return path;
}

/** What is kept of a frame's fit: a long take has many. */
interface RefinedFit {
  pose: Pose;
  share: number;
  /** Standard deviation of the place of the worst corner, measuring pixels; null when too little agrees. */
  sigma: number | null;
}
interface RefinedAnchor {
  fits: Map<number, RefinedFit>;
  trust: Float32Array;
}

/** @param frames those that hang on the anchor */
function refineAnchor(
  anchor: Anchor,
  records: readonly FrameRecord[],
  index: number,
  frames: readonly number[],
): RefinedAnchor {
  const { patches } = anchor.grid;
  const random = seededRandom(7 + index);
  let weights = reliabilities(anchor);
  let spreads: Float32Array = new Float32Array(patches.length).fill(0.06);
  const fits = new Map<number, RefinedFit>();
  const corners = cornersAndCentre(2 * anchor.halfWidth, 2 * anchor.halfHeight);
  const still = similarityToPose(IDENTITY);
  let strays: Float32Array = new Float32Array(patches.length);
  let slack = 1;
  const room = new SightingRoom();
  for (let round = 0; round < 3; round++) {
    let previous: Pose = still;
    for (const f of frames) {
      const sighting = records[f].sighting!.read(room);
      const start = fits.get(f)?.pose ?? records[f].pose!;
      const starts = [
        { pose: start, favour: 1 },
        { pose: previous, favour: 1 },
        { pose: still, favour: STILL_FAVOUR },
      ];
      const fit =
        round < 2
          ? searchPose(patches, sighting, starts, weights, spreads, 0, random, 2, 3)
          : fitPose(patches, sighting, start, weights, spreads, 1.5, 4);
      const kept = fits.get(f);
      const sigma = round < 2 ? null : cornerSigma(fit, corners);
      if (kept) {
        kept.pose.set(fit.pose);
        kept.sigma = sigma;
      } else fits.set(f, { pose: fit.pose, share: 0, sigma });
      previous = fit.pose;
    }
    ({ weights, spreads, strays } = judgePatches(anchor, frames, records, fits, slack));
    // Where the picture's parts do not move as one, what counts as quiet is looser, from the second look on.
    slack = slackOf(weights, strays);
  }
  const trusted = trustedPatches(weights, strays, slack);
  for (const f of frames) {
    const fit = fits.get(f)!;
    const s = records[f].sighting!.read(room);
    let visible = 0,
      going = 0,
      trustedVisible = 0,
      trustedGoing = 0;
    for (let i = 0; i < patches.length; i++) {
      if (!s.looked[i]) continue;
      const goes =
        s.found[i] === 1 && agrees(patches[i], fit.pose, s.dx[i], s.dy[i], max(spreads[i], trusted[i] ? strays[i] : 0));
      visible++;
      if (goes) going++;
      if (trusted[i]) trustedVisible++;
      if (trusted[i] && goes) trustedGoing++;
    }
    fit.share = going / max(1, visible);
    if (trustedGoing < LEAST_MEMBERS || trustedGoing < LEAST_TRUSTED_SHARE * trustedVisible) fits.delete(f);
  }
  return { fits, trust: weights.map((w, i) => (trusted[i] ? max(w, TRUSTED) : min(w, TRUSTED / 2))) };
}

/**
 * How many times farther than on a tripod patches stray that go with the camera: with a steady hand none keeps to one
 * movement as closely (depth, rolling shutter, blur). 1 where enough of them do.
 */
function slackOf(weights: Float32Array, strays: Float32Array): number {
  if (weights.reduce((n, w) => n + (w >= TRUSTED ? 1 : 0), 0) >= LEAST_MEMBERS) return 1;
  const sorted = [...strays].filter((s) => s > 0).sort((a, b) => a - b);
  const usual = sorted[floor(sorted.length / 3)] ?? 0;
  return max(1, usual / STRAY);
}

/** Which patches kept to one common movement over the take. */
function trustedPatches(weights: Float32Array, strays: Float32Array, slack: number): Uint8Array {
  if (slack === 1) return Uint8Array.from(weights, (w) => (w >= TRUSTED ? 1 : 0));
  return Uint8Array.from(strays, (s) => (s > 0 && s <= 2 * slack * STRAY ? 1 : 0));
}

/**
 * Patches that looked more like themselves where the movement puts them; after short ways, those seen to move in one
 * of the frames in which the picture lies far from the anchor.
 */
function findWitnesses(anchor: Anchor, records: readonly FrameRecord[], fits: Map<number, RefinedFit>): Uint8Array {
  const { patches } = anchor.grid;
  if (anchor.movedVotes.some((v) => v !== 0)) return Uint8Array.from(anchor.movedVotes, (v) => (v > 0 ? 1 : 0));
  const out = new Uint8Array(patches.length);
  const still = similarityToPose(IDENTITY);
  const corners = cornersAndCentre(2 * anchor.halfWidth, 2 * anchor.halfHeight);
  const far = [...fits]
    .map(([frame, { pose }]) => ({
      frame,
      pose,
      distance: max(
        ...corners.map(([x, y]) => hypot(pose[0] + pose[2] * x - pose[3] * y, pose[1] + pose[3] * x + pose[2] * y)),
      ),
    }))
    .sort((a, b) => b.distance - a.distance);
  const enough = far.filter((f) => f.distance >= 0.3 * far[0].distance);
  for (let n = 0; n < WITNESS_FRAMES && n < enough.length; n++) {
    const { frame, pose } = enough[floor((n * enough.length) / min(WITNESS_FRAMES, enough.length))];
    const s = records[frame].sighting!.read();
    for (let i = 0; i < patches.length; i++) {
      if (
        s.found[i] &&
        agrees(patches[i], pose, s.dx[i], s.dy[i], LOUD_SPREAD) &&
        tellsApart(patches[i], pose, still, QUIET_SPREAD)
      )
        out[i] = 1;
    }
  }
  return out;
}

/** What each patch's straying over the take says about it: its say and how near it must be to agree. */
function judgePatches(
  anchor: Anchor,
  frames: readonly number[],
  records: readonly FrameRecord[],
  fits: Map<number, RefinedFit>,
  slack: number,
) {
  const { patches } = anchor.grid;
  const weights = new Float32Array(patches.length);
  const spreads = new Float32Array(patches.length);
  const strays = new Float32Array(patches.length);
  const step = max(1, floor(frames.length / 300));
  const looks = frames.flatMap((f, k) =>
    k % step === 0 ? [{ s: records[f].sighting!.read(), pose: fits.get(f)!.pose }] : [],
  );
  const strayed = new Float64Array(looks.length);
  for (let i = 0; i < patches.length; i++) {
    let n = 0;
    let looked = 0;
    for (const { s, pose } of looks) {
      if (s.looked[i]) looked++;
      if (!s.found[i]) continue;
      strayed[n++] = strayOf(patches[i], pose, s.dx[i], s.dy[i]);
    }
    if (n === 0) {
      weights[i] = 0.05;
      spreads[i] = 0.06;
      continue;
    }
    const stray = select(strayed.subarray(0, n), floor(0.7 * (n - 1)));
    const seenShare = min(1, n / max(1, looked));
    weights[i] = max(0.002, min(1, 0.1 + seenShare) / (1 + (stray / (STRAY * slack)) ** 2));
    strays[i] = stray;
    spreads[i] = max(QUIET_SPREAD, min(LOUD_SPREAD * slack, 1.2 * stray));
  }
  return { weights, spreads, strays };
}

interface Link {
  island: number;
  fromFirst: Similarity;
  /** Standard deviation of where it lies on the first of its island, measuring pixels. */
  sigma: number;
}

/** Ties each anchor to the first of its island. */
function linkAnchors(
  anchors: readonly Anchor[],
  records: readonly FrameRecord[],
  refined: readonly RefinedAnchor[],
): Link[] {
  const links: Link[] = [];
  anchors.forEach((anchor, i) => {
    if (anchor.island === i) {
      links.push({ island: i, fromFirst: { ...IDENTITY }, sigma: 0 });
      return;
    }
    // The frame this anchor was taken from was itself held against an earlier one.
    const held = records[anchor.frame];
    const fit = held.anchor >= 0 && held.anchor < i ? refined[held.anchor].fits.get(anchor.frame) : undefined;
    if (!fit) {
      links.push({ island: anchor.island, fromFirst: anchor.fromFirst, sigma: LOOSE_LINK });
      return;
    }
    const base = links[held.anchor];
    links.push({
      island: base.island,
      fromFirst: composeSimilarity(poseToSimilarity(fit.pose), base.fromFirst),
      sigma: hypot(base.sigma, fit.sigma ?? LOOSE_LINK),
    });
  });
  return links;
}

function largestIsland(
  links: { island: number }[],
  records: readonly FrameRecord[],
  refined: readonly RefinedAnchor[],
): number {
  const counts = new Map<number, number>();
  records.forEach((r, f) => {
    if (r.anchor < 0 || !refined[r.anchor].fits.has(f)) return;
    const island = links[r.anchor].island;
    counts.set(island, (counts.get(island) ?? 0) + 1);
  });
  let best = 0;
  let most = 0;
  for (const [island, count] of counts)
    if (count > most) {
      best = island;
      most = count;
    }
  return best;
}

/** Standard deviation of the place of the worst corner for a fitted pose. */
function cornerSigma(fit: Fit, corners: [number, number][]): number | null {
  const c = covarianceOf(fit);
  if (!c) return null;
  let worst = 0;
  for (const [x, y] of corners) {
    const rx = [1, 0, x, -y];
    const ry = [0, 1, y, x];
    let sum = 0;
    for (let a = 0; a < 4; a++) for (let b = 0; b < 4; b++) sum += c[4 * a + b] * (rx[a] * rx[b] + ry[a] * ry[b]);
    worst = max(worst, sum);
  }
  return sqrt(worst);
}
