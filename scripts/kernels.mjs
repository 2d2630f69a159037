/**
 * Compiles core/kernels/assembly to WebAssembly and keeps it as text in core/kernels/compiled.ts, so that every way of
 * running the core has it at hand. `--check` only says, by its exit code, whether what is kept is what the sources
 * give.
 */
import asc from 'assemblyscript/asc';
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const kept = join(root, 'core/kernels/compiled.ts');

let binary = null;
const { error, stderr } = await asc.main(
  [
    'core/kernels/assembly/index.ts',
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
    '--baseDir',
    root,
  ],
  {
    writeFile: (name, contents) => {
      if (name.endsWith('.wasm')) binary = contents;
    },
  },
);
if (error || !binary) {
  process.stderr.write(`${stderr.toString()}\n${error?.message ?? 'Nothing was compiled.'}\n`);
  process.exit(1);
}
const text = `/** Made by \`npm run kernels\` from core/kernels/assembly: WebAssembly, base64. */
export const COMPILED = '${Buffer.from(binary).toString('base64')}';
`;
if (process.argv.includes('--check')) {
  if (readFileSync(kept, 'utf8') !== text) {
    process.stderr.write('core/kernels/compiled.ts is not what core/kernels/assembly gives: run `npm run kernels`.\n');
    process.exit(1);
  }
} else {
  writeFileSync(kept, text);
}
