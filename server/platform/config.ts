import { resolve } from 'node:path';

/** Where things live and how the server is reached, from the environment. */
export interface Config {
  /** PostgreSQL connection address. */
  database: string;
  /** Folder for recordings, pictures and uploads. */
  data: string;
  port: number;
  host: string;
  /** Folder with the built web app; null serves the interface for programs only. */
  web: string | null;
}

/** @throws Error with a sentence when something is missing */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  if (!env.UMBRASTAT_DATABASE)
    throw new Error('UMBRASTAT_DATABASE is not set. Start the app with ./start, which starts the database too.');
  return {
    database: env.UMBRASTAT_DATABASE,
    data: resolve(env.UMBRASTAT_DATA ?? './data'),
    port: Number(env.PORT ?? 4180),
    host: env.UMBRASTAT_HOST ?? '127.0.0.1',
    web: env.UMBRASTAT_WEB ? resolve(env.UMBRASTAT_WEB) : null,
  };
}
