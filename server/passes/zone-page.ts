import type { ZonePage, ZoneSeen } from '../../api/passes';
import type { Setup, Shoot } from '../../api/plan';
import { saidOfZone, ZONE, type ZoneWish } from '../../core/measures/zone/description';
import type { ZoneFound } from '../../core/report/zone-types';
import { eachByItself, statement } from '../../core/tricks/requirement-kinds';
import { wantsZone, WATCHED_KINDS, ZONE_KINDS, zoneOf } from '../../core/tricks/zones';
import type { House } from '../platform/house';
import { readJudged } from '../takes/judged';
import { asSent } from '../work/measure-routes';
import { listMeasuresOf } from '../work/measures';
import { takesOfPart } from './pass-bench';

/** The zones of a setup's tricks, with what was seen of them in each take that they speak of. */
export async function readZones(house: House, setup: Setup, shoot: Shoot): Promise<ZonePage> {
  const [{ parts: all, planned }] = await readJudged(house, house.pool, [setup.id]);
  const parts = all.filter(({ part }) => !part.deleted);
  const takes = parts.flatMap(takesOfPart);
  const rows = await listMeasuresOf(
    house.pool,
    ZONE.key,
    takes.map((t) => t.id),
  );
  const findings = new Map(parts.flatMap((p) => p.takes.map((t) => [t.record.id, t.judged?.findings ?? []] as const)));
  const tricks = planned.filter(({ trick }) => wantsZone(trick));
  return {
    setup,
    shoot,
    takes,
    tricks: await Promise.all(
      tricks.map(async ({ id, version, trick, parts: own }) => {
        const zone = zoneOf(trick);
        const drawn = JSON.stringify(zone);
        const speaks = trick.requirements.filter((r) => ZONE_KINDS.includes(r.kind));
        // What is held against another take is judged with it; here stands who enters it in one take.
        const watched = speaks.filter((r) => WATCHED_KINDS.includes(r.kind));
        const alone = speaks.filter((r) => eachByItself(r.kind));
        const ids = new Set(alone.flatMap((r) => r.parts.map((k) => own[k])));
        const spoken = takes.filter((t) => ids.has(t.part_id));
        const seen = spoken.map(async (take) => {
          const row = rows.find((r) => r.take_id === take.id && JSON.stringify((r.wish as ZoneWish).zone) === drawn);
          const sent = row ? ((await asSent(house, row, true)) as ZoneSeen) : null;
          const asked = watched.filter((r) => r.parts.some((k) => own[k] === take.part_id));
          const found = sent?.result;
          const others = (findings.get(take.id) ?? []).filter(
            (f) => f.trick === trick.name && ZONE_KINDS.includes(f.kind) && !WATCHED_KINDS.includes(f.kind),
          );
          const said = found ? asked.map((r) => saidOfZone(r, found, take.label, take.width)) : [];
          for (const { verdict, text, fix } of others) said.push({ verdict, text: `${take.label}: ${text}`, fix });
          const at = found
            ? frameOf(
                found,
                asked.some((r) => r.kind === 'inside-zone'),
              )
            : null;
          return { ...take, watched: asked.length > 0, zone: sent, said, at };
        });
        return {
          id,
          version,
          name: trick.name,
          zone,
          asks: speaks.map((r) => statement(r.kind, r.tolerance)),
          takes: await Promise.all(seen),
        };
      }),
    ),
  };
}

/** The frame in which somebody is the most where they should not be; else the nearest. @param inside whether they belong in the zone */
function frameOf({ outside, entered, closest_frame: near }: ZoneFound, inside: boolean): number | null {
  const most = [...(inside ? outside : entered)].sort(
    (a, b) => Number(b.what === 'body') - Number(a.what === 'body') || b.share - a.share,
  )[0];
  return most?.frame ?? (inside ? (entered[0]?.frame ?? null) : near);
}
