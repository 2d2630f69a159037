/**
 * Bundles of the sources, made anew whenever one of them has changed: a program starts from one file instead of from
 * hundreds that are translated one by one, and sums run without a look-up for each name of another module.
 */
const { mkdirSync, readFileSync, renameSync, statSync, writeFileSync } = require('node:fs');
const { join } = require('node:path');

const ROOT = join(__dirname, '..');

const SERVER = [
  'server/main.ts',
  'server/worker.ts',
  'server/packs/read-shoot.ts',
  'standin/rolling-thread.ts',
  'packs/packing-thread.ts',
  'media/feeds/measuring-thread.ts',
  'media/ffmpeg/pump-thread.cjs',
];
/** What is bundled together: programs and the threads that they start. */
const BUNDLES = {
  cli: ['cli/main.ts', 'media/ffmpeg/pump-thread.cjs'],
  server: SERVER,
  'test-server': [
    ...SERVER,
    ...['kept-main', 'kept-worker', 'kept-measuring', 'kept-rolling'].map((name) => `server/testing/${name}.ts`),
    'server/testing/tiny/server.ts',
    'server/testing/tiny/thread.ts',
  ],
};

/** Name, size and time of change of each source. */
const stateOf = (paths) =>
  paths.map((path) => {
    const { mtimeMs, size } = statSync(join(ROOT, path));
    return [path, size, mtimeMs];
  });

/** Another start may be reading or making it: a file appears whole. */
function put(path, content) {
  writeFileSync(`${path}.${process.pid}`, content);
  renameSync(`${path}.${process.pid}`, path);
}

/** The name of an entry's file in its bundle: `media/ffmpeg/pump-thread.cjs` is `media-ffmpeg-pump-thread.cjs`. */
const fileOf = (entry) => `${entry.replace(/\.c?[jt]s$/, '').replaceAll('/', '-')}.cjs`;

function isFresh(inputs, folder, entries) {
  try {
    const kept = readFileSync(inputs, 'utf8');
    return (
      kept === JSON.stringify(stateOf(JSON.parse(kept).map(([path]) => path))) &&
      entries.every((entry) => statSync(join(folder, fileOf(entry))).size > 0)
    );
  } catch {
    return false;
  }
}

/** Gives the folder of a bundle, which is made first unless it is fresh. In it `BUNDLED` is true. */
function ensureBundle(name) {
  const entries = BUNDLES[name],
    folder = join(ROOT, '.cache', name),
    inputs = join(folder, 'inputs.json');
  if (isFresh(inputs, folder, entries)) return folder;
  const { outputFiles, metafile } = require('esbuild').buildSync({
    entryPoints: Object.fromEntries(entries.map((entry) => [fileOf(entry).replace(/\.cjs$/, ''), join(ROOT, entry)])),
    absWorkingDir: ROOT,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    packages: 'external',
    define: { BUNDLED: 'true' },
    outdir: folder,
    outExtension: { '.js': '.cjs' },
    write: false,
    metafile: true,
    logLevel: 'silent',
  });
  mkdirSync(folder, { recursive: true });
  for (const file of outputFiles) put(file.path, file.contents);
  put(inputs, JSON.stringify(stateOf(['scripts/bundle.cjs', ...Object.keys(metafile.inputs)])));
  return folder;
}

module.exports = { ensureBundle, fileOf, put };

// `node scripts/bundle.cjs NAME` prints the folder.
if (require.main === module) process.stdout.write(`${ensureBundle(process.argv[2])}\n`);
