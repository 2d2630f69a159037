import {
  applySimilarity,
  composeSimilarity,
  IDENTITY,
  invertSimilarity,
  type Similarity,
} from '../../base/geometry/similarity';
import { asBytes, assertPlane, grainOf, type Plane } from '../../base/image/plane';
import { PatchAligner } from './align';
import { farFrom, type Anchor, type FrameRecord } from './anchor';
import { changesAsAWhole, CoarseFinder } from './coarse';
import { agrees, emptySighting, poseToSimilarity, similarityToPose } from './consensus';
import { choosePatches, patchSize, type Patch } from './patches';
import type { FrameStore } from '../../base/image/stack';
import { Sightings } from './sightings';
import { LEAST_MEMBERS, Recogniser, SPREAD, type Expected, type Seen } from './recognise';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, log } = Math;

/** Frames held against an anchor of another island are held against the first one's again every so many frames. */
const TIE_EVERY = 10;
/** Anchors that are kept at hand to be recognised again; and all of them. */
const MOST_AT_HAND = 12;
const MOST_ANCHORS = 2000;
/** Once the picture has moved this far (measuring pixels) from its anchor and its parts no longer move as one, it is anchored anew. */
const LOOSE_FROM = 3;
/** Frames between two anchors made for that. */
const LEAST_BETWEEN = 4;
/** What a frame shows is tied to its old anchor where so much of that was seen in it; else something else may fill it. */
const LEAST_TIE = 0.3;
/** An anchor shows too little of a frame below this share of its patches in view. */
const LEAST_IN_VIEW = 0.55;
/** A frame in which nothing is recognised is held against the one before it in each of the first so many, then now and then. */
const TRIES = 6;
const TRY_EVERY = 5;
/** Nothing can be followed for long when so many frames of late were lost. */
const HOPELESS = 0.4;
const LATE = 0.04;

/**
 * Follows the still parts of the picture frame by frame: start, then each frame in order, then read `records`.
 *
 * Every frame is held against an anchor picture (the first one as long as it is in view), so that errors do not add up
 * and somebody who covers most of the frame for a while hides the background but does not pull it along. Where that
 * fails it is held against the frame before, which becomes an anchor then, tied to the others where it was recognised
 * itself: so a camera that turns, walks or zooms is followed from the first frame to the last. Anchors that are tied
 * together are an island; pictures that have nothing in common lie on several.
 */
export class CameraTracker {
  readonly anchors: Anchor[] = [];
  readonly records: FrameRecord[] = [];
  private readonly seen: Sightings;
  /** How many frames hang on each island. */
  private readonly held = new Map<number, number>();
  private current = -1;
  private expected: Expected = {
    last: similarityToPose(IDENTITY),
    step: new Float64Array(4),
    lost: 0,
    usualShare: 0.6,
  };
  private width = 0;
  private height = 0;
  /** Made with the first frame, whose size they need. */
  private recogniser!: Recogniser;
  /** Share of the frames of late that could not be held against their anchor. */
  private trouble = 0;
  private before!: Plane;

  /** @param store where what was seen is kept until all frames have been given */
  constructor(store?: FrameStore) {
    this.seen = new Sightings(store);
  }

  /** Takes the next frame in presentation order; all must have one size. The plane may be reused by the caller afterwards. */
  frame(plane: Plane): void {
    assertPlane(plane);
    if (this.width === 0) {
      this.width = plane.width;
      this.height = plane.height;
      this.recogniser = new Recogniser(plane.width, plane.height);
      this.before = { ...plane, data: new Uint8Array(plane.width * plane.height) };
    } else if (plane.width !== this.width || plane.height !== this.height) {
      throw new RangeError('All frames given to the camera tracker must have the same size.');
    }
    const record: FrameRecord = { anchor: -1, sighting: null, pose: null };
    const index = this.records.push(record) - 1;
    this.hold(plane, index);
    if (!record.passedOver) this.trouble += LATE * ((this.records[index].pose ? 0 : 1) - this.trouble);
    (this.before.data as Uint8Array).set(asBytes(plane));
  }

  private hold(plane: Plane, index: number): void {
    const { expected } = this;
    if (this.current < 0) {
      this.anchorOn(plane, index, IDENTITY);
      return;
    }
    const seen = this.recogniser.recognise(plane, this.anchors[this.current], expected, this.trouble < HOPELESS);
    if (seen) {
      expected.lost = 0;
      this.note(plane, index, this.anchors[this.current], seen);
      return;
    }
    expected.step.fill(0);
    expected.lost++;
    const { lost } = expected;
    // Where nothing can be followed for long anyhow, it is tried less often.
    const hopeless = this.trouble > HOPELESS && index % TRY_EVERY !== 0;
    const tries = !hopeless && (lost <= TRIES || lost % TRY_EVERY === 0);
    if (!hopeless && this.anchors.length > 1 && (lost % 3 === 0 || lost === 1) && this.recall(plane, index)) return;
    if (tries) this.holdAgainstBefore(plane, index);
    if (hopeless) this.records[index].passedOver = true;
    else if (!this.records[index].pose) this.records[index].wholeMoves = changesAsAWhole(this.before, plane);
  }

  /** Keeps what was seen of the current anchor in a frame, and changes to another anchor where that serves better. */
  private note(plane: Plane, index: number, anchor: Anchor, found: Seen): void {
    const { expected } = this;
    const rival = this.current === 0 ? this.recogniser.lookWhereItWas(anchor, found, index) : null;
    const seen = rival?.found ?? found;
    const fresh = seen.fit.pose;
    for (let k = 0; k < 4; k++) {
      expected.step[k] = fresh[k] - expected.last[k];
      expected.last[k] = fresh[k];
    }
    expected.usualShare += 0.1 * (seen.share - expected.usualShare);
    this.put(index, {
      anchor: this.current,
      sighting: this.seen.keep(seen.sighting),
      pose: Float64Array.from(fresh),
      spread: seen.spread,
      share: seen.share,
      rival: rival?.found ? undefined : rival?.ratio,
    });
    const island = this.islandOf(this.current);
    if (island !== 0 && index % TIE_EVERY === 0 && this.recall(plane, index, seen)) return;
    this.considerAnchor(plane, index, anchor, seen);
  }

  /** Holds a frame against the one before it, which becomes an anchor when that succeeds. */
  private holdAgainstBefore(plane: Plane, index: number): void {
    if (this.anchors.length >= MOST_ANCHORS || this.anchors[this.current].frame === index - 1) return;
    const held = this.records[index - 1];
    const kept = {
      ...this.expected,
      last: Float64Array.from(this.expected.last),
      step: Float64Array.from(this.expected.step),
    };
    const from = this.current;
    const tied = held.pose && held.anchor >= 0 && (held.share ?? 1) >= LEAST_TIE;
    const base = tied ? this.anchors[held.anchor] : null;
    const here = base ? composeSimilarity(poseToSimilarity(held.pose!), base.fromFirst) : IDENTITY;
    const island = base ? base.island : null;
    const anchor = this.makeAnchor(this.before, index - 1, here, island, base ? held : null);
    if (!anchor) return;
    this.anchors.push(anchor);
    this.current = this.anchors.length - 1;
    this.expected = { last: similarityToPose(IDENTITY), step: new Float64Array(4), lost: 0, usualShare: 0.6 };
    const seen = this.recogniser.recognise(plane, anchor, this.expected);
    if (!seen) {
      this.anchors.pop();
      this.current = from;
      this.expected = kept;
      return;
    }
    if (island === null && !held.pose) this.put(index - 1, this.itself(this.current));
    this.retire();
    this.note(plane, index, anchor, seen);
  }

  /** Keeps how a frame is held; counted as it goes, so that a long take costs no more a frame than a short one. */
  private put(index: number, record: FrameRecord): void {
    for (const [{ anchor }, by] of [
      [this.records[index], -1],
      [record, 1],
    ] as const)
      if (anchor >= 0) this.held.set(this.islandOf(anchor), (this.held.get(this.islandOf(anchor)) ?? 0) + by);
    this.records[index] = record;
  }

  private islandOf(anchor: number): number {
    return this.anchors[anchor].island;
  }

  /** The record of the frame that an anchor was made of. */
  private itself(anchor: number): FrameRecord {
    const count = this.anchors[anchor].grid.patches.length;
    const sighting = emptySighting(count);
    sighting.found.fill(1);
    sighting.looked.fill(1);
    return { anchor, sighting: this.seen.keep(sighting), pose: similarityToPose(IDENTITY), spread: SPREAD };
  }

  /** An anchor of a picture; null when it has too little texture. @param held how its frame was held against an earlier anchor */
  private makeAnchor(
    plane: Plane,
    frame: number,
    fromFirst: Similarity,
    island: number | null,
    held: FrameRecord | null,
  ): Anchor | null {
    const aligner = new PatchAligner(patchSize(plane.width));
    const grid = choosePatches(plane, grainOf(plane), aligner);
    // What did not go with the camera in this frame is no part of what it is followed by from here on.
    const patches = held?.pose && held.anchor >= 0 ? this.going(grid.patches, held) : grid.patches;
    if (patches.length < LEAST_MEMBERS) return null;
    const count = patches.length;
    return {
      frame,
      grid: { ...grid, patches },
      fromFirst,
      island: island ?? this.anchors.length,
      tools: {
        aligner,
        finders: { near: new CoarseFinder(plane, patches, 4), far: new CoarseFinder(plane, patches, 8) },
      },
      halfWidth: plane.width / 2,
      halfHeight: plane.height / 2,
      foundCount: new Float64Array(count),
      agreedCount: new Float64Array(count),
      movedVotes: new Float64Array(count),
    };
  }

  /** Of a frame's patches those that do not lie where its old anchor's patches went another way. */
  private going(fresh: readonly Patch[], held: FrameRecord): Patch[] {
    const { grid } = this.anchors[held.anchor];
    const pose = held.pose!,
      s = held.sighting!.read();
    const place = poseToSimilarity(pose);
    const astray: [number, number][] = [];
    grid.patches.forEach((p, i) => {
      if (!s.looked[i] || (s.found[i] && agrees(p, pose, s.dx[i], s.dy[i], held.spread ?? SPREAD))) return;
      astray.push(applySimilarity(place, p.x, p.y));
    });
    const near = grid.cell * 0.6;
    return fresh.filter((p) => !astray.some(([x, y]) => abs(p.x - x) < near && abs(p.y - y) < near));
  }

  /** Makes the picture the first anchor of an island, if it has enough texture. */
  private anchorOn(plane: Plane, frame: number, fromFirst: Similarity): void {
    const anchor = this.makeAnchor(plane, frame, fromFirst, 0, null);
    if (!anchor) return;
    this.anchors.push(anchor);
    this.current = this.anchors.length - 1;
    this.put(frame, this.itself(this.current));
  }

  /** Changes to another anchor when the camera has left this one's picture, or sees it too differently. */
  private considerAnchor(plane: Plane, frame: number, anchor: Anchor, seen: Seen): void {
    const t = poseToSimilarity(seen.fit.pose);
    const left = seen.inView < LEAST_IN_VIEW * anchor.grid.patches.length;
    const turned = abs(t.rotation) > 0.06 || abs(log(t.scale)) > 0.06;
    const bent =
      (seen.spread > SPREAD || seen.share < 0.35) &&
      frame - anchor.frame >= LEAST_BETWEEN &&
      farFrom(seen.fit.pose, similarityToPose(IDENTITY), this.width, this.height) > LOOSE_FROM;
    if (!left && !turned && !bent) return;
    const here = composeSimilarity(t, anchor.fromFirst);
    if (this.switchToNearest(here, anchor.island, bent && !left && !turned ? LOOSE_FROM / 2 : null)) return;
    if (this.anchors.length >= MOST_ANCHORS) return;
    // The frame itself stays held against the old anchor, so that both are tied together.
    const next = this.makeAnchor(plane, frame, here, anchor.island, this.records[frame]);
    if (!next || next.grid.patches.length < 2 * LEAST_MEMBERS) return;
    this.anchors.push(next);
    this.current = this.anchors.length - 1;
    this.expected = { ...this.expected, last: similarityToPose(IDENTITY), lost: 0 };
    this.retire();
  }

  /** Lets go of what looks for anchors that are far back, all but the very first and the one that most frames hang on. */
  private retire(): void {
    const atHand = this.anchors.filter((a) => a.tools);
    if (atHand.length <= MOST_AT_HAND) return;
    const [main] = [...this.held].reduce((a, b) => (b[1] > a[1] ? b : a), [0, 0]);
    const kept = [this.anchors[0], this.anchors[main], this.anchors[this.current]];
    for (const a of atHand.slice(0, atHand.length - MOST_AT_HAND)) if (!kept.includes(a)) a.tools = null;
  }

  /** Goes back to an earlier anchor if one shows nearly the same view. @param within how near, px; null for so near that most is in view */
  private switchToNearest(here: Similarity, island: number, within: number | null): boolean {
    for (let i = 0; i < this.anchors.length; i++) {
      const { fromFirst: from, tools, island: own } = this.anchors[i];
      if (i === this.current || !tools || own !== island) continue;
      const relative = composeSimilarity(here, invertSimilarity(from));
      const pose = similarityToPose(relative);
      if (within !== null && farFrom(pose, similarityToPose(IDENTITY), this.width, this.height) > within) continue;
      const near =
        abs(relative.dx) < 0.25 * this.width &&
        abs(relative.dy) < 0.25 * this.height &&
        abs(relative.rotation) < 0.04 &&
        abs(log(relative.scale)) < 0.04;
      if (!near) continue;
      this.current = i;
      this.expected.last = pose;
      this.expected.step.fill(0);
      return true;
    }
    return false;
  }

  /**
   * Looks whether the picture of another island is back, or when nothing is recognised that of any other anchor.
   * @param seen what is recognised now; another island must be recognised better
   */
  private recall(plane: Plane, index: number, seen: Seen | null = null): boolean {
    const present = this.current;
    const { lost } = this.expected;
    let tried = 0;
    for (let i = 0; i < this.anchors.length && tried < 4; i++) {
      const anchor = this.anchors[i];
      if (i === present || !anchor.tools || (seen && anchor.island === this.islandOf(present))) continue;
      tried++;
      const from: Expected = { last: similarityToPose(IDENTITY), step: new Float64Array(4), lost, usualShare: 0.6 };
      const found = this.recogniser.recognise(plane, anchor, from);
      if (!found || (seen && found.fit.members < seen.fit.members)) continue;
      this.current = i;
      this.expected = { ...from, last: Float64Array.from(found.fit.pose), lost: 0, usualShare: found.share };
      this.put(index, {
        anchor: i,
        sighting: this.seen.keep(found.sighting),
        pose: Float64Array.from(found.fit.pose),
        spread: found.spread,
      });
      return true;
    }
    return false;
  }
}
