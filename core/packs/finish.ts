import { planProof, type ProofWish } from '../measures/cut/proof-plan';
import { longestRun } from '../judge/runs';
import type { JoinedWish } from '../measures/joined/joined';
import { JOINING_WAYS } from '../measures/joined/joining-ways';
import { joiningOf, partsIn } from '../measures/joined/joinings';
import { type OverPlate } from '../measures/joined/over-plate';
import { meetingOf } from '../measures/joined/meeting';
import { heldOf } from '../measures/stills/held';
import type { PlannedTrick } from '../plan/types';
import type { ClothFound, MeetFound, SpotFound, StillsFound } from '../report/moment-types';
import type { FigureFound } from '../report/figure-types';
import type { HideFound } from '../report/hide-types';
import type { PairFound } from '../report/pair-types';
import type { CoverResult, CutMeasure } from '../report/wipe-types';
import type { ZoneFound } from '../report/zone-types';
import { assembleAlone, assembleJoined, assembleWipe, atSpeed } from '../formats/assembly';
import type { Assembly, Cue, JoinedAs, LaidTake } from '../formats/assembly';
import { OVER_MASK, overPlateSteps } from './over-plate';
import { stepsOf } from './steps';
import type { PackFound, PackTake, PackTrick } from './types';

/** What a trick is finished from: its parts' takes by the parts' ids, and what was measured of them. */
export interface FinishedFrom {
  trick: PlannedTrick;
  takes: ReadonlyMap<string, PackTake>;
  found: readonly PackFound[];
}

type Finished = Pick<PackTrick, 'assembly' | 'not_assembled' | 'left_out' | 'cues' | 'steps'>;

/** What a measure found of some takes; of several the first. */
function foundOf<R>(found: readonly PackFound[], measure: string, ...takes: string[]): R | null {
  const is = (f: PackFound) => f.measure === measure && takes.every((t) => f.takes.includes(t));
  return (found.find(is)?.result as R | undefined) ?? null;
}

const laid = (take: PackTake): LaidTake => {
  return {
    id: take.id,
    label: take.label,
    frames: take.media.frame_count,
    rate: take.rate,
    clear: longestRun(take.clear_runs),
  };
};

/** A pass over its empty picture, seen as the trick has it. */
function overPlate(how: OverPlate, pass: LaidTake, plate: LaidTake) {
  const made = assembleAlone(pass, how === 'alone' ? null : plate);
  made.layers[made.layers.length - 1].mask = OVER_MASK[how];
  return { assembly: made, why: null };
}

const absent = (what: string) => `${what} is not there.`;

/** Lays a trick together as it is finished, with the frames to look at and what there is to do. */
export function finishTrick({ trick, takes, found }: FinishedFrom): Finished {
  const own = (role: Parameters<typeof partsIn>[1]) => partsIn(trick, role).flatMap((id) => takes.get(id) ?? []);
  const [plate] = own('plate');
  const passes = own('pass'),
    [out] = own('out-side'),
    [into] = own('in-side');
  const used = [...new Set([plate, ...passes, out, into].flatMap((t) => t ?? []))];
  const joining = joiningOf(trick);
  const over = joining?.over ?? null;
  const [first, second] = joining ? [takes.get(joining.first), takes.get(joining.second)] : [passes[0], undefined];
  let said: { assembly: Assembly | null; why: string | null };
  if (partsIn(trick, 'out-side').length) said = wipeOf(out, into, found);
  else if (over && first && second) said = overPlate(over, laid(first), laid(second));
  else if (joining) said = joinedOf(joining.how, first, second, plate ?? null, found);
  else if (first) said = { assembly: assembleAlone(laid(first), plate ? laid(plate) : null), why: null };
  else said = { assembly: null, why: absent('Its pass') };
  const pct = trick.wishes.speed_pct;
  const assembly = said.assembly && pct && pct !== 100 ? atSpeed(said.assembly, pct) : said.assembly;
  const shown = new Set(assembly?.layers.flatMap((l) => l.pieces.map((p) => p.take)));
  const both = first && second ? [first.id, second.id] : null;
  const cut = out && into ? foundOf<CutMeasure>(found, 'cut', out.id, into.id) : null;
  const chosen = out && into ? chosenCut(found, out, into) : null;
  const of = <R>(measure: string) => (first ? foundOf<R>(found, measure, first.id) : null);
  const how = joining?.how;
  return {
    assembly,
    not_assembled: said.why,
    left_out: assembly ? used.filter((t) => !shown.has(t.id)).map((t) => t.label) : [],
    cues: used.flatMap((t) => cuesOf(t, found)),
    steps: stepsOf({
      assembly,
      takes: used
        .filter((t) => shown.size === 0 || shown.has(t.id))
        .map((t) => ({ label: t.label, plate: t === plate, report: t.report })),
      pair: both && how === 'line' ? foundOf<PairFound>(found, 'pair', ...both) : null,
      hide: how === 'switch' ? of<HideFound>('hide') : null,
      cover: out ? foundOf<CoverResult>(found, 'cover', out.id) : null,
      // What was chosen for a proof counts before what was measured.
      mirror: chosen ? chosen.mirror : (cut?.mirror_helps ?? false),
      cloth: how === 'cloth' ? of<ClothFound>('cloth') : null,
      stills: how === 'held' ? of<StillsFound>('stills') : null,
      opening: how === 'opening' && !over,
      over:
        over && first
          ? overPlateSteps(over, { pass: first, zone: of<ZoneFound>('zone'), figure: of<FigureFound>('figure') })
          : null,
    }),
  };
}

/** What somebody chose of a cut for its newest proof; null where none was made. */
function chosenCut(found: readonly PackFound[], out: PackTake, into: PackTake): ProofWish | null {
  const proof = found.find((f) => f.measure === 'proof' && f.takes[0] === out.id && f.takes[1] === into.id);
  return (proof?.wish as ProofWish | undefined) ?? null;
}

function wipeOf(out: PackTake | undefined, into: PackTake | undefined, found: readonly PackFound[]) {
  if (!out || !into) return { assembly: null, why: absent(out ? 'Its in side' : 'Its out side') };
  const cover = foundOf<CoverResult>(found, 'cover', out.id);
  if (!cover) return { assembly: null, why: `What covers ${out.label} is not measured yet.` };
  const cut = foundOf<CutMeasure>(found, 'cut', out.id, into.id);
  const measured = { in_start: 0, speed_pct: cut?.retime_pct ?? 100, mirror: false, feather_px: null };
  const wish = chosenCut(found, out, into) ?? measured;
  const [a, b] = [laid(out), laid(into)];
  const [outFps, inFps] = [a, b].map(({ rate }) => rate[0] / rate[1]);
  const plan = planProof(cover, wish, { outCount: a.frames, outFps, inCount: b.frames, inFps, fps: outFps });
  if (!plan)
    return { assembly: null, why: `Nothing covers enough of ${out.label} for a cut. Choose its frame by hand.` };
  return { assembly: assembleWipe(a, b, { ...wish, from: plan.from, done: plan.done }), why: null };
}

function joinedOf(
  how: JoinedAs['how'],
  first: PackTake | undefined,
  second: PackTake | undefined,
  plate: PackTake | null,
  found: readonly PackFound[],
) {
  if (!first || !second) return { assembly: null, why: absent(first ? 'Its second take' : 'Its first take') };
  const proof = found.find((f) => f.measure === 'joined' && f.takes[0] === first.id && f.takes[1] === second.id);
  const chosen = proof?.wish as JoinedWish | undefined;
  const { moment } = JOINING_WAYS[how];
  const of = moment === 'stills' || moment === 'cloth' ? [first.id] : [first.id, second.id];
  const result = moment && foundOf<object>(found, moment, ...of);
  const met = moment && result ? meetingOf(moment, result) : {};
  // Where nothing says on which frame the one gives way, the second comes in once the first is gone.
  const gone = how === 'cut' && !chosen && typeof met.at !== 'number' ? onceGone(first, second) : {};
  const hidden = how === 'switch' ? foundOf<HideFound>(found, 'hide', first.id)?.switch_frame : null;
  const as: JoinedAs = {
    how,
    at: chosen?.at ?? met.at ?? gone.at ?? hidden ?? null,
    slide: chosen?.slide ?? met.slide ?? gone.slide ?? 0,
    rate_pct: chosen?.rate_pct ?? met.rate ?? 100,
    front: chosen?.front ?? met.front ?? 'first',
  };
  const assembly = assembleJoined(laid(first), laid(second), plate && laid(plate), as);
  const why = assembly ? null : `The frame on which ${first.label} gives way is not known. Choose it on the bench.`;
  return { assembly, why };
}

/** The first is gone before its end, and the second begins with somebody coming in: the cut lies between. */
function onceGone(first: PackTake, second: PackTake): { at?: number; slide?: number } {
  const last = first.report.presence.present_runs.at(-1),
    [next] = second.report.presence.present_runs;
  const at = last && last.end + 1;
  return at && next && at < first.media.frame_count ? { at, slide: at - next.start } : {};
}

/** The frames of a take to look at: where it is cut, what is marked, what is worst, which edges to set first. */
function cuesOf(take: PackTake, found: readonly PackFound[]): Cue[] {
  const cues: Cue[] = [];
  const add = (kind: Cue['kind'], frame: number | null | undefined, name: string) => {
    if (frame !== null && frame !== undefined && frame >= 0 && frame < take.media.frame_count)
      cues.push({ take: take.id, frame, name, kind });
  };
  for (const mark of take.marks) add('beat', mark.frame, mark.name);
  add('worst', take.worst_frame, 'worst frame');
  const own = found.filter((f) => f.takes.includes(take.id));
  for (const { measure, takes, result } of own) {
    const isFirst = takes[0] === take.id;
    if (measure === 'cover') {
      const { cut, key_frames: keys } = result as CoverResult;
      add('cut', cut.in_first_frame, 'in side begins under it');
      add('cut', cut.out_last_frame, 'last frame of what covers');
      for (const key of keys) add('key', key, 'set the edge here');
    }
    if (measure === 'hide') add('cut', (result as HideFound).switch_frame, 'plate alone from here');
    if (measure === 'cloth') add('cut', (result as ClothFound).switch_frame, 'plate behind the cloth from here');
    if (measure === 'spot') {
      const { at_a: a, at_b: b } = result as SpotFound;
      add('cut', isFirst ? a : b, isFirst ? 'last frame before the cut' : 'first frame after the cut');
    }
    if (measure === 'meet') {
      const { a_frame: a, b_frame: b } = result as MeetFound;
      add('cut', isFirst ? a : b, isFirst ? 'last frame before the reaction' : 'reaches the other');
    }
    if (measure === 'stills') add('key', heldOf((result as StillsFound).stills)?.frame, 'frame worth holding');
    if (measure === 'pair') add('key', (result as PairFound).closest_frame, 'the two are closest');
  }
  return cues.sort((a, b) => a.frame - b.frame);
}
