import { composeSimilarity, IDENTITY, invertSimilarity, type Similarity } from '../../base/geometry/similarity';
import type { SmallPicture, SmallSize } from '../../base/image/picture';
import { median } from '../../base/numeric/quantile';
import { Panorama, type View } from '../../base/image/panorama';
import { coarseShift, corrected, isSmall, registerStep } from '../../base/image/register';
import { fillUnknown, neither } from './fills';
import { commonGain } from './light';
import { fillDoubtful, grown, inverse, shareOf, solidMask, wholeBand } from '../../base/image/mask';
import { testRestless, type RestlessPlaces } from './restless';
import { UnlikeTest } from './unlike';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min } = Math;

/** One frame as the sweep saw it. */
export interface SweptFrame {
  /** Where the first picture's background lies, small pixels about the centre. */
  pose: Similarity;
  /** Whether the pose was seen, or only goes on as before. */
  sure: boolean;
  /** 1 where something stands in front. */
  covered: Uint8Array;
  share: number;
  /** Brightness against the first frame, a factor of code values. */
  gain: number;
}

/** Where the background was found, and how much of it agrees. */
interface FoundPose {
  pose: Similarity;
  share: number;
  gain: number;
  spread: number;
  usable: number;
}

/** A camera that pans fast goes this share of the width in one frame. */
const REACH = 0.14;
/** The background is believed to be seen when this share of the pixels that may show it agrees, */
const LEAST_AGREE = 0.3;
const LEAST_USABLE = 0.05;
/** and those are this share of the picture; fewer are believed where they are expected, small pixels. */
const SEEN_WELL = 0.2;
const LEAST_SEEN = 0.03;
const NEAR_EXPECTED = 1;
/** An edge goes so many small pixels in a frame at most. */
const MOST_ADVANCE = 20;
const SOFT_EDGE = 2;
/** While the camera pans, nothing is told of the background so near to the columns of the object, small pixels. */
const BAND = 6;
/** What lies behind grows or shrinks no more than this in a take. */
const MOST_SCALE = 3;
/** A shift looked for from afar must be this much better than none. */
const BETTER = 0.8;
const ROUNDS = 6;
const SETTLED = 4;
const OPEN = 0.5;
const LATE = 3;
/** A camera that moves goes so many small pixels in a frame at least. */
const MOVES = 0.2;
/**
 * One that is not known to move and lies this near to the first picture stands still: laying pictures back for nothing
 * would soften them.
 */
const STANDS = 0.2;
/**
 * After so many frames of a pan, or of walking up to something, in which this share of the picture or more was hidden,
 * what comes from behind was never seen before.
 */
const LOST = 5;
const HIDDEN = 0.97;
/** The light changes by no more than this in a frame. */
const GAIN_STEP = 0.04;
const OTHER_LIGHT = 0.015;
const LEAST_NOISE = 1.1;
/** After so many quiet frames of a camera that stands, so many in a row are only glanced at. */
const QUIET = 5;
const PASS_OVER = 3;
/** A correction smaller than this, small pixels at the picture's edge, leaves next to nothing to correct. */
const LAST_STEP = 0.06;

/**
 * Goes through a take from a frame in which nothing stands in front, keeps a panorama of what lies behind, whether the
 * camera moves or not, and finds in each frame what hides it.
 */
export class CoverSweep {
  private readonly panorama: Panorama;
  private pose: Similarity = { ...IDENTITY };
  /** The last movements from frame to frame that were well seen. */
  private readonly steps: Similarity[] = [];
  /** How the camera goes on by them; null until it is asked for. */
  private usual: Similarity | null = null;
  private covered: Uint8Array;
  /** What was covered in the last frame, and where it may have come since: there nothing is told of the background. */
  private near: Uint8Array;
  private share = 0;
  private gain = 1;
  noise = LEAST_NOISE;
  /** Whether the camera was ever seen to move. */
  private moving = false;
  private count = 0;
  /** Frames in a row of a camera that goes on in which nothing but the object was seen. */
  private hidden = 0;
  /** Frames in a row with nothing in front of a camera that stands, and of those after them the ones only glanced at. */
  private quiet = 0;
  private passed = 0;
  private readonly waiting: { picture: SmallPicture; pose: Similarity; covered: Uint8Array; gain: number }[] = [];
  private readonly unlike: UnlikeTest;

  /**
   * @param inFront 1 where something stands in front in the first frame already; null when nothing does
   * @param restless what moves by itself behind; null when nothing is known to
   * @param gains for each frame the brightness to go by while the background is hidden, where it is known
   */
  constructor(
    private readonly size: SmallSize,
    private readonly inFront: Uint8Array | null = null,
    private readonly restless: RestlessPlaces | null = null,
    private readonly gains: readonly (number | null)[] = [],
  ) {
    this.panorama = new Panorama(size, true);
    const pixels = size.width * size.height;
    this.covered = this.near = new Uint8Array(pixels);
    this.unlike = new UnlikeTest(size);
  }

  frame(picture: SmallPicture): SweptFrame {
    if (this.count++ === 0) {
      const { inFront } = this;
      if (inFront) this.covered = this.near = inFront.slice();
      const near = inFront && grown(inFront, this.size.width, this.size.height, 3);
      this.panorama.add(picture, this.pose, near && inverse(near), 1);
      return { pose: this.pose, sure: true, covered: this.covered.slice(), share: shareOf(this.covered), gain: 1 };
    }
    if (this.passesOver(picture))
      return { pose: this.pose, sure: true, covered: this.covered.slice(), share: 0, gain: this.gain };
    if (this.hidden >= LOST)
      return { pose: this.pose, sure: false, covered: this.covered.fill(1).slice(), share: 1, gain: this.gain };
    const found = this.follow(picture);
    const view = this.panorama.show(this.pose);
    const raw = this.unlike.test(picture, view, this.gain, this.noise, this.moving);
    if (this.restless) testRestless(raw, this.restless, picture, this.gain, this.size);
    if (this.pans()) this.unlike.lookAgain(raw, view, this.goesAcross());
    fillUnknown(raw, view.known, this.inFront && this.covered, this.size.width, this.size.height, !this.goesAcross());
    this.covered = solidMask(raw, this.size.width, this.size.height);
    if (this.restless) fillDoubtful(this.covered, this.restless.mask, this.size.width, this.size.height);
    if (found) this.remember(picture);
    const share = shareOf(this.covered);
    this.near = share > 0 ? grown(this.covered, this.size.width, this.size.height, this.advance(share)) : this.covered;
    this.share = share;
    this.quiet = found && share === 0 && !this.moving ? this.quiet + 1 : 0;
    this.hidden = !found && (this.pans() || this.walks()) && share > HIDDEN ? this.hidden + 1 : 0;
    return { pose: this.pose, sure: found, covered: this.covered.slice(), share, gain: this.gain };
  }

  /** What lies behind, as a frame at a pose would show it; what is given is used again. */
  behind(pose: Similarity): View {
    return this.panorama.show(pose);
  }

  /** Whether nothing has been in front of a camera that stands, and at a glance nothing is: most frames need no closer look. */
  private passesOver(picture: SmallPicture): boolean {
    if (this.quiet < QUIET || this.restless || this.count <= 12) return false;
    this.passed =
      this.passed < PASS_OVER && this.unlike.isLike(picture, this.panorama.show(this.pose), this.gain)
        ? this.passed + 1
        : 0;
    return this.passed > 0;
  }

  /**
   * The panorama takes a picture in some frames late: what comes in at an edge is not known for an object until it has
   * come further, and would be taken for background that was not seen before.
   */
  private remember({ luma, blue, red }: SmallPicture): void {
    const { width, height } = this.size;
    this.waiting.push({
      picture: { luma: luma.slice(), blue: blue.slice(), red: red.slice() },
      pose: this.pose,
      covered: this.covered,
      gain: this.gain,
    });
    if (this.waiting.length <= LATE) return;
    const { picture, pose, covered, gain } = this.waiting.shift()!;
    if (!covered.includes(1) && !this.covered.includes(1)) {
      this.panorama.add(picture, pose, null, 1 / gain);
      return;
    }
    const near = grown(covered, width, height, 3),
      since = this.pans()
        ? wholeBand(this.covered, width, height, this.goesAcross(), BAND)
        : grown(this.covered, width, height, 5);
    this.panorama.add(picture, pose, neither(near, since), 1 / gain);
  }

  /** Finds where the background lies; false when too little of it is to be seen, and the camera is taken to go on as before. */
  private follow(picture: SmallPicture): boolean {
    const { width } = this.size;
    const predicted = this.moving ? composeSimilarity(this.usualStep(), this.pose) : this.pose;
    const best = this.search(picture, predicted);
    const likely = best !== null && this.isLikely(best, predicted);
    if (!best || !likely) {
      this.pose = predicted;
      // The exposure may have changed while the background was hidden; a camera that stands shows it in the same place.
      const light = this.moving
        ? null
        : (this.gains[this.count - 1] ?? commonGain(picture.luma, this.panorama.show(predicted), width));
      // It is found in steps: what differs by no more than one is no other light.
      if (light !== null && abs(light - this.gain) > OTHER_LIGHT) this.gain = light;
      return false;
    }
    if (
      !this.moving &&
      hypot(best.pose.dx, best.pose.dy) + (abs(best.pose.rotation) + abs(best.pose.scale - 1)) * (width / 2) < STANDS
    )
      best.pose = { ...IDENTITY };
    const step = composeSimilarity(best.pose, invertSimilarity(this.pose));
    this.pose = best.pose;
    if (best.share * best.usable >= SEEN_WELL) {
      this.steps.push(step);
      this.usual = null;
      if (this.steps.length > 5) this.steps.shift();
      this.moving ||=
        this.steps.length >= 2 &&
        this.steps.slice(-2).every((s) => this.reach(s) > MOVES) &&
        this.reach(best.pose) > 2 * MOVES;
      this.gain = max(this.gain - GAIN_STEP, min(this.gain + GAIN_STEP, best.gain));
    }
    if (this.count < 12) this.noise = max(LEAST_NOISE, min(4, best.spread));
    return true;
  }

  /** Looks for the background near a pose. */
  private search(picture: SmallPicture, predicted: Similarity): FoundPose | null {
    const { width, height } = this.size;
    let pose = predicted,
      best: FoundPose | null = null;
    let gain = this.gain;
    let freely = false;
    for (let round = 0; round < ROUNDS; round++) {
      const { expected, usable, share: usableShare } = this.panorama.expect(pose, gain, this.near);
      if (usableShare < LEAST_USABLE) break;
      // A camera that goes on as it did is found nearby: where enough is seen, its turn and size may be looked for at once.
      if (round === 0) freely = this.moving && this.steps.length >= SETTLED && usableShare > OPEN;
      const step = registerStep(expected, picture.luma, usable, width, height, freely, null);
      if (!step) break;
      if (step.flat) {
        // Before a blank wall a camera is taken to stand; one that moves is not seen to go on.
        if (!this.moving)
          best = { pose, share: step.share, gain: gain * step.gain, spread: step.residual, usable: usableShare };
        break;
      }
      if (round === 0 && this.count <= 4) {
        const far = coarseShift(
          expected,
          picture.luma,
          usable,
          width,
          height,
          Math.round(REACH * width),
          Math.round(0.6 * REACH * height),
        );
        if (far.cost < BETTER * far.still && (far.dx || far.dy)) {
          pose = composeSimilarity({ dx: far.dx, dy: far.dy, rotation: 0, scale: 1 }, pose);
          continue;
        }
      }
      if (!this.moving && round === 0 && this.count > 4 && hypot(step.step.dx, step.step.dy) < STANDS / 2) {
        best = { pose, share: step.share, gain: gain * step.gain, spread: step.residual, usable: usableShare };
        break;
      }
      pose = corrected(pose, step.step);
      gain *= min(1.3, max(0.75, step.gain));
      if (!best || step.share > 0.9 * best.share)
        best = { pose, share: step.share, gain, spread: step.residual, usable: usableShare };
      if (isSmall(step.step, width, LAST_STEP)) {
        if (freely) break;
        freely = true;
      }
    }
    return best;
  }

  /** Whether what was found is the background, and not something else by chance. */
  private isLikely(found: FoundPose, predicted: Similarity): boolean {
    if (
      found.share < LEAST_AGREE ||
      found.gain < 0.4 ||
      found.gain > 2.5 ||
      found.pose.scale < 1 / MOST_SCALE ||
      found.pose.scale > MOST_SCALE
    )
      return false;
    const seen = found.share * found.usable;
    const off = hypot(found.pose.dx - predicted.dx, found.pose.dy - predicted.dy);
    if (seen >= SEEN_WELL)
      return this.steps.length < 3 || off < 4 + 0.5 * hypot(predicted.dx - this.pose.dx, predicted.dy - this.pose.dy);
    return this.moving && seen >= LEAST_SEEN && off < NEAR_EXPECTED;
  }

  /** How far a movement takes the picture, about half way out from its centre, small pixels. */
  private reach({ dx, dy, scale }: Similarity): number {
    return hypot(dx, dy) + abs(scale - 1) * (this.size.width / 4);
  }

  /**
   * How far beyond what is covered the object may be in the next frame, small pixels; what a camera walks up to grows
   * by next to nothing.
   */
  private advance(share: number): number {
    return this.walks() ? 0 : min(MOST_ADVANCE, SOFT_EDGE + Math.ceil(abs(share - this.share) * this.size.width));
  }

  /** Whether the camera goes nearer rather than sideways. */
  private walks(): boolean {
    const { dx, dy, scale } = this.usualStep();
    return this.moving && abs(scale - 1) * (this.size.width / 4) > max(MOVES / 2, hypot(dx, dy));
  }

  /** Whether the camera goes sideways or up and down rather than nearer. */
  private pans(): boolean {
    const { dx, dy, scale } = this.usualStep();
    return this.moving && hypot(dx, dy) > abs(scale - 1) * (this.size.width / 4);
  }

  /** Whether what there is of the camera's way goes sideways. */
  private goesAcross(): boolean {
    const { dx, dy } = this.usualStep();
    return abs(dx) >= abs(dy);
  }

  /** How the camera goes on: the middle of its last movements; not at all when they go to and fro. */
  private usualStep(): Similarity {
    return (this.usual ??= usualOf(this.steps, this.size.width));
  }
}

function usualOf(steps: readonly Similarity[], width: number): Similarity {
  const middle = (pick: (s: Similarity) => number) => median(steps.map(pick));
  const [dx, dy] = [middle((s) => s.dx), middle((s) => s.dy)];
  const wavers = median(steps.map((s) => hypot(s.dx - dx, s.dy - dy)));
  const scale = middle((s) => s.scale);
  const shakes = wavers > hypot(dx, dy) && abs(scale - 1) * (width / 4) < wavers;
  return steps.length && !shakes ? { dx, dy, rotation: middle((s) => s.rotation), scale } : { ...IDENTITY };
}
