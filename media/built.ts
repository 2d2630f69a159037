import { join } from 'node:path';

/** Set by the bundler (`scripts/bundle.cjs`). */
declare const BUNDLED: boolean | undefined;

/** Set where a test is made one module with what it uses (`scripts/bundle-test.cjs`). */
declare const PROJECT: string | undefined;

const isBundled = typeof BUNDLED !== 'undefined';
const below = isBundled ? join(__dirname, '..', '..') : join(__dirname, '..');

/** The project's own folder. */
export const ROOT = typeof PROJECT !== 'undefined' ? PROJECT : below;

/**
 * What a program or thread of the project is started from: its file in the bundle that this runs from, or its source.
 * @param source path under the project's folder, without its ending
 */
export function startedFrom(source: string, ending = '.ts'): string {
  return isBundled ? join(__dirname, `${source.replaceAll('/', '-')}.cjs`) : join(ROOT, `${source}${ending}`);
}

/** What Node.js needs to be told to start such a file. */
export const STARTED_WITH = isBundled ? [] : ['--require', 'tsx/cjs'];
