import { planJoined, MOST_FRAMES } from '../../core/measures/joined/plan-joined';
import type { Joined, PassTake } from '../../api/passes';
import type { JoinedWish } from '../../core/measures/joined/joined';
import { JOINING_WAYS, missingOf } from '../../core/measures/joined/joining-ways';
import type { Band } from '../viewer/ribbon';
import type { Passing } from './use-passing';

/** The wish as it is sent. Of a long take the part about the frame that is looked at is shown. */
export function asWished(passing: Passing, frame: number, first: PassTake): JoinedWish {
  const { wish, line, feather, zone } = passing;
  const points = (all: readonly (readonly [number, number])[]) => all.map(([x, y]): [number, number] => [x, y]);
  return {
    ...wish,
    from:
      JOINING_WAYS[wish.how].layers.lie === 'held'
        ? 0
        : Math.max(0, Math.min(first.frame_count - MOST_FRAMES, frame - MOST_FRAMES / 2)),
    line: line && { points: points(line.points), first_side: line.first_side },
    moves: passing.moves,
    glides: passing.glides,
    feather_px: feather,
    outline: JOINING_WAYS[wish.how].inZone && zone ? points(zone) : null,
    at: JOINING_WAYS[wish.how].turns ? wish.at : null,
    strength: wish.strength.length ? wish.strength : [{ frame: 0, pct: 50 }],
  };
}

/** What a proof still wants, in a few words; null when nothing. */
export function missingFor({ wish, line, zone }: Passing, first: PassTake, second: PassTake): string | null {
  const missing = missingOf({ ...wish, line, outline: zone });
  if (missing) return missing.briefly;
  const count = { first: first.frame_count, second: second.frame_count };
  return planJoined({ ...wish, from: 0 }, count) ? null : 'Slide it back first';
}

/** What is said of a proof that was made. */
export function saidOf({ result, wish }: Joined, first: PassTake, second: PassTake) {
  if (!result) return { framesAt: () => '', note: '', complaint: null };
  const { name, says, stands } = JOINING_WAYS[wish.how];
  const mayStand = stands === 'always' || (stands === 'if-empty' && second.plate);
  const { px = 0, stops = 0 } = result.even ?? {};
  const moved = px > 0 ? `; ${second.label} moved by up to ${px.toFixed(1)} px` : '';
  const lit =
    stops !== 0 ? `; its light ${stops > 0 ? 'raised' : 'lowered'} by ${Math.abs(stops).toFixed(2)} stop` : '';
  const slid = wish.slide === 0 ? '' : `; ${second.label} slid by ${wish.slide} frames`;
  return {
    framesAt: (n: number) => `${result.first[n]} and ${result.second[n]}`,
    note: `${name}, ${says(wish, first.label, second.label)}${slid}${moved}${lit}.`,
    complaint:
      result.second_missing > 0 && !mayStand
        ? `${second.label} is ${result.second_missing} frames too short and stands still.`
        : null,
  };
}

/** How near the two are, frame by frame, as they are slid. */
export function gapBand(trace: readonly (number | null)[] | null, at: number | null): Band[] {
  const near = trace?.filter((g): g is number => g !== null) ?? [];
  if (!trace || near.length === 0) return [];
  const faults = trace.flatMap((g, f) => (g === 0 ? [{ start: f, end: f }] : []));
  const least = Math.min(...near);
  return [
    {
      name: 'distance',
      unit: 'px',
      values: trace,
      limit: null,
      faults: faults.reduce<typeof faults>((runs, f) => {
        const last = runs.at(-1);
        if (last && last.end === f.start - 1) last.end = f.end;
        else runs.push({ ...f });
        return runs;
      }, []),
      marks: at === null ? [] : [at],
      sentence:
        least === 0
          ? `The two overlap in ${faults.length} frames.`
          : `The two come as near as ${least.toFixed(0)} pixels.`,
    },
  ];
}
