import type { Finding } from '../../judge/measure';
import type { PairFound } from '../../report/pair-types';
import type { Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import {
  lengthOf,
  lightOf,
  LOOK,
  many,
  placeOf,
  said,
  type Found,
  type PairJudgedWith,
  type Size,
} from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

const PASSES = { other: 'The second pass', one: 'the first', again: 'the second pass' };

/** Can two passes of one setup be joined along a line? */
export function judgePair(p: PairFound, by: PairJudgedWith): Verdict {
  const { feather_share: feather } = LIMITS.pair;
  const unknown = unknownIn(p),
    overlap = overlapOf(p);
  const who = unknown.length ? unknown : overlap.length ? overlap : seamOf(p, by.size);
  const thrown = overlap.length ? [] : thrownOver(p);
  const reasons = [...who, ...placeOf(p, by, PASSES), ...lightOf(p, PASSES), ...thrown, ...mirroredIn(p)].sort((a, b) =>
    byWorst(a.word, b.word),
  );
  return {
    verdict: reasons[0].word,
    reasons: reasons.map((r) => r.reason),
    deciding: [
      ...(p.closest_px === null
        ? []
        : [{ name: 'nearest', value: p.closest_px, unit: 'px' as const, limit: null, frame: p.closest_frame }]),
      ...(p.seam
        ? [
            {
              name: 'feather',
              value: p.seam.feather_px,
              unit: 'px' as const,
              limit: feather * by.size.width,
              frame: p.seam.narrowest_frame,
            },
          ]
        : []),
    ],
  };
}

/** Whether it is known who is in both. */
function unknownIn(p: PairFound): Found[] {
  const { known_share: least } = LIMITS.pair;
  const { unjudged } = p;
  if (unjudged || p.known_share < least) {
    const text = unjudged ?? `Who is in is known in ${Math.round(100 * p.known_share)} % of the frames only.`;
    return [said('unjudged', 'not-known', text, { value: p.known_share, limit: least, fix: LOOK })];
  }
  const empty = [p.in_share.a === 0 ? 'first' : null, p.in_share.b === 0 ? 'second' : null].filter(Boolean);
  if (empty.length)
    return [
      said('unjudged', 'nobody-in', `Nobody was seen in the ${empty.join(' and the ')} pass.`, {
        fix: 'Choose passes with somebody in them; who stands still from first to last is told by a plate.',
      }),
    ];
  return [];
}

/** Whether they ever overlap. */
function overlapOf(p: PairFound): Found[] {
  const { overlap_runs: overlap, slide } = p;
  if (overlap.length === 0) return [];
  const text = `The two overlap in frames ${listRuns(overlap)}, shadows included.`;
  const more = { frames: overlap, value: lengthOf(overlap), limit: 0 };
  if (!slide)
    return [said('reshoot', 'overlap', text, { ...more, fix: 'Roll one of the two again, farther from the other.' })];
  const by = slide.frames - p.laid;
  const fix =
    `Let the second pass start ${many(Math.abs(by))} ${by > 0 ? 'later' : 'earlier'}: then they never come nearer ` +
    `than ${slide.closest_px.toFixed(0)} px, and glances miss by as many frames. Or roll one of the two again.`;
  return [said('workable', 'overlap', text, { ...more, fix })];
}

/** What parts two that never overlap. */
function seamOf({ seam, moving_mask_runs: moving }: PairFound, size: Size): Found[] {
  if (!seam)
    return [
      said('reshoot', 'no-seam', 'No line from edge to edge parts the two.', {
        fix: 'Roll one of the two again, with room between them.',
      }),
    ];
  const limit = LIMITS.pair.feather_share * size.width,
    value = seam.feather_px;
  if (!seam.fixed)
    return [
      said(
        'workable',
        'moving-seam',
        `No one line serves the whole shot: in frames ${listRuns(moving)} it must move.`,
        {
          frames: moving,
          value: lengthOf(moving),
          limit: 0,
          fix: `Move the line in those ${many(lengthOf(moving))}, or roll one of the two again, farther from the other.`,
        },
      ),
    ];
  const at = seam.narrowest_frame === null ? [] : [{ start: seam.narrowest_frame, end: seam.narrowest_frame }];
  if (value < limit)
    return [
      said('workable', 'narrow', `The line has room for a feather of ${value.toFixed(0)} px only.`, {
        frames: at,
        value,
        limit,
        fix: 'Keep the feather that narrow, or roll one of the two again, farther from the other.',
      }),
    ];
  const text = `One line parts them for the whole shot, with a feather of up to ${value.toFixed(0)} px.`;
  return [said('holds', 'parted', text, { value, limit })];
}

/** Light that is thrown over the line: it is missing in the other pass. */
function thrownOver({ thrown, seam }: PairFound): Found[] {
  const limit = LIMITS.pair.thrown_stops;
  if (!thrown || !seam) return [];
  return ([thrown.a, thrown.b] as const).flatMap((t, k) => {
    if (!t || Math.abs(t.stops) < limit) return [];
    const who = k === 0 ? 'first' : 'second',
      where = `at ${t.x_px.toFixed(0)}, ${t.y_px.toFixed(0)} px`;
    const size = `${Math.abs(t.stops).toFixed(2)} stop`;
    const text = !t.seen_empty
      ? `In the ${who} pass the light beyond the line changes, up to ${t.stops > 0 ? '+' : '−'}${size} ${where} in frame ` +
        `${t.frame}: by whoever is in, a lamp or a cloud.`
      : t.stops > 0
        ? `Whoever is in the ${who} pass throws light over the line, up to ${size} ${where} in frame ${t.frame}.`
        : `Whoever is in the ${who} pass takes light away beyond the line, up to ${size} ${where} in frame ${t.frame}.`;
    return [
      said('workable', 'thrown-light', text, {
        frames: t.runs,
        value: t.stops,
        limit,
        fix:
          t.stops > 0
            ? 'Shield the lamp or what reflects it from that half and roll again; or let that half be graded with it.'
            : 'Move the light so that they do not stand in it, and roll again; or let that half be graded with it.',
      }),
    ];
  });
}

/** Whoever is mirrored in the floor: their mirror image must be on their side of the line as they are. */
function mirroredIn({ mirrored, overlap_runs }: PairFound): Found[] {
  return ([mirrored?.a, mirrored?.b] as const).flatMap((m, k) => {
    if (!m) return [];
    const who = k === 0 ? 'first' : 'second';
    const text =
      `Whoever is in the ${who} pass is mirrored in the floor, ${Math.round(100 * m.share)} % as strong, below ` +
      `${m.x_px.toFixed(0)}, ${m.y_px.toFixed(0)} px in frame ${m.frame}`;
    const crosses = m.over.length > 0 && overlap_runs.length === 0;
    const over = crosses ? `: over the line in ${m.over.length === 1 ? 'frame' : 'frames'} ${m.over.join(', ')}` : '';
    return [
      said(crosses ? 'workable' : 'holds', 'mirrored', `${text}${over}.`, {
        frames: m.runs,
        value: m.share,
        fix: crosses ? 'Lead the line round the mirror image too, or dull the floor there and roll again.' : null,
      }),
    ];
  });
}

/** Whether two passes stay so far apart that a line has room between them, as one requirement of a trick. */
export function judgeApart(p: PairFound, names: readonly [string, string], limit: number, size: Size): Finding {
  const [found] = [...unknownIn(p), ...overlapOf(p)];
  const [a, b] = names;
  if (found) {
    const { text, fix } = found.reason;
    return { verdict: found.word, text: `${a} and ${b}: ${text.charAt(0).toLowerCase()}${text.slice(1, -1)}`, fix };
  }
  if (p.closest_px === null) return { verdict: 'holds', text: `${a} and ${b} are never in together`, fix: null };
  const at = `${a} and ${b} come as near as ${p.closest_px.toFixed(0)} px, at frame ${p.closest_frame}`;
  if (p.closest_px >= limit) return { verdict: 'holds', text: at, fix: null };
  const [seam] = seamOf(p, size);
  const fix = 'Part them with a line and a feather inside that, or roll one of the two again, farther from the other.';
  return { verdict: 'workable', text: at, fix: seam.reason.fix ?? fix };
}
