import type { Finding } from '../../judge/measure';
import type { ZoneFound } from '../../report/zone-types';
import type { Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { lengthOf, many, said, type Found } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

const BY_EYE = 'Step through the take and watch the zone.';
const runOf = ({ start, end }: Run): Run => ({ start, end });

/** Was a zone of the picture kept free? @param width of the picture, source pixels */
export function judgeZone(z: ZoneFound, width: number): Verdict {
  const unknown = unknownIn(z);
  const reasons = (unknown.length ? unknown : [...enteredOf(z, width), ...lightOf(z)]).sort((a, b) =>
    byWorst(a.word, b.word),
  );
  const share = Math.max(0, ...z.entered.map((e) => e.share));
  const worst = z.entered.find((e) => e.share === share);
  return {
    verdict: reasons[0].word,
    reasons: reasons.map((r) => r.reason),
    deciding: worst
      ? [{ name: 'taken', value: 100 * share, unit: '%' as const, limit: 0, frame: worst.frame }]
      : z.closest_px === null
        ? []
        : [{ name: 'nearest', value: z.closest_px, unit: 'px' as const, limit: null, frame: z.closest_frame }],
  };
}

function unknownIn({ unjudged, known_share: known }: ZoneFound): Found[] {
  const { known_share: limit } = LIMITS.pair;
  if (!unjudged && known >= limit) return [];
  const text = unjudged ?? `Who is in is known in ${Math.round(100 * known)} % of the frames only.`;
  return [said('unjudged', 'not-known', text, { value: known, limit, fix: BY_EYE })];
}

function enteredOf(
  { entered, entered_runs: runs, closest_px: near, closest_frame: at }: ZoneFound,
  width: number,
): Found[] {
  const value = lengthOf(runs);
  if (value > 0) {
    const bodies = entered.filter((e) => e.what === 'body');
    const most = Math.max(...entered.map((e) => e.share));
    const taken = `${Math.max(1, Math.round(100 * most))} % of it at most`;
    if (bodies.length)
      return [
        said('reshoot', 'entered', `Somebody is in the zone in frames ${listRuns(runs)}, ${taken}.`, {
          frames: runs,
          value,
          limit: 0,
          fix: `Keep out of the zone and roll it again; or cut them out of it by hand in ${many(value)}.`,
        }),
      ];
    return [
      said('workable', 'shadow', `A shadow falls into the zone in frames ${listRuns(runs)}, ${taken}.`, {
        frames: entered.map(runOf),
        value,
        limit: 0,
        fix: `Bring the shadow back by hand in ${many(value)}; or move the light, and roll it again.`,
      }),
    ];
  }
  const limit = LIMITS.hide.margin_share * width;
  if (near !== null && near < limit)
    return [
      said('workable', 'near', `Somebody comes as near to the zone as ${near.toFixed(0)} px, at frame ${at}.`, {
        frames: at === null ? [] : [{ start: at, end: at }],
        value: near,
        limit,
        fix: 'Keep the feather narrower than that.',
      }),
    ];
  const text =
    near === null
      ? 'Nobody comes into the zone.'
      : `Nobody comes nearer to the zone than ${near.toFixed(0)} px, at frame ${at}.`;
  return [said('holds', 'free', text, { value: near, limit })];
}

function lightOf(z: ZoneFound): Found[] {
  const limit = LIMITS.light.holds_stops;
  const changes = z.changes.filter((c) => Math.abs(c.stops) > limit);
  if (changes.length === 0) return [];
  const most = changes.reduce((a, b) => (Math.abs(b.stops) > Math.abs(a.stops) ? b : a));
  const way = most.stops > 0 ? 'brighter' : 'darker';
  const text =
    `Light changes in the zone alone in frames ${listRuns(changes.map(runOf))}: ` +
    `up to ${Math.abs(most.stops).toFixed(2)} stop ${way}.`;
  return [
    said('workable', 'light', text, {
      frames: changes.map(runOf),
      value: most.stops,
      limit,
      fix: 'Match it in those frames; or find what lights the zone, put it out, and roll it again.',
    }),
  ];
}

/** Whether a zone was kept free, as one requirement of a trick. */
export function judgeKeptFree(z: ZoneFound, name: string, width: number): Finding {
  const { verdict, reasons } = judgeZone(z, width);
  const [{ text, fix }] = reasons;
  return { verdict, text: `${name}: ${text.charAt(0).toLowerCase()}${text.slice(1).replace(/\.$/, '')}`, fix };
}

/** Whether nothing but the pull touches a zone from which something is pulled away; as one requirement of a trick. */
export function judgePulled(z: ZoneFound, name: string): Finding {
  const [unknown] = unknownIn(z);
  if (unknown) return { verdict: 'unjudged', text: `${name}: ${unknown.reason.text}`, fix: BY_EYE };
  const { pulled } = z;
  if (!pulled)
    return {
      verdict: 'unjudged',
      text: `${name}: nothing was seen to be pulled out of the zone`,
      fix: 'Draw the zone round what is pulled away, or step through the take and watch it.',
    };
  const { touched_runs: touched } = pulled;
  const said = `what lies in the zone is pulled away in frames ${listRuns([runOf(pulled)])}`;
  if (touched.length === 0) return { verdict: 'holds', text: `${name}: ${said}; nobody else touches it`, fix: null };
  const n = lengthOf(touched);
  return {
    verdict: n <= LIMITS.hide.by_hand_frames ? 'workable' : 'reshoot',
    text: `${name}: ${said}, but somebody touches it in frames ${listRuns(touched)} besides`,
    fix: n <= LIMITS.hide.by_hand_frames ? `Cut them out of it by hand in ${many(n)}.` : null,
  };
}

/** The least of an opening's edge, as a share of its length, that a mask must be able to follow. */
const READABLE = LIMITS.zone.readable_share;

/** Whether whoever is in shows in an opening alone, and whether a mask can follow its edge; as one requirement of a trick. */
export function judgeStaysIn(z: ZoneFound, name: string): Finding {
  const [unknown] = unknownIn(z);
  if (unknown) return { verdict: 'unjudged', text: `${name}: ${unknown.reason.text}`, fix: BY_EYE };
  const bodies = z.outside.filter((o) => o.what === 'body');
  if (bodies.length)
    return {
      verdict: 'reshoot',
      text: `${name}: somebody shows outside the opening in frames ${listRuns(bodies.map(runOf))}`,
      fix: `Stay inside the opening and roll it again; or cut them out by hand in ${many(lengthOf(bodies))}.`,
    };
  const { edge } = z;
  if (edge && edge.readable_share < READABLE)
    return {
      verdict: 'workable',
      text:
        `${name}: the opening’s edge can be followed along ${Math.round(100 * edge.readable_share)} % of its length only; ` +
        `it is lost at ${Math.round(edge.weakest.x_px)}, ${Math.round(edge.weakest.y_px)} px`,
      fix: `Light the edge about ${edge.lift_stops.toFixed(1)} stops more and roll it again; or draw it by hand, lifted.`,
    };
  if (z.outside.length)
    return {
      verdict: 'workable',
      text: `${name}: a shadow falls outside the opening in frames ${listRuns(z.outside.map(runOf))}`,
      fix: `Bring the shadow back by hand in ${many(lengthOf(z.outside))}; or move the light, and roll it again.`,
    };
  return {
    verdict: 'holds',
    text: `${name}: nobody shows outside the opening, and its edge can be followed`,
    fix: null,
  };
}
