/**
 * Compiles core/base/kernels/assembly to WebAssembly and keeps it as text in core/base/kernels/compiled.ts, so that every way of
 * running the core has it at hand. `--check` only says, by its exit code, whether what is kept is what the sources
 * give.
 */
import asc from 'assemblyscript/asc';
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import * as prettier from 'prettier';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const folder = join(root, 'core/base/kernels');

let binary = null;
let bindings = '';
const { error, stderr } = await asc.main(
  [
    'core/base/kernels/assembly/index.ts',
    '-o',
    'kernels.wasm',
    '-O3',
    '--converge',
    '--noAssert',
    '--runtime',
    'stub',
    '--enable',
    'simd',
    '--importMemory',
    '--noExportMemory',
    '--bindings',
    'esm',
    '--baseDir',
    root,
  ],
  {
    writeFile: (name, contents) => {
      if (name.endsWith('.wasm')) binary = contents;
      if (name.endsWith('.d.ts')) bindings = contents;
    },
  },
);
if (error || !binary) {
  process.stderr.write(`${stderr.toString()}\n${error?.message ?? 'Nothing was compiled.'}\n`);
  process.exit(1);
}

/** Each loop with the names of its arguments, as the compiler's own bindings give them. */
const loops = [...bindings.matchAll(/export declare function (\w+)\((.*)\): \w+;/g)].map(([, name, list]) => ({
  name,
  args: list.split(', ').map((arg) => arg.split(':')[0]),
}));
const names = ({ name, args }) => {
  const lines = Array.from({ length: Math.ceil(args.length / 12) }, (_, k) => args.slice(12 * k, 12 * (k + 1)));
  return `  ${name}: ${lines.map((l) => `'${l.join(' ')}'`).join(' | ')};`;
};
/** As many arguments to a line as fit into it. */
const call = ({ name, args }) => {
  const lines = [`    ${name}: (a) => raw.${name}(`];
  args.forEach((arg, k) => {
    const word = `a.${arg}${k + 1 < args.length ? ', ' : '),'}`;
    if (lines.at(-1).length + word.length > 120) lines.push('      ');
    lines[lines.length - 1] += word;
  });
  return lines.map((l) => l.trimEnd()).join('\n');
};
const files = {
  'compiled.ts': `/** Made by \`npm run kernels\` from core/base/kernels/assembly: WebAssembly, base64. */
export const COMPILED = '${Buffer.from(binary).toString('base64')}';
`,
  'loops.ts': `/** Made by \`npm run kernels\` from core/base/kernels/assembly: its loops, whose arguments have names. */

/** The arguments of each loop, in the order in which it takes them. The sources in assembly/ say what it does. */
interface Names {
${loops.map(names).join('\n')}
}

type Each<Text extends string> = Text extends \`\${infer First} \${infer Rest}\` ? First | Each<Rest> : Text;

/** The loops by name. Addresses are bytes in the memory of the instance. A loop that gives a truth gives 0 or 1. */
export type Loops = { [Name in keyof Names]: (a: Record<Each<Names[Name]>, number>) => number };

/** Gives the arguments in the order in which the compiled loops take them. */
export function bindLoops(raw: Record<string, (...args: number[]) => number>): Loops {
  // prettier-ignore
  return {
${loops.map(call).join('\n')}
  };
}
`,
};
const style = await prettier.resolveConfig(join(folder, 'loops.ts'));
files['loops.ts'] = await prettier.format(files['loops.ts'], { ...style, parser: 'typescript' });
for (const [name, text] of Object.entries(files)) {
  const path = join(folder, name);
  if (!process.argv.includes('--check')) writeFileSync(path, text);
  else if (readFileSync(path, 'utf8') !== text) {
    process.stderr.write(
      `core/base/kernels/${name} is not what core/base/kernels/assembly gives: run \`npm run kernels\`.\n`,
    );
    process.exit(1);
  }
}
