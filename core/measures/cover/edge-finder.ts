import type { SmallSize } from '../../base/image/picture';
import { edgesOf, type Way } from './edges';
import type { CoverEvents } from './events';
import { LEAST_COVER, type CoverContext } from './context';
import { shareOf } from '../../base/image/mask';
import { followEdge, LINES_AT, type EdgeLines, type EdgePath } from './profile';
import type { SweptFrame } from './sweep';

const { max } = Math;

/** One edge in every frame, source pixels, with its softness. */
export interface FoundEdge extends EdgePath {
  looked: boolean;
}

export interface EdgePaths {
  lead: FoundEdge;
  trail: FoundEdge;
  /** As the masks have them, in their pixels. */
  coarse: { lead: (number | null)[][]; trail: (number | null)[][] };
}

/** Finds both edges of an object: from its masks, then closely in the pictures. */
export class EdgeFinder {
  constructor(
    private readonly lines: EdgeLines,
    private readonly size: SmallSize,
    private readonly context: CoverContext,
    private readonly swept: readonly SweptFrame[],
    private readonly pans: boolean,
  ) {}

  /** @param plain for an object whose edges mean nothing: none are given */
  find(masks: readonly Uint8Array[], events: CoverEvents, way: Way, plain: boolean): EdgePaths {
    const { width, height } = this.size;
    const none = plain || events.peak === null || shareOf(masks[events.peak]) < LEAST_COVER;
    const first = events.enter ?? 0,
      last = events.leave ?? masks.length - 1;
    const pairs = masks.map((mask, f) =>
      none || f < first || f > last ? null : LINES_AT.map((at) => edgesOf(mask, width, height, way, at)),
    );
    const coarse = (which: 'lead' | 'trail') => LINES_AT.map((_, k) => pairs.map((pair) => pair?.[k][which] ?? null));
    return this.closely({ lead: coarse('lead'), trail: coarse('trail') }, events, way, none);
  }

  /** Looks closely at edges that are known to a few pixels of the masks. */
  closely(coarse: EdgePaths['coarse'], events: CoverEvents, way: Way, none: boolean): EdgePaths {
    const vertical = way === 90 || way === 270;
    const { context, size, swept, pans } = this;
    const unit = vertical ? context.height / size.height : context.width / size.width,
      fine = vertical ? context.factorY : context.factorX;
    if (none) return { lead: unseen(coarse.lead), trail: unseen(coarse.trail), coarse };
    const zoom = unit / fine,
      peak = events.peak ?? 0;
    // Small pixels to measuring pixels and on to source pixels: the middle of the first small pixel lies half of its size in.
    const enlarged = (lines: (number | null)[][], use: (f: number) => boolean) =>
      lines.map((line) => line.map((v, f) => (v === null || !use(f) ? null : v * zoom - 0.5)));
    const shift = (f: number, g: number) =>
      (vertical ? swept[f].pose.dy - swept[g].pose.dy : swept[f].pose.dx - swept[g].pose.dx) * zoom;
    // Without a pan any frame with nothing in front tells what is behind; in a pan one nearby does, on the side where the edge is not.
    const frames = swept.length;
    const endFree = events.leave !== null && events.leave + 1 < frames ? events.leave + 1 : null,
      startFree = (events.enter ?? 1) > 0 ? max(0, (events.enter ?? 1) - 1) : null;
    const clearBefore = startFree ?? endFree ?? 0,
      clearAfter = endFree ?? clearBefore;
    const beforeEdge = (f: number) =>
      pans
        ? f >= 4
          ? { frame: f - 4, shift: shift(f, f - 4), gain: 1 }
          : null
        : { frame: clearBefore, shift: 0, gain: swept[f].gain / swept[clearBefore].gain };
    const afterEdge = (f: number) =>
      pans
        ? f + 4 < frames
          ? { frame: f + 4, shift: shift(f, f + 4), gain: 1 }
          : null
        : { frame: clearAfter, shift: 0, gain: swept[f].gain / swept[clearAfter].gain };
    const inSource = (edge: EdgePath): FoundEdge => ({
      ...edge,
      looked: true,
      lines: placed(edge.lines, fine),
      softness: scaled(edge.softness, fine),
      byMotion: scaled(edge.byMotion, fine),
      byDefocus: scaled(edge.byDefocus, fine),
    });
    return {
      coarse,
      lead: inSource(
        followEdge(
          this.lines,
          enlarged(coarse.lead, (f) => f <= peak || coarse.lead[1][f] !== null),
          way,
          true,
          beforeEdge,
        ),
      ),
      trail: inSource(
        followEdge(
          this.lines,
          enlarged(coarse.trail, () => true),
          way,
          false,
          afterEdge,
        ),
      ),
    };
  }
}

/** Measuring pixels as source pixels. */
function placed(lines: (number | null)[][], fine: number): (number | null)[][] {
  return lines.map((line) => line.map((v) => (v === null ? null : (v + 0.5) * fine)));
}

function unseen(lines: (number | null)[][]): FoundEdge {
  return {
    lines: lines.map((line) => line.map(() => null)),
    softness: null,
    byMotion: null,
    byDefocus: null,
    looked: false,
  };
}

const scaled = (v: number | null, by: number) => (v === null ? null : v * by);
