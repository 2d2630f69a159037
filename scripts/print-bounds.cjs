/** Prints what `watch-bounds.cjs` noted, the tightest first, each place once. */
const { readFileSync, existsSync } = require('node:fs');
const { relative } = require('node:path');

const [file] = process.argv.slice(2);
const lines = existsSync(file) ? readFileSync(file, 'utf8').trim().split('\n').filter(Boolean) : [];
const worst = new Map();
for (const note of lines.map((line) => JSON.parse(line))) {
  const place = relative('.', note.at ?? '?');
  if (!(worst.get(place)?.share > note.share)) worst.set(place, note);
}
for (const [place, { share, value, name, bounds, currentTestName }] of [...worst].sort(
  ([, a], [, b]) => b.share - a.share,
))
  process.stdout.write(
    `${(100 * share).toFixed(0).padStart(4)} %  ${place}  ${value.toPrecision(4)} ${name} ${bounds.join(', ')}  ${currentTestName}\n`,
  );
process.stdout.write(`${worst.size} bounds are nearer than a third to what was measured.\n`);
