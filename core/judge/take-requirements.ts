import type { Asked, Decide, Finding, JudgedTake } from '../measures/measure';
import { headroom } from '../sums/headroom';
import type { RequirementKind } from '../tricks/types';
import { wayInWords } from './cover';
import { judgeFocus } from './focus';
import { judgeLight } from './light';
import { LIMITS } from './limits';
import { judgeLock } from './lock';
import { contentsBeside } from './pair-requirements';
import { judgeCleanPlate } from './presence';
import { rateName } from './rates';
import { listRuns } from './runs';
import { worstOf } from './verdicts';
import type { Verdict } from '../report/types';
import { hiddenShare, judgePunchIn, lockBeside, saidOf, sideOf } from './wipe-requirements';

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
  'opposite-direction': (asked) => withRemedy(asked, decideOpposed(asked)),
};

const firstOf = ({ verdict, reasons: [first] }: Verdict): Finding => ({
  verdict,
  text: first?.text ?? '',
  fix: first?.fix ?? null,
});

function decideOne({ requirement: r, delivery, outcomes }: Asked, take: JudgedTake): Finding {
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
    case 'inside-frame': {
      if (presence.unjudged) return unknown('what touches the edges');
      const { left, right, top, bottom } = presence.edge_runs;
      const touched = Object.entries({ left, right, top, bottom }).filter(([, runs]) => runs.length > 0);
      if (touched.length === 0) return { verdict: 'holds', text: 'nothing touches the frame’s edges', fix: null };
      // Whoever walks in touches an edge too: which of them it was is seen, not measured.
      return {
        verdict: 'unjudged',
        text:
          `${touched.map(([edge, runs]) => `${edge} edge touched in frames ${listRuns(runs)}`).join('; ')}; ` +
          `look whether it is the one meant`,
        fix: r.remedySet,
      };
    }
    default:
      return unknown('this');
  }
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

/** Do two movers go against each other? */
function decideOpposed({ requirement: r, takes }: Asked): Finding {
  const ways = takes.map(({ name, facts }) => ({ name, angle: facts.presence.travel?.angle_deg ?? null }));
  const without = ways.filter((w) => w.angle === null);
  if (without.length > 0 || ways.length < 2)
    return {
      verdict: 'unjudged',
      text: `which way it goes could not be told in ${without.map((w) => w.name).join(', ')}`,
      fix: r.remedySet,
    };
  const [a, b] = ways,
    limit = r.tolerance ?? 20;
  const apart = Math.abs(((a.angle! - b.angle! + 540) % 360) - 180),
    off = 180 - apart;
  const text =
    `${a.name} goes ${wayInWords(a.angle!)}, ${b.name} ${wayInWords(b.angle!)}: ${off.toFixed(0)}° ` +
    `from opposite; ${limit}° are allowed`;
  return off <= limit
    ? { verdict: 'holds', text, fix: null }
    : {
        verdict: off > 90 && r.remedyEdit ? 'workable' : 'reshoot',
        text,
        fix: off > 90 && r.remedyEdit ? r.remedyEdit : r.remedySet,
      };
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
