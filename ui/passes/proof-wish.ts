import type { Joined, PassTake } from '../../api/passes';
import { planJoined, MOST_FRAMES, type JoinedHow, type JoinedWish } from '../../core/pair/joined';
import type { Band } from '../viewer/ribbon';
import { HOW_WORDS, type Passing } from './use-passing';

/** Ways that turn on a frame of the first. */
const AT_FRAME: JoinedHow[] = ['switch', 'cut', 'held', 'cloth', 'opening', 'edge'];
/** Ways in which the second stands still where it is too short, as an empty picture may. */
const STANDS: JoinedHow[] = ['switch', 'through', 'cloth', 'over', 'figure', 'edge', 'opening'];
/** Ways that may be kept to what was drawn on the setup. */
const IN_ZONE: JoinedHow[] = ['opening', 'figure'];

/** The wish as it is sent. Of a long take the part about the frame that is looked at is shown. */
export function asWished(passing: Passing, frame: number, first: PassTake): JoinedWish {
  const { wish, line, feather, zone } = passing;
  const points = (all: readonly (readonly [number, number])[]) => all.map(([x, y]): [number, number] => [x, y]);
  return {
    ...wish,
    from: wish.how === 'held' ? 0 : Math.max(0, Math.min(first.frame_count - MOST_FRAMES, frame - MOST_FRAMES / 2)),
    line: line && { points: points(line.points), first_side: line.first_side },
    moves: passing.moves,
    glides: passing.glides,
    feather_px: feather,
    outline: IN_ZONE.includes(wish.how) && zone ? points(zone) : null,
    at: AT_FRAME.includes(wish.how) ? wish.at : null,
    strength: wish.strength.length ? wish.strength : [{ frame: 0, pct: 50 }],
  };
}

/** What a proof still wants, in a few words; null when nothing. */
export function missingFor({ wish, zone }: Passing, first: PassTake, second: PassTake): string | null {
  if (wish.how === 'opening' && !zone) return 'Draw the opening first';
  if (wish.how === 'switch' && wish.at === null) return 'Choose the switch frame';
  if (wish.how === 'cut' && wish.at === null) return 'Choose the frame to cut at';
  if (wish.how === 'held' && wish.at === null) return 'Choose the frame to hold';
  if (wish.how === 'cloth' && wish.at === null) return 'Choose the switch frame';
  const count = { first: first.frame_count, second: second.frame_count };
  return planJoined({ ...wish, from: 0 }, count) ? null : 'Slide it back first';
}

/** What is said of a proof that was made. */
export function saidOf({ result, wish }: Joined, first: PassTake, second: PassTake) {
  if (!result) return { framesAt: () => '', note: '', complaint: null };
  const more = {
    line: `, feather ${wish.feather_px.toFixed(0)} px`,
    switch: `, ${second.label} alone from frame ${wish.at} on`,
    through: `, ${first.label} at ${wish.strength.map((k) => `${k.pct.toFixed(0)} %`).join(', ')}`,
    opening: `, lifted by ${wish.lift_stops.toFixed(1)} stop${wish.at === null ? '' : `, from frame ${wish.at} on`}`,
    cut: `, ${second.label} from frame ${wish.at} on`,
    held: `, frame ${wish.at} of ${first.label} held`,
    over: `, ${wish.front === 'first' ? first.label : second.label} in front, at ${(wish.rate_pct ?? 100).toFixed(0)} %`,
    cloth: `, ${second.label} behind the cloth from frame ${wish.at} on`,
    figure: wish.outline ? `, what is in the zone of ${first.label}` : `, whoever is in ${first.label}`,
    edge: `, ${second.label} shows there${wish.at === null ? '' : ` from frame ${wish.at} on`}`,
  }[wish.how];
  const { px = 0, stops = 0 } = result.even ?? {};
  const moved = px > 0 ? `; ${second.label} moved by up to ${px.toFixed(1)} px` : '';
  const lit =
    stops !== 0 ? `; its light ${stops > 0 ? 'raised' : 'lowered'} by ${Math.abs(stops).toFixed(2)} stop` : '';
  const slid = wish.slide === 0 ? '' : `; ${second.label} slid by ${wish.slide} frames`;
  return {
    framesAt: (n: number) => `${result.first[n]} and ${result.second[n]}`,
    note: `${HOW_WORDS[wish.how]}${more}${slid}${moved}${lit}.`,
    complaint:
      result.second_missing > 0 && wish.how !== 'over' && !(STANDS.includes(wish.how) && second.plate)
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
