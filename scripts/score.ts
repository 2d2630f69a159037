import { median } from '../core/base/numeric/quantile';
import { NEAR, type Judged } from '../score/clip';
import { clipsOf, FAMILIES } from '../score/families';

const share = (part: number, all: number) => `${part} of ${all}`;
const mid = (values: (number | undefined)[], digits: number) => {
  const known = values.filter((v) => v !== undefined);
  return known.length ? median(known).toFixed(digits) : '–';
};

function row(family: string, which: string, judged: Judged[]): string {
  const offs = judged.flatMap((j) => j.off ?? []);
  const near = offs.filter((o) => o !== null && Math.abs(o) <= NEAR).length;
  const extra = judged.reduce((sum, j) => sum + (j.extra ?? 0), 0);
  const within = judged.flatMap((j) => (j.within === undefined ? [] : [j.within]));
  const verdicts = judged.filter((j) => j.verdict);
  const count = (word: Judged['verdict']) => verdicts.filter((j) => j.verdict === word).length;
  const cells = [
    share(judged.filter((j) => j.right).length, judged.length),
    mid(judged.map((j) => j.overlap), 3),
    mid(judged.map((j) => j.shadow), 2),
    mid(judged.map((j) => j.edge_px), 1),
    offs.length ? share(near, offs.length) : '–',
    offs.length ? `${extra}` : '–',
    within.length ? `${Math.round((100 * within.reduce((a, b) => a + b, 0)) / within.length)} %` : '–',
    verdicts.length ? `${count('false alarm')} / ${count('missed')}` : '–',
  ]; // prettier-ignore
  return `| ${[family, which, ...cells].join(' | ')} |`;
}

const HEAD = [
  ...['measure', 'clips', 'whole right', 'overlap', 'shadow overlap', 'edge, px', 'events within 2 frames'],
  ...['events that are none', 'truth within the stated error', 'false alarms / faults missed'],
];

/**
 * What measures make of clips whose truth is known: `npm run score [sealed] [FAMILY …]`. Two thirds are to work with; the
 * sealed third is run only to measure, never to tune: of it nothing but the figures is printed.
 */
async function main(): Promise<void> {
  const wished = process.argv.slice(2);
  const sealed = wished.includes('sealed');
  const named = FAMILIES.filter((f) => wished.includes(f));
  const families = named.length ? named : FAMILIES;
  const rows: string[] = [];
  for (const family of families) {
    const judged: Judged[] = [];
    for (const clip of await clipsOf(family, sealed)) {
      const one: Judged = await clip
        .judge()
        .catch((error: Error) => ({ right: false, wrong: `cannot be measured: ${error.message}` }));
      judged.push(one);
      const word = one.right ? 'right' : 'WRONG';
      if (!sealed) process.stdout.write(`${word}  ${family}: ${clip.name}${one.wrong && `: ${one.wrong}`}\n`);
    }
    rows.push(row(family, sealed ? 'sealed' : 'open', judged));
  }
  process.stdout.write(`\n| ${HEAD.join(' | ')} |\n|${'---|'.repeat(HEAD.length)}\n${rows.join('\n')}\n`);
}

void main();
