import type { Finding } from '../../judge/measure';
import type { HideFound } from '../../report/hide-types';
import type { Verdict, Side } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { lengthOf, lightOf, many, placeOf, said, type Found, type PairJudgedWith } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

const PLATE = { other: 'The plate', one: 'the take', again: 'the plate' };
const EDGES: Record<Side, string> = { left: 'left', right: 'right', top: 'upper', bottom: 'lower' };
const BY_EYE = 'Step through the frames before they are gone, and look for what still shows.';
const MOVE_LIGHT = 'Move the light so that the shadow falls to the side they come from, and roll it again.';
const SIDE_ON = 'Roll it again: side on and nearer to what hides them, bags, coat and shadow too.';

/** Does somebody vanish behind something, so that the plate can take over there? @param plate whether one was laid on the take */
export function judgeHide(h: HideFound, by: PairJudgedWith & { plate: boolean }): Verdict {
  const unknown = unknownIn(h);
  const who = unknown.length
    ? unknown
    : h.switch_chosen
      ? [splitOf(h, `The plate takes over from frame ${h.switch_frame}`, by.size.width)]
      : hiddenOf(h, 1, by.size.width);
  const beside = by.plate ? [...placeOf(h, by, PLATE), ...lightOf(h, PLATE)] : [];
  const reasons = [...who, ...beside].sort((a, b) => byWorst(a.word, b.word));
  const margin = h.split?.margin_px;
  return {
    verdict: reasons[0].word,
    reasons: reasons.map((r) => r.reason),
    deciding:
      margin === undefined
        ? []
        : [
            {
              name: 'margin',
              value: margin,
              unit: 'px' as const,
              limit: LIMITS.hide.margin_share * by.size.width,
              frame: h.spill[0]?.frame ?? null,
            },
          ],
  };
}

function unknownIn({ unjudged, known_share: known, in_share: some }: HideFound): Found[] {
  const { known_share: limit } = LIMITS.pair;
  if (unjudged || known < limit) {
    const text = unjudged ?? `Who is in is known in ${Math.round(100 * known)} % of the frames only.`;
    return [said('unjudged', 'not-known', text, { value: known, limit, fix: BY_EYE })];
  }
  if (some > 0) return [];
  const fix = 'Choose the take in which they walk on; who stands still from first to last is told by a plate.';
  return [said('unjudged', 'nobody-in', 'Nobody was seen in this take.', { fix })];
}

/** Whether nothing of them shows for so many frames, and a line joins take and plate there. */
function hiddenOf(h: HideFound, frames: number, width: number): Found[] {
  const { hidden_runs: runs, leaves_by: edge, least_shown: least, switch_frame: at } = h;
  if (runs.length === 0 && h.shadow_shows.length > 0 && !edge)
    return [
      said(
        'reshoot',
        'shadow-shows',
        `They are hidden in frames ${listRuns(h.shadow_shows)}, but their shadow still shows.`,
        { frames: h.shadow_shows, fix: MOVE_LIGHT },
      ),
    ];
  if (runs.length > 0 && at === null)
    return [
      said('unjudged', 'at-once', `They are gone all at once at frame ${runs[0].start}, with nothing to hide them.`, {
        frames: runs,
        fix: 'Look whether the picture jumps there, or they look like what stands behind them.',
      }),
    ];
  if (at === null || (runs.length === 0 && !edge)) {
    const seen = least ? ` The least shows at frame ${least.frame}.` : '';
    return [
      said('reshoot', 'never-hidden', `Something of them shows in every frame after they came in.${seen}`, {
        frames: least ? [{ start: least.frame, end: least.frame }] : [],
        value: least && 100 * least.share,
        limit: 0,
        fix: SIDE_ON,
      }),
    ];
  }
  if (edge)
    return [
      said(
        'reshoot',
        'leaves',
        `They leave by the ${EDGES[edge]} edge of the picture at frame ${at - 1}, not behind anything.`,
        {
          frames: runs,
          fix: 'Roll it again: stop dead behind what hides them. As it is, the plate may stand from there on.',
        },
      ),
    ];
  const here = runs.find((r) => at >= r.start && at <= r.end);
  const longest = here ? here.end - here.start + 1 : 0;
  if (longest < frames)
    return [
      said('workable', 'short', `They are hidden whole for ${many(longest)}; ${frames} are asked for.`, {
        frames: runs,
        value: longest,
        limit: frames,
        fix: 'Switch in that very frame; or roll it again and stay behind it longer.',
      }),
    ];
  return [splitOf(h, `Hidden whole in frames ${listRuns(runs)}; the plate may stand alone from frame ${at}`, width)];
}

/** Whether a line joins take and plate with room beside it. @param start what is said first when it does */
function splitOf(h: HideFound, start: string, width: number): Found {
  const { hidden_runs: frames, split } = h;
  if (!split) return said('holds', 'hidden', `${start}.`, { frames });
  if (!split.fixed) return spillOf(h);
  const limit = LIMITS.hide.margin_share * width,
    value = split.margin_px;
  if (value < limit)
    return said('workable', 'narrow', `The split passes ${value.toFixed(0)} px from them.`, {
      value,
      limit,
      fix: 'Keep the feather narrower than that, or roll it again, farther behind what hides them.',
    });
  const text = `${start}, with ${value.toFixed(0)} px to spare on the ${split.keeps} of the split.`;
  return said('holds', 'hidden', text, { frames, value, limit });
}

/** Something is cut off by the best line, or left over beside it. */
function spillOf({ spill, spill_frames: runs }: HideFound): Found {
  const shadow = spill.every((s) => s.what === 'shadow');
  const value = lengthOf(runs),
    limit = LIMITS.hide.by_hand_frames;
  const what = shadow ? 'Their shadow crosses' : 'They cross';
  const text = `${what} every line along which take and plate could be joined, in frames ${listRuns(runs)}.`;
  if (value <= limit)
    return said('workable', 'spill', text, {
      frames: runs,
      value,
      limit,
      fix: `Draw what crosses by hand in ${many(value)}, or roll it again.`,
    });
  const fix = shadow ? MOVE_LIGHT : 'Roll it again and pass behind it, not in front; stay on one side until then.';
  return said('reshoot', shadow ? 'shadow-crosses' : 'crosses', text, { frames: runs, value, limit, fix });
}

/** Whether they are hidden whole for so many frames, as one requirement of a trick. */
export function judgeHidden(h: HideFound, frames: number, width: number): Finding {
  const [found] = [...unknownIn(h), ...hiddenOf(h, frames, width)];
  const { text, fix } = found.reason;
  return { verdict: found.word, text: text.charAt(0).toLowerCase() + text.slice(1).replace(/\.$/, ''), fix };
}
