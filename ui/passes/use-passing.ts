import { useMemo, useState } from 'react';
import type { PassBenchPage, PassTake } from '../../api/passes';
import { LaidPasses, type DrawnLine } from '../../core/measures/joined/drawn';
import { changeover } from '../../core/measures/joined/changeover';
import { glideAt } from '../../core/movers/glides';
import { gapTrace } from '../../core/movers/gaps';
import { meetingOf } from '../../core/measures/joined/meeting';
import type { GlidingLine, JoinedWish, MovingLine } from '../../core/measures/joined/joined';
import { JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import { partBeside } from '../compare/seam-lines';
import { underWay } from '../data/hooks';
import { useDrawnAgainst } from '../data/pass-hooks';
import { middleLine, pointMoved, seenFrom, sidesChanged, thinned } from './line-by-hand';
import type { JoinedParts } from './pass-picture';

/** A point that is let go of goes into the corridor when that is within this share of the picture's width. */
const SNAP = 0.05;
/** A line with no corridor, or one wider than anybody needs, starts with a feather of this share of the width. */
const USUAL_FEATHER = 0.03;

/** Points of a measured line nearer to each other than this share of the width are one. */
const ALIKE = 0.004;

const isSame = (a: DrawnLine, b: DrawnLine) =>
  a.first_side === b.first_side &&
  a.points.length === b.points.length &&
  a.points.every(([x, y], i) => Math.hypot(x - b.points[i][0], y - b.points[i][1]) < 1);

type Wish = Omit<JoinedWish, 'from' | 'outline' | 'moves'>;

/** Everything that is chosen on the pass bench for two takes, and what follows from it at once. */
export function usePassing(bench: PassBenchPage, first: PassTake, second: PassTake) {
  const size = { width: first.width, height: first.height };
  const pair = bench.pair?.result ?? null,
    hide = bench.hide?.result ?? null;
  const turned = bench.pair !== null && bench.pair.take_id !== first.id;
  const drawn = useDrawnAgainst(bench.pair, first.id);
  const last = bench.proofs[0]?.wish;
  const [wish, setWish] = useState<Wish>({
    how: last?.how ?? bench.how,
    slide: last?.slide ?? 0,
    line: last?.line ?? null,
    feather_px: last?.feather_px ?? -1,
    at: last?.at ?? null,
    strength: last?.strength ?? [{ frame: 0, pct: 50 }],
    lift_stops: last?.lift_stops ?? 0,
    rate_pct: last?.rate_pct ?? -1,
    front: last?.front ?? 'first',
    even: last?.even ?? true,
  });
  const { how } = wish;
  const said = bench.moment?.result ? meetingOf(bench.moment.measure, bench.moment.result) : {};
  // What was not chosen by hand is as it was measured.
  const [slid, setSlid] = useState(last !== undefined);
  const slide = slid || how !== bench.how ? wish.slide : (said.slide ?? wish.slide);
  const rate = how !== 'over' ? 100 : wish.rate_pct > 0 ? wish.rate_pct : (said.rate ?? 100);
  const front = last || how !== bench.how ? wish.front : (said.front ?? wish.front);
  const [picked, setPicked] = useState<number | null>(null);

  const seam = pair?.seam ?? null;
  const measured = useMemo((): DrawnLine | null => {
    const found =
      how === 'switch'
        ? hide?.split && { points: hide.split.points, first_side: hide.split.keeps }
        : seam && seenFrom({ points: seam.points, first_side: seam.first_side }, turned);
    return found ? thinned(found, ALIKE * first.width) : null;
  }, [how, hide, seam, turned, first.width]);
  // A proof keeps its line, whether a hand drew it or not.
  const own = wish.line && !(measured && isSame(wish.line, measured)) ? wish.line : null;
  const line: DrawnLine | null = JOINING_WAYS[how].parts === 'line' ? (own ?? measured ?? middleLine(size)) : null;
  // Hands that mime an edge begin on a mark.
  const begins = how === 'edge' ? first.marks.find((m) => m.kind === 'starts')?.frame : undefined;
  const at = wish.at ?? begins ?? (how === 'switch' ? hide?.switch_frame : how === bench.how ? said.at : null) ?? null;
  const outlines = drawn.data?.outlines ?? null;
  const laid = useMemo(() => {
    if (!outlines) return null;
    const still = how === 'switch' || second.plate;
    const end = how === 'switch' && at !== null ? at - 1 : outlines.count.a - 1;
    return new LaidPasses(outlines, slide, still ? { start: 0, end } : null);
  }, [outlines, slide, how, at, second.plate]);
  const moving = useMemo(() => (own || slide !== 0 ? [] : (pair?.moving_mask_runs ?? [])), [own, slide, pair]);
  // A pair that an older version measured has none.
  const movingLines = pair?.moving_lines;
  // Lines that take over where the measured one cannot stay put; a line drawn by hand stays where it is.
  const moves = useMemo(
    () =>
      own || slide !== 0 || how !== 'line'
        ? []
        : (movingLines ?? []).map(({ start, end, points, first_side }) => {
            const line = thinned(seenFrom({ points, first_side }, turned), ALIKE * first.width);
            return {
              start,
              end,
              points: line.points.map(([x, y]): [number, number] => [x, y]),
              first_side: line.first_side,
            };
          }),
    [own, slide, how, movingLines, turned, first.width],
  );
  const glidesFound = pair?.line_glides;
  const glides = useMemo(
    (): GlidingLine[] =>
      moves.length === 0
        ? []
        : (glidesFound ?? []).map((g) => ({
            ...g,
            first_side: seenFrom({ points: g.from, first_side: g.first_side }, turned).first_side,
          })),
    [moves, glidesFound, turned],
  );
  // Where the line cannot move evenly one gives way to the next over the frames in which neither cuts anybody.
  const eased = useMemo((): MovingLine[] => {
    if (!laid || !line || moves.length === 0) return moves;
    const run = { start: 0, end: first.frame_count - 1 };
    const cutsOf = (l: DrawnLine) => {
      const { a, b } = laid.against(l, 0);
      return [...a.runs, ...b.runs];
    };
    const own = cutsOf(line),
      cuts = moves.map(cutsOf);
    const glidesInto = (f: number) => glides.some((g) => g.start < f && f <= g.end);
    return moves.map((m, k) => ({
      ...m,
      ease_in: glidesInto(m.start)
        ? null
        : changeover(m.start, moves[k - 1]?.end === m.start - 1 ? cuts[k - 1] : own, cuts[k], run),
      ease_out:
        glidesInto(m.end + 1) || moves[k + 1]?.start === m.end + 1 ? null : changeover(m.end + 1, cuts[k], own, run),
    }));
  }, [laid, line, moves, glides, first.frame_count]);
  const moveAt = (frame: number) => {
    const within = (r: { start: number; end: number }) => r.start <= frame && frame <= r.end;
    const glide = glides.find(within);
    return glide ? { ...glide, points: glideAt(glide, frame) } : (moves.find(within) ?? null);
  };
  const room = useMemo(() => (laid && line ? laid.against(line, 0) : null), [laid, line]);
  // What was measured cuts nobody but where it must move and no other line takes over.
  const exact = !own && slide === 0 && how === 'line' && seam !== null;
  // What was measured is exact; a line drawn by hand is held against a coarser picture.
  const most =
    exact && seam
      ? seam.feather_px
      : !own && how === 'switch' && hide?.split
        ? 2 * hide.split.margin_px
        : (room?.room_px ?? null);
  const usual = Math.round(Math.min(USUAL_FEATHER * size.width, most ?? Infinity));
  const feather =
    how === 'opening'
      ? Math.max(0, wish.feather_px < 0 ? 4 : wish.feather_px)
      : Math.min(wish.feather_px < 0 ? usual : wish.feather_px, Math.floor(most ?? size.width / 4));
  const against = useMemo(
    () => (laid && line ? laid.against(line, feather, moves, exact ? moving : null) : null),
    [laid, line, feather, moves, moving, exact],
  );

  const factor = outlines?.factor ?? 1;
  const table = drawn.data?.table ?? null;
  const trace = useMemo(
    () => (table && outlines ? gapTrace(table, slide, first.frame_count, outlines.fine_factor) : null),
    [table, outlines, slide, first.frame_count],
  );
  const zone = bench.zone && bench.zone.map(([x, y]): [number, number] => [x * size.width, y * size.height]);
  const joinedAt = (frame: number): JoinedParts => {
    const whole = { feather: 0, share: 1, secondLift: 0 };
    const { parts, evenly } = JOINING_WAYS[how];
    const share = evenly({ at, strength: wish.strength }, frame);
    if (share !== null) return { ...whole, part: null, share };
    if (parts === 'opening') return { ...whole, part: zone, share: 0, feather, secondLift: wish.lift_stops };
    // What is cut out is seen in the proof; here both are mixed.
    if (parts === 'told') return { ...whole, part: null, share: 0.5 };
    const here = moveAt(frame) ?? line;
    if (!here) return { ...whole, part: null, share: 0 };
    const side = sidesChanged(here).first_side;
    return { ...whole, part: partBeside(here.points, side, size.width, size.height), feather };
  };
  const setLine = (next: DrawnLine | null) =>
    setWish((w) => ({ ...w, line: next && { ...next, points: next.points.map(([x, y]) => [x, y]) } }));
  return {
    size,
    pair,
    hide,
    /** Whether what parts them is still being looked for. */
    looking:
      how === 'switch'
        ? bench.how === 'switch' && (!bench.hide || underWay(bench.hide))
        : bench.wants !== null && how === bench.how
          ? !bench.moment || underWay(bench.moment)
          : !bench.pair || underWay(bench.pair),
    turned,
    wish: { ...wish, at, slide, rate_pct: rate, front },
    change: (more: Partial<Wish>) => {
      if (more.slide !== undefined) setSlid(true);
      setWish((w) => ({ ...w, slide, front, ...more }));
    },
    line,
    own: own !== null,
    measured,
    moving,
    moves: eased,
    /** How it moves from one place to the next. */
    glides,
    moveAt,
    /** What the measured split would cut or leave over in a frame. */
    spillAt: (frame: number) =>
      own || how !== 'switch' || wish.at !== null ? [] : (hide?.spill ?? []).filter((s) => s.frame === frame),
    setLine,
    /** Puts a point that was let go of into the corridor when that is near. */
    settle: (next: DrawnLine, index: number) => {
      if (!laid) return setLine(next);
      return setLine(pointMoved(next, index, laid.snapped(next, index, SNAP * size.width, moving), size));
    },
    picked,
    pick: setPicked,
    feather,
    most,
    against,
    grid: outlines && { width: outlines.width, factor },
    trace,
    zone,
    joinedAt,
    /** The second's frame that lies under one of the first, as far as it has one. */
    under: (frame: number) => Math.max(0, Math.min(second.frame_count - 1, Math.round(((frame - slide) * rate) / 100))),
  };
}

export type Passing = ReturnType<typeof usePassing>;
