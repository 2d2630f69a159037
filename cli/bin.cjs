#!/usr/bin/env node
/**
 * Starts the command line from a bundle of the sources, which is made anew whenever one of them has changed: starting
 * is part of every check's time.
 */
const { mkdirSync, readFileSync, renameSync, statSync, writeFileSync } = require('node:fs');
const { createRequire, wrap } = require('node:module');
const { dirname, join } = require('node:path');
const { setFlagsFromString } = require('node:v8');
const { Script } = require('node:vm');

// A check is short and makes much that is thrown away at once: room for that grows fast, so that it is seldom cleared.
setFlagsFromString('--semi-space-growth-factor=16');

const ROOT = join(__dirname, '..');
const FOLDER = join(ROOT, '.cache', 'cli');
const BUNDLE = join(FOLDER, 'main.cjs');
const INPUTS = join(FOLDER, 'inputs.json');
/** What the bundle was compiled to when it last ran, so that the next start need not compile it again. */
const COMPILED = join(FOLDER, 'main.compiled');
const LEAST_SECONDS = 1;

/** Name, size and time of change of each source. */
const stateOf = (paths) =>
  paths.map((path) => {
    const { mtimeMs, size } = statSync(join(ROOT, path));
    return [path, size, mtimeMs];
  });

function isFresh() {
  try {
    const kept = readFileSync(INPUTS, 'utf8');
    return kept === JSON.stringify(stateOf(JSON.parse(kept).map(([path]) => path))) && statSync(BUNDLE).size > 0;
  } catch {
    return false;
  }
}

/** Another start may be reading or making it: a file appears whole. */
function put(path, content) {
  writeFileSync(`${path}.${process.pid}`, content);
  renameSync(`${path}.${process.pid}`, path);
}

function makeBundle() {
  const { outputFiles, metafile } = require('esbuild').buildSync({
    entryPoints: { main: join(ROOT, 'cli/main.ts'), 'pump-thread': join(ROOT, 'media/pump-thread.cjs') },
    absWorkingDir: ROOT,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    packages: 'external',
    outdir: FOLDER,
    outExtension: { '.js': '.cjs' },
    write: false,
    metafile: true,
    logLevel: 'silent',
  });
  mkdirSync(FOLDER, { recursive: true });
  for (const file of outputFiles) put(file.path, file.contents);
  put(INPUTS, JSON.stringify(stateOf(['cli/bin.cjs', ...Object.keys(metafile.inputs)])));
}

function load() {
  try {
    if (!isFresh()) makeBundle();
  } catch {
    // Nothing can be written beside the sources: they are run as they are.
    require('tsx/cjs');
    return require('./main.ts');
  }
  return runBundle();
}

function runBundle() {
  let cachedData;
  try {
    cachedData = readFileSync(COMPILED);
  } catch {
    // It is made below.
  }
  const script = new Script(wrap(readFileSync(BUNDLE, 'utf8')), { filename: BUNDLE, cachedData });
  const made = { exports: {} };
  script.runInThisContext().call(made.exports, made.exports, createRequire(BUNDLE), made, BUNDLE, dirname(BUNDLE));
  // Of another bundle, or another Node.js, it is rejected. What has run by the end is in it: only a check runs enough.
  if (!cachedData || script.cachedDataRejected)
    process.once('exit', () => {
      if (process.uptime() < LEAST_SECONDS) return;
      try {
        put(COMPILED, script.createCachedData());
      } catch {
        // The next start compiles it again.
      }
    });
  return made.exports;
}

load()
  .main(process.argv.slice(2))
  .then((code) => {
    process.exitCode = code;
  });
