import type { PackScope } from '../../api/packs';
import type { Setup } from '../../api/plan';
import type { PackWish } from '../../core/packs/types';
import type { House } from '../platform/house';

const NO_BACKUP = 'The recordings: without them this is no backup. Make it with the recordings.';

interface Dropped {
  number: number;
  name: string;
  takes: number;
}

/** What of a shoot does not go along, whatever else is chosen, a sentence each: nobody may find it out when it is too late. */
export async function leftBehind(
  { pool }: Pick<House, 'pool'>,
  shootId: string,
  scope: PackScope,
  wish: PackWish,
  setups: readonly Setup[],
): Promise<string[]> {
  if (scope.planned_id !== null) return [];
  if (wish.takes !== 'all')
    return setups
      .filter((s) => s.archived)
      .map((s) => `Setup ${s.number}, “${s.name}”: it is archived. Let all takes go along to have it too.`);
  const { rows } = await pool.query<Dropped>(
    `SELECT u.number, u.name, count(t.id)::int AS takes
     FROM setups u JOIN parts p ON p.setup_id = u.id JOIN takes t ON t.part_id = p.id
     WHERE u.shoot_id = $1 AND ($2::uuid IS NULL OR u.id = $2) AND (u.deleted_at IS NOT NULL OR p.deleted_at IS NOT NULL)
     GROUP BY u.id ORDER BY u.number`,
    [shootId, scope.setup_id],
  );
  const dropped = rows.map(
    ({ number, name, takes }) =>
      `Setup ${number}, “${name}”: ${takes === 1 ? 'one take' : `${takes} takes`} of what was deleted. ` +
      `Bring it back to have ${takes === 1 ? 'it' : 'them'} too.`,
  );
  return [...(wish.recordings ? [] : [NO_BACKUP]), ...dropped];
}
