import { median } from '../core/numeric/quantile';
import { judgeClip, type Judged } from '../score/judge-clip';
import { clipsOf, FAMILIES, type Family } from '../score/recipes';

const share = (part: number, all: number) => `${part} of ${all}`;
const mid = (values: (number | undefined)[], digits: number) => {
  const known = values.filter((v) => v !== undefined);
  return known.length ? median(known).toFixed(digits) : '–';
};

function row(family: Family, which: string, judged: Judged[]): string {
  const offs = judged.flatMap((j) => j.off ?? []);
  const near = offs.filter((o) => o !== null && Math.abs(o) <= 2).length;
  const right = share(judged.filter((j) => j.right).length, judged.length);
  const masks = [
    mid(
      judged.map((j) => j.overlap),
      3,
    ),
    mid(
      judged.map((j) => j.shadow),
      2,
    ),
    mid(
      judged.map((j) => j.edge_px),
      1,
    ),
  ];
  const events = offs.length
    ? [
        share(near, offs.length),
        mid(
          judged.map((j) => j.extra),
          1,
        ),
      ]
    : ['–', '–'];
  return `| ${[family, which, right, ...masks, ...events].join(' | ')} |`;
}

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
      const one = await judgeClip(clip);
      judged.push(one);
      if (!sealed)
        process.stdout.write(
          `${one.right ? 'right' : 'WRONG'}  ${family}: ${clip.name}${one.wrong && `: ${one.wrong}`}\n`,
        );
    }
    rows.push(row(family, sealed ? 'sealed' : 'open', judged));
  }
  process.stdout.write(
    '\n| measure | clips | whole right | overlap | shadow overlap | edge, px | events within 2 frames | events that are none |\n' +
      '|---|---|---|---|---|---|---|---|\n' +
      `${rows.join('\n')}\n`,
  );
}

void main();
