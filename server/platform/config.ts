import { resolve } from 'node:path';
import { config as usual } from '../../package.json';

/** Where things live and how the server is reached, from the environment. */
export interface Config {
  /** PostgreSQL connection address. */
  database: string;
  /** Folder for recordings, pictures and uploads. */
  data: string;
  port: number;
  host: string;
  /** Further names under which the server may be asked. */
  names: string[];
  /** Whether a new pass code is made, and whether it is asked for at this machine too. */
  newCode: boolean;
  doorAlways: boolean;
  /** Folder with the built web app; null serves the interface for programs only. */
  web: string | null;
}

/** @throws Error with a sentence when something is missing */
export function readConfig(env: Record<string, string | undefined> = process.env): Config {
  const {
    UMBRASTAT_DATABASE: database,
    UMBRASTAT_DATA: data,
    UMBRASTAT_HOST: host,
    UMBRASTAT_WEB: web,
    UMBRASTAT_NAMES: names,
    UMBRASTAT_NEW_CODE: newCode,
    UMBRASTAT_DOOR: door,
    PORT: port,
  } = env;
  if (!database)
    throw new Error('UMBRASTAT_DATABASE is not set. Start the app with ./start, which starts the database too.');
  return {
    database,
    data: resolve(data ?? './data'),
    port: Number(port ?? usual.port),
    host: host ?? '127.0.0.1',
    names: (names ?? '').split(/[\s,]+/).filter(Boolean),
    newCode: newCode === 'yes',
    doorAlways: door === 'always',
    web: web ? resolve(web) : null,
  };
}

/** How much is written to the log: a level of the logger's. */
export const LOG_LEVEL = (process.env as Record<string, string | undefined>).LOG_LEVEL ?? 'warn';
