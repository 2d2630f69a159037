import { appendFileSync } from 'node:fs';

/** A test; or, where there is a reason why it cannot run here, none that stays silent: ./test says so at its end. */
export function testUnless(reason: string | null): typeof test | typeof test.skip {
  if (reason === null) return test;
  const { UMBRASTAT_SKIPPED: list } = process.env as Record<string, string | undefined>;
  const { testPath } = expect.getState();
  if (list) appendFileSync(list, `${testPath ?? 'a test'}: ${reason}\n`);
  return test.skip;
}
