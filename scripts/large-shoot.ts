/**
 * Makes the shoot of a database as large as a long one: its setups are copied, with their parts, takes and all that was
 * measured, until there are so many: `npx tsx scripts/large-shoot.ts postgres://… [setups] [takes]`. For load tests; no
 * file is copied.
 */
import { Client } from 'pg';

/** Copies of a table's rows whose `of` is among the copied ids, with these columns told anew. */
const copy = (table: string, of: string, columns: string) => `
  INSERT INTO ${table}
  SELECT (jsonb_populate_record(t, jsonb_build_object(${columns}))).*
  FROM ${table} t WHERE t.${of} IN (SELECT old FROM copied)`;

/** The copy's id of what had this one; itself where it was not copied. */
const renamed = (column: string) =>
  `'${column}', coalesce((SELECT fresh FROM copied WHERE old = t.${column}), t.${column})`;

async function copySetup(db: Client, setup: string, takesEach: number): Promise<void> {
  await db.query('DROP TABLE IF EXISTS copied');
  await db.query(
    `CREATE TEMP TABLE copied AS
     WITH part AS (SELECT id FROM parts WHERE setup_id = $1),
       take AS (SELECT id FROM takes WHERE part_id IN (SELECT id FROM part)),
       all_ids AS (SELECT $1::uuid AS old UNION SELECT id FROM part UNION SELECT id FROM take
         UNION SELECT id FROM planned_tricks WHERE setup_id = $1
         UNION SELECT id FROM measures WHERE take_id IN (SELECT id FROM take)
           AND (against_id IS NULL OR against_id IN (SELECT id FROM take)))
     SELECT old, gen_random_uuid() AS fresh FROM all_ids`,
    [setup],
  );
  const next = "'number', (SELECT max(number) + 1 FROM setups), 'position', (SELECT max(position) + 1 FROM setups)";
  await db.query(copy('setups', 'id', `${renamed('id')}, ${next}`));
  await db.query(copy('parts', 'id', `${renamed('id')}, ${renamed('setup_id')}`));
  await db.query(copy('planned_tricks', 'id', `${renamed('id')}, ${renamed('setup_id')}`));
  for (const table of ['planned_parts', 'eye_checks'])
    await db.query(
      copy(table, 'planned_id', renamed('planned_id') + (table === 'planned_parts' ? `, ${renamed('part_id')}` : '')),
    );
  await db.query(copy('ticks', 'setup_id', renamed('setup_id')));
  await db.query(copy('takes', 'id', `${renamed('id')}, ${renamed('part_id')}, 'upload_id', null, 'made_of', null`));
  await db.query(
    copy('measures', 'id', `${renamed('id')}, ${renamed('take_id')}, ${renamed('against_id')}, 'job_id', null`),
  );
  await db.query(copy('measure_details', 'measure_id', renamed('measure_id')));
  // More takes of the parts that were rolled, each with what was measured of the first alone.
  const rolled = `SELECT DISTINCT ON (t.part_id) t.id FROM takes t JOIN copied c ON c.fresh = t.id ORDER BY t.part_id, t.number`;
  const { rows: first } = await db.query<{ id: string }>(rolled);
  const { rows: had } = await db.query<{ n: number }>(
    'SELECT count(*)::int AS n FROM takes WHERE id IN (SELECT fresh FROM copied)',
  );
  for (let n = had[0].n, k = 0; first.length && n < takesEach; n++, k++) {
    await db.query('DROP TABLE IF EXISTS copied');
    await db.query(
      `CREATE TEMP TABLE copied AS SELECT id AS old, gen_random_uuid() AS fresh FROM (SELECT $1::uuid AS id
       UNION SELECT id FROM measures WHERE take_id = $1 AND against_id IS NULL AND measure = 'take') t`,
      [first[k % first.length].id],
    );
    const number = "'number', (SELECT max(number) + 1 FROM takes o WHERE o.part_id = t.part_id), 'circled', false";
    await db.query(copy('takes', 'id', `${renamed('id')}, ${number}, 'upload_id', null, 'made_of', null`));
    await db.query(copy('measures', 'id', `${renamed('id')}, ${renamed('take_id')}, 'job_id', null`));
    await db.query(copy('measure_details', 'measure_id', renamed('measure_id')));
  }
}

async function main(): Promise<void> {
  const [connectionString, setups = '50', takes = '500'] = process.argv.slice(2);
  const db = new Client({ connectionString });
  await db.connect();
  const ids = async () =>
    (await db.query<{ id: string }>('SELECT id FROM setups WHERE deleted_at IS NULL ORDER BY number')).rows;
  const originals = await ids();
  for (let k = 0; (await ids()).length < Number(setups); k++) {
    const { rows } = await db.query<{ n: number }>('SELECT count(*)::int AS n FROM takes');
    const left = Number(setups) - (await ids()).length;
    await db.query('BEGIN');
    await copySetup(db, originals[k % originals.length].id, Math.ceil((Number(takes) - rows[0].n) / left));
    await db.query('COMMIT');
  }
  const { rows } = await db.query<{ n: number }>('SELECT count(*)::int AS n FROM takes');
  console.log(`${(await ids()).length} setups, ${rows[0].n} takes`);
  await db.end();
}

main().catch((error) => {
  console.error(error);
  process.exitCode = 1;
});
