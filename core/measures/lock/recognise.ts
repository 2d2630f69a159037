import { applySimilarity, IDENTITY } from '../../base/geometry/similarity';
import type { Plane } from '../../base/image/plane';
import { median } from '../../base/numeric/quantile';
import { seededRandom } from '../../base/numeric/random';
import type { Alignment } from './align';
import { farFrom, noteAgreement, reliabilities, type Anchor } from './anchor';
import {
  agrees,
  emptySighting,
  fitPose,
  poseToSimilarity,
  REACH,
  searchPose,
  similarityToPose,
  strayOf,
  tellsApart,
  type Fit,
  type Pose,
  type Sighting,
} from './consensus';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, exp, floor, hypot, max, min, sqrt } = Math;

export const SPREAD = 0.05;
/**
 * A picture whose parts do not move as one (depth, a rolling shutter, a bent lens, blur) is looked at with more spread,
 * px. So many of the patches must agree then: more of them would by chance, the wider it is.
 */
const LOOSE = [
  { spread: 0.2, share: 0.25 },
  { spread: 0.5, share: 0.4 },
];
/** Left unexplained of a patch's texture, at most, where it is clearly seen. */
const CLEAR = 0.3;
/** How far a patch may be from where it is expected, in measuring pixels. */
const ALIGN_REACH = 4.5;
/** A frame counts as recognised when at least this many patches and this share of those in view agree. */
export const LEAST_MEMBERS = 6;
export const LEAST_SHARE = 0.1;
/** Where nothing else is known of a place, so many patches' worth of trust must agree. */
const LEAST_TRUST = 3;
/** A frame in which far fewer patches agree than of late deserves a wider search. */
const FEWER = 0.65;
/** A camera is expected where it was a frame ago, or never moved, to this many measuring pixels. */
const EXPECTED_WITHIN = 1;
/** A camera on a tripod is the likelier explanation: not moving at all counts this much more than another movement. */
export const STILL_FAVOUR = 1.5;
/** While the camera stands still every so many patches are looked for, others in each frame; all of them when the few say anything new. */
const SOME = 3;
const LEAST_SOME = 50;
const STANDS_STILL = 0.1;
/** A patch looks more like itself in one of two places when it leaves this share unexplained, or less, of what it leaves in the other. */
const CLEARLY = 0.8;
/** Where so much of the picture agrees closely nothing else is asked. */
const MOST_OF_IT = 0.5;
/** More patches than chance explains, by so many standard deviations of it. */
const CHANCE_SIGMAS = 4;
/** Once the picture has moved this far (measuring pixels) it is also looked for where it was, every few frames. */
const RIVAL_FROM = 2;
const RIVAL_OFTEN = 10;

/** What is expected of the next frame, against an anchor. */
export interface Expected {
  last: Pose;
  step: Pose;
  /** Frames since something was recognised. */
  lost: number;
  /** Share of the patches in view that agreed of late. */
  usualShare: number;
}

/** What was recognised of an anchor in a frame. */
export interface Seen {
  fit: Fit;
  sighting: Sighting;
  inView: number;
  /** How far apart patches were allowed to move, px. */
  spread: number;
  /** Share of the patches in view that agreed. */
  share: number;
}

interface Look {
  fit: Fit;
  sighting: Sighting;
  inView: number;
  inViewWeight: number;
}

/** Recognises anchors' pictures in frames of one size. */
export class Recogniser {
  private readonly random = seededRandom(20260101);
  private readonly scratch: Alignment = { dx: 0, dy: 0, gain: 1, residual: 0 };
  private frames = 0;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {}

  /**
   * Holds a frame against an anchor; null when too little agrees.
   * @param widely whether it may lie anywhere, or only near where it is expected
   */
  recognise(plane: Plane, anchor: Anchor, expected: Expected, widely = true): Seen | null {
    this.frames++;
    anchor.tools!.aligner.show(plane);
    const { patches } = anchor.grid;
    const weights = reliabilities(anchor);
    const spreads = new Float32Array(patches.length).fill(SPREAD);
    const { last, step, lost, usualShare } = expected;
    const moving = hypot(step[0], step[1]) > 0.5;
    const predicted = Float64Array.from(last, (v, k) => v + (moving ? step[k] : 0));
    const still = similarityToPose(IDENTITY);

    const look = (around: Pose, thorough: boolean, every = 1): Look => {
      const seen = this.sight(anchor, around, weights, thorough ? 8 : 4, every);
      const starts = [
        { pose: around, favour: 1 },
        { pose: last, favour: 1 },
        { pose: still, favour: STILL_FAVOUR },
      ];
      const quick = fitPose(patches, seen.sighting, around, weights, spreads, 2, 4);
      const share = quick.agreeing / max(1e-9, seen.inViewWeight);
      if (share > 0.6 || share > FEWER * usualShare) return { ...seen, fit: quick };
      const from = [{ pose: quick.pose, favour: 1 }, ...starts];
      const searched = searchPose(patches, seen.sighting, from, weights, spreads, thorough ? 160 : 60, this.random);
      return { ...seen, fit: searched };
    };
    const score = (r: Look) => r.fit.agreeing;
    const standing =
      lost === 0 &&
      patches.length >= LEAST_SOME * SOME &&
      farFrom(step, NOWHERE, this.width, this.height) < STANDS_STILL;
    let best = look(predicted, false, standing ? SOME : 1);
    const alike = () =>
      best.fit.agreeing >= max(0.6, 0.95 * usualShare) * best.inViewWeight &&
      best.fit.members >= LEAST_SOME / 2 &&
      farFrom(best.fit.pose, last, this.width, this.height) < STANDS_STILL;
    if (standing && !alike()) best = look(predicted, false);
    const good = () =>
      best.fit.members >= LEAST_MEMBERS && best.fit.agreeing >= min(0.5, FEWER * usualShare) * best.inViewWeight;
    if (good() && farFrom(best.fit.pose, predicted, this.width, this.height) > 1) {
      const again = look(best.fit.pose, false);
      if (score(again) >= score(best)) best = again;
    }
    const shareOf = (r: Look) => r.fit.agreeing / max(1e-9, r.inViewWeight);
    const tightly = () =>
      best.fit.members >= LEAST_MEMBERS && (shareOf(best) >= LEAST_SHARE || this.agreesWhereExpected(best, last));
    if (shareOf(best) >= MOST_OF_IT && tightly()) return this.noted(anchor, best, SPREAD);
    const loosely = this.loosely(anchor, best, weights, [best.fit.pose, predicted, last, still]);
    if (widely && !good() && !loosely && (lost < 8 || lost % 5 === 0)) {
      const { near, far } = anchor.tools!.finders;
      for (const [finder, reach] of lost > 2 ? [[far, 72] as const] : [[near, 16] as const, [far, 72] as const]) {
        const coarse = finder.find(plane, predicted[0], predicted[1], reach);
        if (!coarse || coarse.share < 0.12) continue;
        if (hypot(coarse.dx - best.fit.pose[0], coarse.dy - best.fit.pose[1]) < 3 && best.fit.members >= LEAST_MEMBERS)
          break;
        const pose = Float64Array.from(last);
        pose[0] = coarse.dx;
        pose[1] = coarse.dy;
        let there = look(pose, true);
        if (there.fit.members >= 4) {
          const again = look(there.fit.pose, true);
          if (score(again) > score(there)) there = again;
        }
        if (score(there) > 1.15 * score(best)) best = there;
        if (good()) break;
        const away = this.loosely(anchor, there, weights, [pose, there.fit.pose]);
        if (away) return this.noted(anchor, away.look, away.spread);
      }
    }
    if (!loosely) return tightly() ? this.noted(anchor, best, SPREAD) : null;
    if (tightly() && this.isNoChance(anchor, best, loosely.look)) return this.noted(anchor, best, SPREAD);
    return this.noted(anchor, loosely.look, loosely.spread);
  }

  /**
   * Whether so many patches agree closely that it is no chance among patches that go along loosely: each agrees by chance
   * as often as its own reach takes up of how far patches lie about the loose movement.
   */
  private isNoChance(anchor: Anchor, tight: Look, loose: Look): boolean {
    const { patches } = anchor.grid;
    const { sighting: s, fit } = loose;
    const strays: number[] = [];
    for (let i = 0; i < patches.length; i++)
      if (s.found[i]) strays.push(strayOf(patches[i], fit.pose, s.dx[i], s.dy[i]));
    if (strays.length < LEAST_MEMBERS) return true;
    const scatter = (median(strays) / 1.18) ** 2;
    let chance = 0;
    for (let i = 0; i < patches.length; i++) {
      if (!tight.sighting.found[i]) continue;
      const [own] = patches[i].variances;
      chance += 1 - exp((-0.5 * REACH * REACH * (SPREAD * SPREAD + own)) / (scatter + own + 1e-9));
    }
    return tight.fit.members > chance + CHANCE_SIGMAS * sqrt(chance + 1);
  }

  private noted(anchor: Anchor, { fit, sighting, inView, inViewWeight }: Look, spread: number): Seen {
    noteAgreement(anchor, sighting, fit.pose, new Float32Array(anchor.grid.patches.length).fill(spread));
    return { fit, sighting, inView, spread, share: fit.agreeing / max(1e-9, inViewWeight) };
  }

  /** The pose that most of the picture goes along with when its parts may move a little apart; null when too few do. */
  private loosely(
    anchor: Anchor,
    seen: Look,
    weights: Float32Array,
    starts: Pose[],
  ): { look: Look; spread: number } | null {
    const { patches, size } = anchor.grid;
    // A patch with little detail is found wherever it is looked for: only those that look clearly like themselves count.
    const clear = ({ sighting: s }: { sighting: Sighting }) =>
      weights.map((w, i) => (s.residual[i] <= (CLEAR * patches[i].energy) / (size * size) ? w : 0));
    for (const { spread, share } of LOOSE) {
      const spreads = new Float32Array(patches.length).fill(spread);
      const from = starts.map((pose) => ({ pose, favour: 1 }));
      let look = seen;
      let fit = searchPose(patches, look.sighting, from, clear(look), spreads, 60, this.random);
      if (fit.agreeing > 0.5 * share * look.inViewWeight) {
        look = { ...look, ...this.sight(anchor, fit.pose, weights, 8) };
        fit = fitPose(patches, look.sighting, fit.pose, clear(look), spreads, 2, 6);
      }
      if (fit.members >= 2 * LEAST_MEMBERS && fit.agreeing >= LEAST_TRUST && fit.agreeing >= share * look.inViewWeight)
        return { look: { ...look, fit }, spread };
    }
    return null;
  }

  /**
   * Once the picture seems to have moved: are there patches that never left their place? Something detailed that
   * creeps across a plain background drags the measure along so gently that the background's few weak patches are
   * given up one by one.
   * @returns null where it was not looked at
   */
  lookWhereItWas(anchor: Anchor, seen: Seen, index: number): { ratio: number; found: Seen | null } | null {
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
        s.found[i] && agrees(patches[i], seen.fit.pose, s.dx[i], s.dy[i], seen.spread)
          ? s.residual[i] + least
          : Infinity;
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
    if (!wins) return { ratio, found: null };
    const fit = fitPose(patches, sighting, still, weights, new Float32Array(patches.length).fill(SPREAD), 1, 4);
    return { ratio, found: { fit, sighting, inView, spread: SPREAD, share: fit.agreeing / max(1, inView) } };
  }

  /**
   * Few patches are enough where they are expected: of those found anywhere in their search windows, some hundredths
   * would lie within their own error of one place by chance, so a fifth of them together there is no chance.
   */
  private agreesWhereExpected({ fit, sighting }: Look, last: Pose): boolean {
    const near = min(
      farFrom(fit.pose, last, this.width, this.height),
      farFrom(fit.pose, similarityToPose(IDENTITY), this.width, this.height),
    );
    const found = sighting.found.reduce((a, b) => a + b, 0);
    return near < EXPECTED_WITHIN && fit.members >= 2 * LEAST_MEMBERS && fit.members >= 0.2 * found;
  }

  /** Looks for every patch, or every so many, near where `around` puts it. */
  private sight(anchor: Anchor, around: Pose, weights: Float32Array, steps: number, every = 1) {
    const { patches, size, grain } = anchor.grid;
    const { aligner } = anchor.tools!;
    const sighting = emptySighting(patches.length);
    const guess = poseToSimilarity(around);
    const out = this.scratch;
    let inView = 0;
    let inViewWeight = 0;
    const halfX = this.width / 2 - size / 2 - 3;
    const halfY = this.height / 2 - size / 2 - 3;
    // Multiples of the golden ratio: whichever frames are looked at later, each patch is seen in its share of them.
    const first = every > 1 ? floor(every * ((this.frames * 0.618034) % 1)) : 0;
    for (let i = first; i < patches.length; i += every) {
      const patch = patches[i];
      const [px, py] = applySimilarity(guess, patch.x, patch.y);
      if (abs(px) > halfX || abs(py) > halfY) continue;
      inView++;
      sighting.looked[i] = 1;
      inViewWeight += weights[i];
      out.dx = px - patch.x;
      out.dy = py - patch.y;
      if (!aligner.align(patch, out, steps, ALIGN_REACH)) continue;
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
}

const NOWHERE: Pose = new Float64Array(4);
