/**
 * What Jest makes of a test file: the test and all of the project that it uses as one module, so that the sums call each
 * other without a look-up (a third faster), and nothing is found and loaded file by file. Packages stay outside.
 */
const { createHash } = require('node:crypto');
const { readdirSync, readFileSync } = require('node:fs');
const { join } = require('node:path');
const { buildSync, version } = require('esbuild');

const ROOT = join(__dirname, '..');
/** What tests that are bundled may use. */
const FOLDERS = ['api', 'cli', 'core', 'media', 'packs', 'score', 'server', 'standin'];

let sources = null;
function sourcesHash() {
  if (sources) return sources;
  const hash = createHash('sha256').update(version).update(readFileSync(__filename));
  for (const folder of FOLDERS)
    for (const name of readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' }).sort())
      if (/\.(ts|cjs|json)$/.test(name) && !name.endsWith('.test.ts'))
        hash.update(name).update(readFileSync(join(ROOT, folder, name)));
  sources = hash.digest('hex');
  return sources;
}

/** The module that a test and what it uses become, and its source map. */
function bundleOf(path) {
  const { outputFiles } = buildSync({
    entryPoints: [path],
    outfile: `${path}.js`,
    bundle: true,
    packages: 'external',
    define: { PROJECT: JSON.stringify(ROOT) },
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    sourcemap: 'external',
    write: false,
    logLevel: 'silent',
  });
  const [map, code] = ['.map', '.js'].map((end) => outputFiles.find((f) => f.path.endsWith(end)).text);
  return { code, map };
}

module.exports = {
  FOLDERS,
  ROOT,
  bundleOf,
  getCacheKey: (text, path) => createHash('sha256').update(sourcesHash()).update(path).update(text).digest('hex'),
  process: (_text, path) => bundleOf(path),
};
