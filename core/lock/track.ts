import {
  applySimilarity,
  composeSimilarity,
  IDENTITY,
  invertSimilarity,
  type Similarity,
} from '../geometry/similarity';
import { assertPlane, grainOf, type Plane } from '../image/plane';
import { seededRandom } from '../numeric/random';
import { PatchAligner, type Alignment } from './align';
import { farFrom, noteAgreement, reliabilities, type Anchor, type FrameRecord } from './anchor';
import { CoarseFinder } from './coarse';
import {
  agrees,
  emptySighting,
  fitPose,
  poseToSimilarity,
  searchPose,
  similarityToPose,
  tellsApart,
  type Fit,
  type Pose,
  type Sighting,
} from './consensus';
import { choosePatches, patchSize, type PatchGrid } from './patches';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, log, max, min } = Math;

const SPREAD = 0.05;
/** How far a patch may be from where it is expected, in measuring pixels. */
const ALIGN_REACH = 4.5;
/** A frame counts as recognised when at least this many patches and this share of those in view agree. */
export const LEAST_MEMBERS = 6;
export const LEAST_SHARE = 0.1;
/** A frame in which far fewer patches agree than of late deserves a wider search. */
const FEWER = 0.65;
/** A camera is expected where it was a frame ago, or never moved, to this many measuring pixels. */
const EXPECTED_WITHIN = 1;
/** A picture that started anew is held against the first one every so many frames, to tie the two together. */
const TIE_EVERY = 10;
/** A camera on a tripod is the likelier explanation: not moving at all counts this much more than another movement. */
export const STILL_FAVOUR = 1.5;
/** While the camera stands still every so many patches are looked for, others in each frame; all of them when the few say anything new. */
const SOME = 3;
const LEAST_SOME = 50;
const STANDS_STILL = 0.1;
/** After this long without recognising anything, the present picture becomes a new anchor. */
const LOST_FRAMES = 25;
const MOST_ANCHORS = 48;
/** Once the picture has moved this far (measuring pixels) it is also looked for where it was, every few frames. */
const RIVAL_FROM = 2;
const RIVAL_OFTEN = 10;
/** A patch looks more like itself in one of two places when it leaves this share unexplained, or less, of what it leaves in the other. */
const CLEARLY = 0.8;

/**
 * Follows the still parts of the picture frame by frame: start, then each frame in order, then read `records`.
 *
 * Every frame is held against an anchor picture (the first one as long as it is in view), so that errors do not add up
 * and somebody who covers most of the frame for a while hides the background but does not pull it along.
 */
export class CameraTracker {
  readonly anchors: Anchor[] = [];
  readonly records: FrameRecord[] = [];
  private current = -1;
  private last: Pose = similarityToPose(IDENTITY);
  private step: Pose = new Float64Array(4);
  private lost = 0;
  /** Share of the patches in view that agreed of late. */
  private usualShare = 0.6;
  private readonly random = seededRandom(20260101);
  /** Made with the first frame, whose size it needs. */
  private aligner!: PatchAligner;
  private readonly scratch: Alignment = { dx: 0, dy: 0, gain: 1, residual: 0 };
  private width = 0;
  private height = 0;

  /** Takes the next frame in presentation order; all must have one size. The plane may be reused by the caller afterwards. */
  frame(plane: Plane): void {
    assertPlane(plane);
    if (this.width === 0) {
      this.width = plane.width;
      this.height = plane.height;
      this.aligner = new PatchAligner(patchSize(plane.width));
    } else if (plane.width !== this.width || plane.height !== this.height) {
      throw new RangeError('All frames given to the camera tracker must have the same size.');
    }
    this.aligner.show(plane);
    const index = this.records.length;
    if (this.current < 0) {
      this.records.push({ anchor: -1, sighting: null, pose: null });
      this.tryAnchor(plane, index, IDENTITY);
      return;
    }
    const anchor = this.anchors[this.current];
    let fit = this.follow(plane, anchor);
    if (fit) {
      this.lost = 0;
      const rival = this.lookWhereItWas(anchor, fit, index);
      if (rival?.wins) fit = rival.found;
      const fresh = fit.fit.pose;
      for (let k = 0; k < 4; k++) {
        this.step[k] = fresh[k] - this.last[k];
        this.last[k] = fresh[k];
      }
      this.records.push({
        anchor: this.current,
        sighting: fit.sighting,
        pose: Float64Array.from(fresh),
        rival: rival?.wins ? undefined : rival?.ratio,
      });
      this.considerAnchor(plane, index, anchor, fit);
      if (!anchor.fromFirst && index % TIE_EVERY === 0) this.tie(plane, anchor, fit.fit.pose);
      return;
    }
    this.step.fill(0);
    this.lost++;
    this.records.push({ anchor: -1, sighting: null, pose: null });
    if (this.lost % 3 === 0 && this.anchors.length > 1) this.recall(plane, index);
    if (this.lost === LOST_FRAMES) this.tryAnchor(plane, index, null);
  }

  /** Holds a frame against an anchor; null when too little agrees. */
  private follow(plane: Plane, anchor: Anchor): { fit: Fit; sighting: Sighting; inView: number } | null {
    const { patches } = anchor.grid;
    const weights = reliabilities(anchor);
    const spreads = new Float32Array(patches.length).fill(SPREAD);
    const moving = hypot(this.step[0], this.step[1]) > 0.5;
    const predicted = Float64Array.from(this.last, (v, k) => v + (moving ? this.step[k] : 0));
    const still = similarityToPose(IDENTITY);

    const look = (around: Pose, thorough: boolean, every = 1) => {
      const seen = this.sight(anchor, around, weights, thorough ? 8 : 4, every);
      const starts = [
        { pose: around, favour: 1 },
        { pose: this.last, favour: 1 },
        { pose: still, favour: STILL_FAVOUR },
      ];
      const quick = fitPose(patches, seen.sighting, around, weights, spreads, 2, 4);
      const share = quick.agreeing / max(1e-9, seen.inViewWeight);
      if (share > 0.6 || share > FEWER * this.usualShare) return { ...seen, fit: quick };
      const searched = searchPose(
        patches,
        seen.sighting,
        [{ pose: quick.pose, favour: 1 }, ...starts],
        weights,
        spreads,
        thorough ? 160 : 60,
        this.random,
      );
      return { ...seen, fit: searched };
    };
    const score = (r: ReturnType<typeof look>) => r.fit.agreeing;
    const standing =
      this.lost === 0 &&
      patches.length >= LEAST_SOME * SOME &&
      farFrom(this.step, NOWHERE, this.width, this.height) < STANDS_STILL;
    let best = look(predicted, false, standing ? SOME : 1);
    const alike = () =>
      best.fit.agreeing >= max(0.6, 0.95 * this.usualShare) * best.inViewWeight &&
      best.fit.members >= LEAST_SOME / 2 &&
      farFrom(best.fit.pose, this.last, this.width, this.height) < STANDS_STILL;
    if (standing && !alike()) best = look(predicted, false);
    const good = () =>
      best.fit.members >= LEAST_MEMBERS && best.fit.agreeing >= min(0.5, FEWER * this.usualShare) * best.inViewWeight;
    if (good() && farFrom(best.fit.pose, predicted, this.width, this.height) > 1) {
      const again = look(best.fit.pose, false);
      if (score(again) >= score(best)) best = again;
    }
    if (!good() && (this.lost < 8 || this.lost % 5 === 0)) {
      const { near, far } = anchor.finders;
      for (const [finder, reach] of this.lost > 2 ? [[far, 72] as const] : [[near, 16] as const, [far, 72] as const]) {
        const coarse = finder.find(plane, this.last[0], this.last[1], reach);
        if (!coarse || coarse.share < 0.12) continue;
        if (hypot(coarse.dx - best.fit.pose[0], coarse.dy - best.fit.pose[1]) < 3 && best.fit.members >= LEAST_MEMBERS)
          break;
        const pose = Float64Array.from(this.last);
        pose[0] = coarse.dx;
        pose[1] = coarse.dy;
        let there = look(pose, true);
        if (there.fit.members >= 4) {
          const again = look(there.fit.pose, true);
          if (score(again) > score(there)) there = again;
        }
        if (score(there) > 1.15 * score(best)) best = there;
        if (good()) break;
      }
    }
    const enough = best.fit.agreeing >= LEAST_SHARE * best.inViewWeight || this.agreesWhereExpected(best);
    if (best.fit.members < LEAST_MEMBERS || !enough) return null;
    this.usualShare += 0.1 * (best.fit.agreeing / max(1e-9, best.inViewWeight) - this.usualShare);
    noteAgreement(anchor, best.sighting, best.fit.pose, spreads);
    return { fit: best.fit, sighting: best.sighting, inView: best.inView };
  }

  /**
   * Once the picture seems to have moved: are there patches that never left their place? Something detailed that
   * creeps across a plain background drags the measure along so gently that the background's few weak patches are
   * given up one by one.
   * @returns null where it was not looked at
   */
  private lookWhereItWas(anchor: Anchor, seen: { fit: Fit; sighting: Sighting; inView: number }, index: number) {
    if (this.current !== 0) return null;
    const far = farFrom(seen.fit.pose, similarityToPose(IDENTITY), this.width, this.height);
    if (far < RIVAL_FROM || index % (far < RIVAL_OFTEN ? 2 : 6) !== 0) return null;
    const { patches } = anchor.grid;
    const still = similarityToPose(IDENTITY);
    const weights = new Float32Array(patches.length).fill(1);
    const { sighting, inView } = this.sight(anchor, still, weights, 4);
    let stayed = 0,
      moved = 0;
    // A patch stays near wherever it is looked for when its texture is weak, so what counts is where it looks more like itself.
    const least = 0.5 * max(0.5, anchor.grid.grain ** 2);
    for (let i = 0; i < patches.length; i++) {
      if (!tellsApart(patches[i], seen.fit.pose, still, SPREAD)) continue;
      const here =
        sighting.found[i] && agrees(patches[i], still, sighting.dx[i], sighting.dy[i], SPREAD)
          ? sighting.residual[i] + least
          : Infinity;
      const s = seen.sighting;
      const there =
        s.found[i] && agrees(patches[i], seen.fit.pose, s.dx[i], s.dy[i], SPREAD) ? s.residual[i] + least : Infinity;
      if (here < there * CLEARLY) {
        stayed++;
        anchor.movedVotes[i]--;
      } else if (there < here * CLEARLY) {
        moved++;
        anchor.movedVotes[i]++;
      }
    }
    const ratio = stayed / max(1, moved);
    const wins = stayed >= LEAST_MEMBERS && ratio * STILL_FAVOUR > 1;
    if (!wins) return { ratio, wins, found: seen };
    const fit = fitPose(patches, sighting, still, weights, new Float32Array(patches.length).fill(SPREAD), 1, 4);
    return { ratio, wins, found: { fit, sighting, inView } };
  }

  /**
   * Few patches are enough where they are expected: of those found anywhere in their search windows, some hundredths
   * would lie within their own error of one place by chance, so a fifth of them together there is no chance.
   */
  private agreesWhereExpected({ fit, sighting }: { fit: Fit; sighting: Sighting }): boolean {
    const near = min(
      farFrom(fit.pose, this.last, this.width, this.height),
      farFrom(fit.pose, similarityToPose(IDENTITY), this.width, this.height),
    );
    const found = sighting.found.reduce((a, b) => a + b, 0);
    return near < EXPECTED_WITHIN && fit.members >= 2 * LEAST_MEMBERS && fit.members >= 0.2 * found;
  }

  /** Looks for every patch, or every so many, near where `around` puts it. */
  private sight(anchor: Anchor, around: Pose, weights: Float32Array, steps: number, every = 1) {
    const { patches, size, grain } = anchor.grid;
    const sighting = emptySighting(patches.length);
    const guess = poseToSimilarity(around);
    const out = this.scratch;
    let inView = 0;
    let inViewWeight = 0;
    const halfX = this.width / 2 - size / 2 - 3;
    const halfY = this.height / 2 - size / 2 - 3;
    // Multiples of the golden ratio: whichever frames are looked at later, each patch is seen in its share of them.
    const first = every > 1 ? floor(every * ((this.records.length * 0.618034) % 1)) : 0;
    for (let i = first; i < patches.length; i += every) {
      const patch = patches[i];
      const [px, py] = applySimilarity(guess, patch.x, patch.y);
      if (abs(px) > halfX || abs(py) > halfY) continue;
      inView++;
      sighting.looked[i] = 1;
      inViewWeight += weights[i];
      out.dx = px - patch.x;
      out.dy = py - patch.y;
      if (!this.aligner.align(patch, out, steps, ALIGN_REACH)) continue;
      const texture = patch.energy / (size * size);
      // What is left over may be a part of the texture (compression, slight blur) and grain twice (reference and picture),
      // but a patch that is mostly left over has not been recognised.
      const allowed = 0.2 * texture * max(1, out.gain * out.gain) + min(4 * max(0.3, grain * grain), 0.4 * texture);
      if (out.residual > allowed) continue;
      sighting.found[i] = 1;
      sighting.dx[i] = out.dx;
      sighting.dy[i] = out.dy;
      sighting.residual[i] = out.residual;
    }
    return { sighting, inView: inView * every, inViewWeight };
  }

  /** Makes the picture an anchor if it has enough texture. */
  private tryAnchor(plane: Plane, frame: number, fromFirst: Similarity | null): boolean {
    const grid = this.choose(plane, LEAST_MEMBERS);
    if (!grid) {
      this.lost = 0;
      return false;
    }
    this.addAnchor(plane, frame, grid, fromFirst);
    return true;
  }

  /** The picture's patches; null when there are fewer than wanted. */
  private choose(plane: Plane, least: number): PatchGrid | null {
    const before = this.aligner.kept;
    const grid = choosePatches(plane, grainOf(plane), this.aligner);
    if (grid.patches.length >= least) return grid;
    this.aligner.forgetFrom(before);
    return null;
  }

  private addAnchor(plane: Plane, frame: number, grid: PatchGrid, fromFirst: Similarity | null): void {
    const count = grid.patches.length;
    this.anchors.push({
      frame,
      grid,
      fromFirst,
      finders: { near: new CoarseFinder(plane, grid.patches, 4), far: new CoarseFinder(plane, grid.patches, 8) },
      halfWidth: plane.width / 2,
      halfHeight: plane.height / 2,
      foundCount: new Float64Array(count),
      agreedCount: new Float64Array(count),
      movedVotes: new Float64Array(count),
    });
    this.current = this.anchors.length - 1;
    this.last = similarityToPose(IDENTITY);
    this.step = new Float64Array(4);
    this.lost = 0;
    const sighting = emptySighting(count);
    sighting.found.fill(1);
    sighting.looked.fill(1);
    this.records[frame] = { anchor: this.current, sighting, pose: similarityToPose(IDENTITY) };
  }

  /** Changes to another anchor when the camera has left this one's picture. */
  private considerAnchor(plane: Plane, frame: number, anchor: Anchor, seen: { fit: Fit; inView: number }): void {
    const t = poseToSimilarity(seen.fit.pose);
    const left = seen.inView < 0.55 * anchor.grid.patches.length;
    const turned = abs(t.rotation) > 0.06 || abs(log(t.scale)) > 0.06;
    if (!left && !turned) return;
    const here = anchor.fromFirst ? composeSimilarity(t, anchor.fromFirst) : null;
    if (here && this.switchToNearest(here)) return;
    if (this.anchors.length >= MOST_ANCHORS) return;
    const grid = this.choose(plane, 2 * LEAST_MEMBERS);
    if (!grid) return;
    const old = this.records[frame];
    this.addAnchor(plane, frame, grid, here);
    // The frame itself stays held against the old anchor, so that both are tied together.
    this.records[frame] = old;
  }

  /** Goes back to an earlier anchor if one shows nearly the same view. */
  private switchToNearest(here: Similarity): boolean {
    for (let i = 0; i < this.anchors.length; i++) {
      const from = this.anchors[i].fromFirst;
      if (i === this.current || !from) continue;
      const relative = composeSimilarity(here, invertSimilarity(from));
      const near =
        abs(relative.dx) < 0.25 * this.width &&
        abs(relative.dy) < 0.25 * this.height &&
        abs(relative.rotation) < 0.04 &&
        abs(log(relative.scale)) < 0.04;
      if (!near) continue;
      this.current = i;
      this.last = similarityToPose(relative);
      this.step.fill(0);
      return true;
    }
    return false;
  }

  /** Looks for the first anchor's picture in a frame held against one that started anew; found, the two are tied. */
  private tie(plane: Plane, anchor: Anchor, pose: Pose): void {
    const kept = { last: this.last, step: this.step, usualShare: this.usualShare };
    this.last = similarityToPose(IDENTITY);
    this.step = new Float64Array(4);
    const seen = this.follow(plane, this.anchors[0]);
    if (seen)
      anchor.fromFirst = composeSimilarity(invertSimilarity(poseToSimilarity(pose)), poseToSimilarity(seen.fit.pose));
    Object.assign(this, kept);
  }

  /** When lost, looks whether another anchor's picture is back. */
  private recall(plane: Plane, index: number): void {
    const present = this.current;
    const lost = this.lost;
    for (let i = 0; i < this.anchors.length && i < 4; i++) {
      if (i === present) continue;
      this.last = similarityToPose(IDENTITY);
      const fit = this.follow(plane, this.anchors[i]);
      if (!fit) continue;
      this.current = i;
      this.last = Float64Array.from(fit.fit.pose);
      this.lost = 0;
      this.records[index] = { anchor: i, sighting: fit.sighting, pose: Float64Array.from(fit.fit.pose) };
      return;
    }
    this.lost = lost;
  }
}

const NOWHERE: Pose = new Float64Array(4);
