import { judgeBeats } from '../judge/beats';
import { judgeMarked } from '../judge/marks';
import type { BeatsFound } from '../report/moment-types';
import { outcomesOf, type Asked, type Finding, type Measure } from './measure';

/** What happens in a take on a frame: starts, stops, turns, strikes, steps of light, sounds. */
export const BEATS: Measure<object, BeatsFound, BeatsFound> = {
  key: 'beats',
  finds: 'on which frames something happens',
  version: 1,
  reads: 1,
  takes: 1,
  ordered: false,
  many: false,
  needs: ['take'],
  uses: [],
  decides: { 'beats-marked': decideMarked },
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
    sound_offset_frames: null,
    has_sound: false,
    known_share: 0,
    unjudged: null,
  };
  const said = judgeMarked(marks, made.result ?? nothing, requirement.tolerance ?? 1);
  return made.result || marks.length ? said : { ...said, text: made.failure ?? said.text };
}
