import type { Asked, Decide, Finding, JudgedTake, Outcome } from '../../judge/measure';
import { headroom } from '../../calculators/headroom';
import type { RequirementKind } from '../../tricks/types';
import { leavesPicture } from '../cloth/judge';
import { judgeFocus } from '../focus/judge';
import { judgeLight } from '../light/judge';
import { LIMITS } from '../../judge/limits';
import { judgeLock } from '../lock/judge';
import { contentsBeside } from '../compare/requirements';
import { judgeCleanPlate } from '../presence/judge';
import { rateName } from '../../judge/rates';
import { listRuns } from '../../judge/runs';
import { worstOf } from '../../judge/verdicts';
import type { ClothFound } from '../../report/moment-types';
import type { Run, Side, Verdict } from '../../report/types';
import { hiddenShare, judgePunchIn, lockBeside, saidOf, sideOf } from '../cover/requirements';

/** What a requirement says of each of its takes by itself, the worst of them. */
const eachByItself: Decide = (asked) => {
  const { requirement: r, takes } = asked;
  const found = worstOf(
    takes.flatMap((t) => {
      const own = decideOne(asked, t);
      return [{ ...own, text: saidOf(t, own.text) }, ...(r.kind === 'clean-plate' ? contentsBeside(asked, t) : [])];
    }),
  );
  return found ? withRemedy(asked, found) : { verdict: 'unjudged', text: 'it speaks of no take', fix: null };
};

/** What to do is the trick's own remedy where the measure names none. */
function withRemedy({ requirement: r }: Asked, found: Finding): Finding {
  const fallback = found.verdict === 'reshoot' ? r.remedySet : found.verdict === 'workable' ? r.remedyEdit : null;
  return { ...found, fix: found.verdict === 'holds' ? null : (found.fix ?? fallback) };
}

/** Requirements that measuring takes by themselves decides. */
export const TAKE_REQUIREMENTS: Partial<Record<RequirementKind, Decide>> = {
  locked: eachByItself,
  'steady-light': eachByItself,
  'steady-white': eachByItself,
  'steady-focus': eachByItself,
  'rate-at-least': eachByItself,
  'headroom-at-least': eachByItself,
  'length-at-least': eachByItself,
  'clean-plate': eachByItself,
  'inside-frame': eachByItself,
  'same-settings': (asked) => withRemedy(asked, decideSameSettings(asked)),
};

const firstOf = ({ verdict, reasons: [first] }: Verdict): Finding => ({
  verdict,
  text: first?.text ?? '',
  fix: first?.fix ?? null,
});

function decideOne({ requirement: r, delivery, outcomes, length_s }: Asked, take: JudgedTake): Finding {
  const { media, lock, light, focus, presence } = take.facts;
  const limit = r.tolerance ?? 0;
  const unknown = (what: string): Finding => ({ verdict: 'unjudged', text: `${what} is not known`, fix: r.remedySet });
  switch (r.kind) {
    case 'locked':
      return firstOf(
        judgeLock(
          lockBeside(lock, hiddenShare(take, outcomes)),
          media,
          delivery,
          media.frame_count,
          limit || undefined,
          length_s ?? undefined,
        ),
      );
    case 'steady-light':
      return asPlate(take, judgeLight(light, media.frame_count, { stops: r.tolerance, white: null }));
    case 'steady-white':
      return firstOf(judgeLight(light, media.frame_count, { stops: null, white: r.tolerance }));
    case 'steady-focus':
      return asPlate(take, judgeFocus(focus, media.frame_count, r.tolerance ?? undefined));
    case 'rate-at-least': {
      const rate = media.real_fps ?? media.measured_fps;
      if (rate === null) return unknown('the rate');
      const said =
        `${rate.toFixed(2)} distinct pictures a ` +
        `second${media.variable_rate ? ', wandering' : ''}; ${limit} are asked for`;
      return rate >= limit * LIMITS.rate.asked_share
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'headroom-at-least': {
      const spare = headroom(media.width, media.height, delivery.width, delivery.height, 100, 0).left_pct;
      const said = `${spare.toFixed(0)} % larger than delivery; ${limit} % are asked for`;
      const punch = judgePunchIn(sideOf(take, outcomes), delivery);
      if (punch && (punch.verdict === 'reshoot' || spare >= limit - LIMITS.headroom_slack_pct)) return punch;
      return spare >= limit - LIMITS.headroom_slack_pct
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'length-at-least': {
      if (media.duration_s === null) return unknown('the length');
      const usable = (media.duration_s * usableFrames(take.facts)) / Math.max(1, media.frame_count);
      const said = `${usable.toFixed(1)} s can be used; ${limit} s are asked for`;
      return usable >= limit
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'clean-plate':
      return firstOf(judgeCleanPlate(presence, media.frame_count, plateFrames(media)));
    case 'inside-frame':
      return decideInside(
        presence,
        outcomes.find((o) => o.measure === CLOTH_KEY && o.takes.includes(take.id)),
        r.remedySet,
      );
    default:
      return unknown('this');
  }
}

/** The measure of cloths by its key, which itself rests on judges. */
const CLOTH_KEY = 'cloth';

/** Is it whole in the picture while it counts? Of a cloth, the cloth; else whoever is in, from when they are whole. */
function decideInside(presence: JudgedTake['facts']['presence'], cloth: Outcome | undefined, fix: string): Finding {
  const found = cloth?.result as Pick<ClothFound, 'kind' | 'edge_runs' | 'unjudged' | 'hides_runs'> | null | undefined;
  if (found && !found.unjudged && found.kind !== 'mime' && found.hides_runs.length > 0) {
    const gone = leavesPicture(found);
    return gone
      ? { verdict: 'workable', text: `the cloth leaves the picture at the ${gone.words}`, fix }
      : { verdict: 'holds', text: 'the cloth stays inside the picture', fix: null };
  }
  if (presence.unjudged) return { verdict: 'unjudged', text: 'what touches the edges is not known', fix };
  const { edge_runs: edges, present_runs: present } = presence;
  const touched = SIDES.filter((side) => edges[side].length > 0);
  if (touched.length === 0) return { verdict: 'holds', text: 'nothing touches the frame’s edges', fix: null };
  const inside = wholeWithin(
    present,
    SIDES.flatMap((side) => edges[side]),
  );
  const during = (side: Side) => edges[side].filter((r) => inside && r.end > inside.start && r.start < inside.end);
  const listed = (sides: readonly Side[], runsOf: (side: Side) => readonly Run[]) =>
    sides.map((side) => `${side} edge touched in frames ${listRuns(runsOf(side))}`).join('; ');
  const still = SIDES.filter((side) => during(side).length > 0);
  if (inside && still.length === 0)
    return {
      verdict: 'holds',
      text: `whole in the picture from frame ${inside.start} to ${inside.end}; an edge is touched on the way in or out only`,
      fix: null,
    };
  // Nobody comes in or goes out over the top; a frame or two at it may be a leaf, or grain.
  if (during('top').some((r) => r.end - r.start >= CUT_OFF))
    return { verdict: 'reshoot', text: `cut off: ${listed(['top'], during)}`, fix };
  // Whoever reaches in from an edge all the while touches it too: which of them it was is seen, not measured.
  const text = inside ? listed(still, during) : listed(touched, (side) => edges[side]);
  return { verdict: 'unjudged', text: `${text}; look whether it is the one meant`, fix };
}

/** Whoever is cut off is so for more frames than these. */
const CUT_OFF = 2;
const SIDES: readonly Side[] = ['left', 'right', 'top', 'bottom'];

/** From the first to the last frame in which somebody is in and touches no edge; null when there is none. */
function wholeWithin(present: readonly Run[], touching: readonly Run[]): Run | null {
  let [start, end] = [Infinity, -Infinity];
  for (const run of present)
    for (let f = run.start; f <= run.end; f++)
      if (!touching.some((t) => t.start <= f && f <= t.end)) [start, end] = [Math.min(start, f), Math.max(end, f)];
  return end < start ? null : { start, end };
}

/** A plate is made of any good run: a fault that leaves one long enough is a matter of choosing. */
function asPlate({ isPlate, facts: { media, lock, light, focus, presence } }: JudgedTake, judged: Verdict): Finding {
  const found = firstOf(judged);
  if (!isPlate || judged.verdict !== 'reshoot') return found;
  const count = media.frame_count,
    usable = lock.usable_run ?? { start: 0, end: count - 1 };
  const bad = new Set(judged.reasons.map((r) => r.code));
  if ([...bad].some((code) => code !== 'hunt' && code !== 'step')) return found;
  const good = Array.from({ length: count }, (_, f) => f >= usable.start && f <= usable.end);
  if (!presence.unjudged && presence.clear_runs.length)
    for (let f = 0; f < count; f++) good[f] &&= presence.clear_runs.some((r) => f >= r.start && f <= r.end);
  if (bad.has('hunt')) for (const { start, end } of focus.hunts) good.fill(false, start, end + 1);
  const breaks = new Set(bad.has('step') ? light.steps.map((s) => s.frame) : []);
  let best = { start: 0, end: -1 };
  for (let f = 0, start = -1; f <= count; f++) {
    if (start >= 0 && (f === count || !good[f] || breaks.has(f))) {
      if (f - 1 - start > best.end - best.start) best = { start, end: f - 1 };
      start = -1;
    }
    if (f < count && good[f] && start < 0) start = f;
  }
  if (best.end - best.start + 1 < plateFrames(media)) return found;
  const again = (found.fix ?? '').replace(/^S/, 's');
  const fix = `Use frames ${best.start} to ${best.end} as the plate; better, ${again || 'roll it again.'}`;
  return { verdict: 'workable', text: found.text, fix };
}

/** Frames of a take less a useless head and tail. */
function usableFrames({ media, lock }: JudgedTake['facts']): number {
  return lock.usable_run ? lock.usable_run.end - lock.usable_run.start + 1 : media.frame_count;
}

/** A plate needs a clear run of half a second, or all of a shorter take. */
function plateFrames(media: { frame_count: number; measured_fps: number | null }): number {
  return Math.min(media.frame_count, Math.max(2, Math.round((media.measured_fps ?? 25) / 2)));
}

function decideSameSettings({ takes }: Asked): Finding {
  const known = takes.map((t) => ({ name: t.name, media: t.facts.media }));
  const [first, ...rest] = known;
  for (const other of rest) {
    const apart: string[] = [];
    if (first.media.width !== other.media.width || first.media.height !== other.media.height) {
      apart.push(
        `${first.media.width} × ${first.media.height} against ${other.media.width} × ${other.media.height} px`,
      );
    }
    const [a, b] = [first.media.measured_fps, other.media.measured_fps];
    if (
      a === null ||
      b === null ||
      (Math.abs(a / b - 1) > LIMITS.rate.same && !first.media.variable_rate && !other.media.variable_rate)
    )
      apart.push(`${a === null ? '?' : rateName(a)} against ${b === null ? '?' : rateName(b)} fps`);
    if (first.media.bit_depth !== other.media.bit_depth)
      apart.push(`${first.media.bit_depth} against ${other.media.bit_depth} bit`);
    if (apart.length)
      return { verdict: 'reshoot', text: `${first.name} and ${other.name} differ: ${apart.join(', ')}`, fix: null };
  }
  const wandering = known.find((k) => k.media.variable_rate);
  if (wandering)
    return {
      verdict: 'workable',
      text: `${wandering.name} has a wandering rate, ${wandering.media.measured_fps?.toFixed(2) ?? '?'} fps on average`,
      fix: `Convert it to a steady rate before the edit; better, set a fixed rate and roll ${wandering.name} again.`,
    };
  const repeating = known.find(
    (k) =>
      k.media.real_fps !== null &&
      k.media.measured_fps !== null &&
      k.media.real_fps < LIMITS.rate.distinct_share * k.media.measured_fps,
  );
  if (repeating)
    return {
      verdict: 'reshoot',
      text:
        `${repeating.name} repeats frames: ${repeating.media.real_fps!.toFixed(2)} distinct pictures a ` +
        `second in a file of ${rateName(repeating.media.measured_fps!)}`,
      fix: `Set the camera to record at a fixed rate without conversion and roll ${repeating.name} again.`,
    };
  return {
    verdict: 'holds',
    text: `${first.media.width} × ${first.media.height} px at ${first.media.measured_fps?.toFixed(2) ?? '?'} fps in all`,
    fix: null,
  };
}
