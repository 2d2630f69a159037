import type { MeasureSent } from '../../api/measures';
import type { Planned, Setup } from '../../api/plan';
import type { Cover, Cut, Proof, WipeBench, WipeSide } from '../../api/wipes';
import { COVER } from '../../core/measures/cover/description';
import { CUT } from '../../core/measures/cut/description';
import { PROOF } from '../../core/measures/proof/description';
import type { AnyMeasure } from '../../core/measures';
import { listSetups } from '../plan/shoots';
import type { House } from '../platform/house';
import { standingOf, type JudgedRecord } from '../takes/judge-setup';
import { readJudged } from '../takes/judged';
import { asSent } from '../work/measure-routes';
import { findMeasureOf, listMeasuresOf } from '../work/measures';

/** So many proofs of one cut are shown. */
const MOST_PROOFS = 20;

/** What a part is in a trick that rests on it; null when none does. */
function roleOf(partId: string, planned: readonly Planned[]): string | null {
  for (const { trick, parts } of planned)
    for (const part of trick.parts) if (parts[part.key] === partId) return part.role;
  return null;
}

/** Measured takes of a shoot as sides of a cut, in the order of setups and parts. */
async function readSides(house: House, shootId: string): Promise<(JudgedRecord & { side: Omit<WipeSide, 'label'> })[]> {
  const { pool } = house;
  const setups = await listSetups(pool, shootId);
  const judgedSetups = await readJudged(
    house,
    pool,
    setups.map((s) => s.id),
  );
  const parts = judgedSetups.flatMap((s) => s.parts),
    planned = judgedSetups.flatMap((s) => s.planned);
  const covers = await listMeasuresOf(
    pool,
    COVER.key,
    parts.flatMap((p) => p.takes.map((t) => t.record.id)),
  );
  const byNumber = [...setups].sort((a, b) => a.number - b.number);
  return byNumber.flatMap((setup) =>
    parts
      .filter(({ part }) => part.setup_id === setup.id && !part.deleted)
      .flatMap(({ part, takes }) =>
        takes.flatMap(({ record, judged }) => {
          const media = record.facts?.media;
          if (!media) return [];
          const side = {
            id: record.id,
            part_id: part.id,
            part_name: part.name,
            role: roleOf(part.id, planned),
            number: record.number,
            circled: record.circled,
            setup_id: setup.id,
            setup_number: setup.number,
            frame_count: media.frame_count,
            fps: media.measured_fps,
            width: media.width,
            height: media.height,
            cover_state: covers.find((c) => c.take_id === record.id)?.state ?? null,
            shutter_s: setup.camera.shutter_s,
            marks: record.marks,
          };
          return [{ side, record, judged }];
        }),
      ),
  );
}

/** What the wipe bench of a setup shows. @param wished the takes for both sides; those to go on with when null */
export async function readWipeBench(
  house: House,
  setup: Setup,
  wished: { out: string | null; in: string | null },
): Promise<WipeBench> {
  const all = await readSides(house, setup.shoot_id);
  type One = (typeof all)[number];
  const stands = (from: readonly One[]) => standingOf(from)?.side;
  const here = (s: One) => s.side.setup_id === setup.id;
  const role = (name: string) => (s: One) => s.side.role === name;
  const own = all.filter(here);
  const chosen = (id: string | null, from: readonly One[]) => from.find((s) => s.side.id === id)?.side;
  const out =
    chosen(wished.out, all) ??
    stands(own.filter(role('out-side'))) ??
    stands(own.filter((s) => !role('in-side')(s))) ??
    stands(own);
  const others = all.filter((s) => s.side.id !== out?.id);
  const ins = others.filter(role('in-side'));
  const into = chosen(wished.in, others) ?? stands(ins.filter(here)) ?? stands(ins) ?? stands(others);

  const read = async (measure: AnyMeasure, takes: string[], whole: boolean): Promise<MeasureSent | null> => {
    const row = await findMeasureOf(house.pool, measure, takes);
    return row && asSent(house, row, whole);
  };
  const both = out && into ? [out.id, into.id] : null;
  const proofs = both ? await listMeasuresOf(house.pool, PROOF.key, both) : [];
  const ofCut = proofs.filter((p) => p.take_id === out?.id && p.against_id === into?.id).slice(0, MOST_PROOFS);
  return {
    sides: all.map(({ side }) => ({
      ...side,
      label: `${side.setup_id === setup.id ? '' : `setup ${side.setup_number}: `}${side.part_name} ${side.number}`,
    })),
    outId: out?.id ?? null,
    inId: into?.id ?? null,
    cover: out ? ((await read(COVER, [out.id], true)) as Cover | null) : null,
    cut: both && ((await read(CUT, both, false)) as Cut | null),
    proofs: await Promise.all(ofCut.map(async (p) => (await asSent(house, p, true)) as Proof)),
  };
}
