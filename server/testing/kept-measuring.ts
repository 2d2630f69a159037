import { createHash, randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { FEEDS } from '../../media/feeds/feeds';
import { serveFeeds, type ThreadAnswer, type ThreadJob } from '../../media/feeds/measuring-thread';
import { KEPT, layDown, sourcesHash } from '../../standin/testing/fixtures';

const measure = serveFeeds(FEEDS);
let sources: string | null = null;

/** What a result is kept by: the sums' sources, the recordings, and all that was asked and known of them. */
function nameOf({ key, task: { takes, plate, wish, delivery } }: ThreadJob): string {
  sources ??= sourcesHash(['core', 'media']);
  const seen = [...takes, ...(plate ? [plate] : [])].map(({ hash, name, facts, known }) => ({
    hash,
    name,
    facts,
    known,
  }));
  const asked = JSON.stringify([sources, key, takes.length, seen, wish, delivery]);
  return createHash('sha256').update(asked).digest('hex').slice(0, 32);
}

interface Kept {
  result: object;
  files: string[];
}

/** Measures as the app does, but the same of the same recordings once for all tests. */
export default async function kept(job: ThreadJob): Promise<ThreadAnswer> {
  mkdirSync(KEPT, { recursive: true });
  const at = join(KEPT, `${job.key}-${nameOf(job)}`);
  const told = `${at}.json`;
  if (existsSync(told)) {
    job.port.close();
    const { result, files } = JSON.parse(readFileSync(told, 'utf8')) as Kept;
    const token = randomUUID();
    const fresh = files.map((name) => ({ name, fresh: `${job.files}.${name}.${token}` }));
    for (const file of fresh) layDown(`${at}.${file.name}`, file.fresh);
    return { result, files: fresh };
  }
  const answer = await measure(job);
  if ('refused' in answer) return answer;
  // It is whole before it is told of; of two that made the same at a time, one counts.
  for (const { name, fresh } of answer.files) {
    const file = `${at}.${name}`;
    if (!existsSync(file)) layDown(fresh, file);
  }
  const note = join(KEPT, `${randomUUID()}.json`);
  writeFileSync(note, JSON.stringify({ result: answer.result, files: answer.files.map((f) => f.name) } satisfies Kept));
  renameSync(note, told);
  return answer;
}
