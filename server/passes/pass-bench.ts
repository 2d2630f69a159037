import type { MeasureSent } from '../../api/measures';
import type { Hide, Joined, Moment, Pair, PassBench, PassTake } from '../../api/passes';
import type { Setup } from '../../api/plan';
import { BEATS } from '../../core/measures/beats/description';
import { CLOTH } from '../../core/measures/cloth/description';
import { HIDE } from '../../core/measures/hide/description';
import type { AnyMeasure } from '../../core/measures';
import { JOINED } from '../../core/measures/joined/description';
import { MEET } from '../../core/measures/meet/description';
import { PAIR } from '../../core/measures/pair/description';
import { SPOT } from '../../core/measures/spot/description';
import { STILLS } from '../../core/measures/stills/description';
import { ZONE } from '../../core/measures/zone/description';
import { JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import { joiningOf } from '../../core/measures/joined/joinings';
import { zoneOf } from '../../core/tricks/zones';
import type { House } from '../platform/house';
import type { JudgedPart } from '../takes/judge-setup';
import { readJudged } from '../takes/judged';
import { asSent } from '../work/measure-routes';
import { findMeasureOf, listMeasuresOf } from '../work/measures';

/** So many proofs of two takes are shown. */
const MOST_PROOFS = 20;

/** What says where two takes that are joined in a way meet. */
const MOMENTS = { [SPOT.key]: SPOT, [MEET.key]: MEET, [STILLS.key]: STILLS, [CLOTH.key]: CLOTH };

/** The measured takes of a part. */
export function takesOfPart({ part, asked, takes }: JudgedPart): PassTake[] {
  return takes.flatMap(({ record: { id, number, circled, facts, marks } }) => {
    const media = facts?.media;
    if (!media) return [];
    return [
      {
        id,
        part_id: part.id,
        part_name: part.name,
        plate: asked.isPlate,
        number,
        circled,
        frame_count: media.frame_count,
        fps: media.measured_fps,
        width: media.width,
        height: media.height,
        label: `${part.name} ${number}`,
        marks,
      },
    ];
  });
}

/** What the pass bench of a setup shows. @param wished the takes to join; those to go on with when null */
export async function readPassBench(
  house: House,
  setup: Setup,
  wished: { first: string | null; second: string | null },
): Promise<PassBench> {
  const [{ parts: all, planned }] = await readJudged(house, house.pool, [setup.id]);
  const parts = all.filter(({ part }) => !part.deleted);
  const takes = parts.flatMap(takesOfPart);
  type One = (typeof takes)[number];
  const partOf = new Map(parts.map((p): [string, JudgedPart] => [p.part.id, p]));
  const standing = (partId: string) => takes.find((t) => t.id === partOf.get(partId)?.stands?.record.id);
  const joinings = planned.flatMap((trick) => joiningOf(trick) ?? []);
  const byTrick = joinings.find((j) => standing(j.first) && standing(j.second));
  const passes = takes.filter((t) => !t.plate);
  const first =
    takes.find((t) => t.id === wished.first) ??
    (byTrick ? standing(byTrick.first) : undefined) ??
    passes[0] ??
    takes[0];
  const others = takes.filter((t) => t.id !== first?.id);
  const partner = (t: One) => joinings.find((j) => j.first === t.part_id && standing(j.second));
  const second =
    others.find((t) => t.id === wished.second) ??
    (first && partner(first) ? standing(partner(first)!.second) : undefined) ??
    others.find((t) => t.part_id !== first?.part_id) ??
    others[0];
  const ofTrick = joinings.find((j) => j.first === first?.part_id && j.second === second?.part_id);
  const both = first && second ? [first.id, second.id] : null;
  const how = ofTrick?.how ?? (second?.plate ? 'through' : 'line');

  const read = async (measure: AnyMeasure, of: string[]): Promise<MeasureSent | null> => {
    const row = await findMeasureOf(house.pool, measure, of);
    return row && asSent(house, row, true);
  };
  const proofs = both ? await listMeasuresOf(house.pool, JOINED.key, both) : [];
  const ofBoth = proofs.filter((p) => p.take_id === first?.id && p.against_id === second?.id).slice(0, MOST_PROOFS);
  const { moment: key } = JOINING_WAYS[how];
  const wants = key && MOMENTS[key];
  // When a pulled cloth has uncovered a zone is told where that is watched; hands take hold of an edge on a beat.
  const measure = wants ?? (ofTrick?.over === 'pulled' ? ZONE : ofTrick?.over === 'edge' ? BEATS : null);
  const ofMoment = measure && (measure.takes === 2 ? both : first && [first.id]);
  return {
    takes,
    firstId: first?.id ?? null,
    secondId: second?.id ?? null,
    how,
    zone: ofTrick ? zoneOf(ofTrick.trick.trick) : null,
    pair: both && ((await read(PAIR, both)) as Pair | null),
    hide: first && how === 'switch' ? ((await read(HIDE, [first.id])) as Hide | null) : null,
    wants: (wants?.key ?? null) as PassBench['wants'],
    moment: measure && ofMoment && ((await read(measure, ofMoment)) as Moment | null),
    proofs: await Promise.all(ofBoth.map(async (p) => (await asSent(house, p, true)) as Joined)),
  };
}
