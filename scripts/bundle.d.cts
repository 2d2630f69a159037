/** Gives the folder of a bundle (`cli`, `server`, `test-server`), which is made first unless it is fresh. */
export function ensureBundle(name: string): string;
/** The name of an entry's file in its bundle. */
export function fileOf(entry: string): string;
