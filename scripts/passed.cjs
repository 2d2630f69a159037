/**
 * Which suites have passed with just these sources on this machine: they say the same when they are run again, as they ask no
 * server and no page. A suite is known by all that it is made of; one that reads other files too, by all sources.
 */
const { createHash } = require('node:crypto');
const { execFileSync } = require('node:child_process');
const { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } = require('node:fs');
const { join } = require('node:path');
const { FOLDERS, ROOT, bundleOf } = require('./bundle-test.cjs');

/** Where they are noted down; nothing is left out where that is not said. */
const folder = process.env.UMBRASTAT_PASSED;
/** Projects of Jest whose suites are bundled, and whether the bundle is all that they read. */
const PROJECTS = { core: true, media: false, camera: false, demo: false };

const hashOf = (...parts) => parts.reduce((hash, part) => hash.update(part), createHash('sha256')).digest('hex');

/** All files of some folders, tests aside; of clips the names, which say what is in them. */
function everything(folders, isSource) {
  const files = folders.flatMap((name) =>
    readdirSync(join(ROOT, name), { recursive: true, encoding: 'utf8' }).map((file) => join(name, file)),
  );
  return files
    .filter((file) => /\.(ts|cjs|mjs|json|mp4)$/.test(file) && isSource(file))
    .sort()
    .map((file) => (file.endsWith('.mp4') ? file : `${file}\n${readFileSync(join(ROOT, file), 'utf8')}`))
    .join('\n');
}

const once = (make) => {
  let made;
  return () => (made ??= make());
};
/** What all suites stand on. */
const machine = once(() =>
  hashOf(
    process.version,
    execFileSync('ffmpeg', ['-version'], { encoding: 'utf8' }),
    ...['package-lock.json', 'jest.config.js', 'scripts/kernels.mjs', 'scripts/bundle.cjs'].map((file) =>
      readFileSync(join(ROOT, file)),
    ),
    everything(['core/base/kernels/assembly'], () => true),
  ),
);
const sources = once(() => hashOf(everything(FOLDERS, (file) => !file.endsWith('.test.ts'))));

/** What a suite is known by; null for one that is always run. */
function keyOf({ path, context }) {
  const project = context.config.displayName?.name;
  if (!folder || !(project in PROJECTS)) return null;
  return hashOf(machine(), PROJECTS[project] ? bundleOf(path).code : sources() + readFileSync(path, 'utf8'));
}

/** The suites that are still to be run. */
function toRun(tests) {
  if (!folder) return tests;
  const left = tests.filter((test) => {
    const key = keyOf(test);
    return !key || !existsSync(join(folder, key));
  });
  const known = tests.length - left.length;
  if (known)
    process.stderr.write(
      `${known} suites have passed with these sources, and are not run again (./test everything does).\n`,
    );
  return left;
}

/** Notes down which have passed whole. */
function note(tests, { testResults }) {
  if (!folder) return;
  mkdirSync(folder, { recursive: true });
  const passed = new Set(
    testResults
      .filter((r) => !r.testExecError && r.numFailingTests === 0 && r.numPendingTests === 0 && r.numPassingTests > 0)
      .map((r) => r.testFilePath),
  );
  for (const test of tests) {
    const key = passed.has(test.path) ? keyOf(test) : null;
    if (key) writeFileSync(join(folder, key), '');
  }
}

module.exports = { toRun, note };
