import { join } from 'node:path';

/** Set by the bundler (`scripts/bundle.cjs`). */
declare const BUNDLED: boolean | undefined;

const isBundled = typeof BUNDLED !== 'undefined';

/** The project's own folder. */
export const ROOT = isBundled ? join(__dirname, '..', '..') : join(__dirname, '..');

/**
 * What a program or thread of the project is started from: its file in the bundle that this runs from, or its source.
 * @param source path under the project's folder, without its ending
 */
export function startedFrom(source: string, ending = '.ts'): string {
  return isBundled ? join(__dirname, `${source.replaceAll('/', '-')}.cjs`) : join(ROOT, `${source}${ending}`);
}

/** What Node.js needs to be told to start such a file. */
export const STARTED_WITH = isBundled ? [] : ['--require', 'tsx/cjs'];
