/**
 * How long answers take while many devices read: `npx tsx scripts/load.ts http://127.0.0.1:4180 [clients] [seconds]`.
 * Each client reads the boards of the first shoot, its list of takes and their pages one after the other without a
 * pause, which is some hundred times as often as the app does.
 */
import { Agent, get } from 'node:http';

interface Told {
  path: string;
  ms: number;
  status: number;
}

const agent = new Agent({ keepAlive: true });

/**
 * Reads an answer to its end as a browser asks for it, and leaves it packed: a phone unpacks it by itself. Gives its
 * status; 0 for none.
 */
function take(url: string): Promise<number> {
  return new Promise((resolve) => {
    get(url, { agent, headers: { 'Accept-Encoding': 'gzip, deflate, br' } }, (answer) => {
      answer.on('end', () => resolve(answer.statusCode ?? 0)).on('error', () => resolve(0));
      answer.resume();
    }).on('error', () => resolve(0));
  });
}

const median = (sorted: number[], q: number) => sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))];

async function main(): Promise<void> {
  const [base = 'http://127.0.0.1:4180', clients = '100', seconds = '20'] = process.argv.slice(2);
  const read = async (path: string) => (await fetch(`${base}/api${path}`)).json() as Promise<unknown>;
  const [shoot] = (await read('/shoots')) as { id: string }[];
  const { setups } = (await read(`/shoots/${shoot.id}`)) as {
    setups: { id: string; parts: { takes: { id: string }[] }[] }[];
  };
  const takes = setups.flatMap((s) => s.parts.flatMap((p) => p.takes));
  const paths = [
    ['shoots', '/shoots'],
    ['shoot board', `/shoots/${shoot.id}`],
    ['takes to see', '/takes'],
    ...setups.map((s) => ['setup board', `/setups/${s.id}`]),
    ...setups.map((s) => ['sheet', `/setups/${s.id}/sheet`]),
    ...takes.slice(0, 10).map((t) => ['take', `/takes/${t.id}`]),
  ];
  const told: Told[] = [];
  const end = performance.now() + 1000 * Number(seconds);
  const client = async (k: number) => {
    for (let n = k; performance.now() < end; n++) {
      const [name, path] = paths[n % paths.length];
      const began = performance.now();
      const status = await take(`${base}/api${path}`);
      told.push({ path: name, ms: performance.now() - began, status });
    }
  };
  await Promise.all(Array.from({ length: Number(clients) }, (_, k) => client(k)));
  const errors = told.filter((t) => t.status !== 200).length;
  console.log(`${clients} clients, ${seconds} s: ${told.length} answers, ${errors} errors`);
  for (const name of new Set(paths.map(([n]) => n))) {
    const sorted = told.flatMap((t) => (t.path === name ? [t.ms] : [])).sort((a, b) => a - b);
    if (sorted.length)
      console.log(
        `${name.padEnd(14)} p50 ${median(sorted, 0.5).toFixed(0)} ms, p95 ${median(sorted, 0.95).toFixed(0)} ms`,
      );
  }
  process.exitCode = errors ? 1 : 0;
}

void main();
