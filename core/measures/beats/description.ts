import { judgeBeats } from './judge';
import { DRAW_IT } from '../compare/requirements';
import { judgeLightInside, judgeLightOnBeat } from './judge-light';
import { judgeMarked } from './marked';
import type { BeatsFound } from '../../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from '../../judge/measure';

/** What happens in a take on a frame: starts, stops, turns, strikes, steps of light, sounds. */
export const BEATS: Measure<object, BeatsFound, BeatsFound> = {
  key: 'beats',
  finds: 'on which frames something happens',
  // From 2 on it says where each step of light is.
  version: 8,
  reads: 1,
  takes: 1,
  ordered: false,
  many: false,
  needs: ['take'],
  uses: [],
  byOutlines: true,
  decides: { 'beats-marked': decideMarked, 'light-on-beat': decideLight, 'light-inside': decideLight },
  wish: (joi) => joi.object({}),
  apart: [],
  files: { folder: 'measures', by: 'itself' },
  sorry: 'Looking for beats broke off for a reason inside the app. Ask for it again.',
  judge: judgeBeats,
};

function decideMarked({ requirement, takes: [take], outcomes }: Asked): Finding | 'pending' {
  const made = outcomesOf(outcomes, BEATS).find((o) => o.takes.includes(take.id));
  if (!made || made.state === 'waiting' || made.state === 'working') return 'pending';
  const marks = take.marks ?? [];
  const nothing: BeatsFound = {
    beats: [],
    light_steps: [],
    sound_offset_frames: null,
    has_sound: false,
    known_share: 0,
    unjudged: null,
  };
  const said = judgeMarked(marks, made.result ?? nothing, requirement.tolerance ?? 1);
  return made.result || marks.length ? said : { ...said, text: made.failure ?? said.text };
}

function decideLight({ requirement: r, takes: [take], outcomes }: Asked): Finding | 'pending' {
  if (!r.zone) return { verdict: 'unjudged', text: 'no zone is drawn yet', fix: DRAW_IT };
  const made = outcomesOf(outcomes, BEATS).find((o) => o.takes.includes(take.id));
  // What an older version found does not say where.
  if (!made || made.state === 'waiting' || made.state === 'working' || (made.result && !made.result.light_steps))
    return 'pending';
  const { result, failure } = made;
  if (!result || result.unjudged)
    return { verdict: 'unjudged', text: result?.unjudged ?? failure ?? 'light could not be told', fix: r.remedySet };
  const { zone, tolerance } = r;
  const about = { steps: result.light_steps, zone, size: take.facts.media };
  const said =
    r.kind === 'light-inside' ? judgeLightInside(about) : judgeLightOnBeat(about, take.marks ?? [], tolerance ?? 1);
  return { ...said, fix: said.verdict === 'holds' ? null : (said.fix ?? r.remedySet) };
}
