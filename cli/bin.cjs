#!/usr/bin/env node
/**
 * Starts the command line from a bundle of the sources, which is made anew whenever one of them has changed: starting
 * is part of every check's time.
 */
const { readFileSync } = require('node:fs');
const { createRequire, wrap } = require('node:module');
const { dirname, join } = require('node:path');
const { setFlagsFromString } = require('node:v8');
const { Script } = require('node:vm');
const { ensureBundle, fileOf, put } = require('../scripts/bundle.cjs');

// A check is short and makes much that is thrown away at once: room for that grows fast, so that it is seldom cleared.
setFlagsFromString('--semi-space-growth-factor=16');

const LEAST_SECONDS = 1;

function load() {
  let folder;
  try {
    folder = ensureBundle('cli');
  } catch {
    // Nothing can be written beside the sources: they are run as they are.
    require('tsx/cjs');
    return require('./main.ts');
  }
  return runBundle(join(folder, fileOf('cli/main.ts')));
}

function runBundle(path) {
  // What the bundle was compiled to when it last ran, so that the next start need not compile it again.
  const compiled = path.replace(/cjs$/, 'compiled');
  let cachedData;
  try {
    cachedData = readFileSync(compiled);
  } catch {
    // It is made below.
  }
  const script = new Script(wrap(readFileSync(path, 'utf8')), { filename: path, cachedData });
  const made = { exports: {} };
  script.runInThisContext().call(made.exports, made.exports, createRequire(path), made, path, dirname(path));
  // Of another bundle, or another Node.js, it is rejected. What has run by the end is in it: only a check runs enough.
  if (!cachedData || script.cachedDataRejected)
    process.once('exit', () => {
      if (process.uptime() < LEAST_SECONDS) return;
      try {
        put(compiled, script.createCachedData());
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
