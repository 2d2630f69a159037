import { useSyncExternalStore } from 'react';

/** The server answered with a sentence. */
export class ServerSays extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

/** What was to be changed has changed meanwhile: as it stands, and as the change would have it. */
export class ChangedHere extends ServerSays {
  constructor(
    message: string,
    readonly here: { version: number },
    readonly yours: object,
  ) {
    super(message, 409);
  }
}

/** No answer came at all. */
export class Unreachable extends Error {
  constructor() {
    super('The server cannot be reached. Check the connection; nothing is lost.');
  }
}

/** A fact about the server that every screen may look at. */
function shared(first: boolean) {
  let now = first;
  const listeners = new Set<() => void>();
  const listen = (l: () => void) => {
    listeners.add(l);
    return () => listeners.delete(l);
  };
  const set = (next: boolean) => {
    if (next === now) return;
    now = next;
    listeners.forEach((l) => l());
  };
  return { set, use: () => useSyncExternalStore(listen, () => now) };
}

const reachable = shared(true);
const closed = shared(false);

/** Whether the last request got through. */
export const useReachable = reachable.use;
/** Whether the server asked for the pass code. */
export const useClosed = closed.use;
export const setClosed = closed.set;

interface Sending {
  method?: string;
  body?: unknown;
  /** Which version of what is changed was seen. */
  seen?: number;
}

/** Sends a request and gives the answer, whatever it says. @throws Unreachable */
async function send(path: string, options: Sending = {}): Promise<Response> {
  const match: Record<string, string> = options.seen === undefined ? {} : { 'If-Match': `"${options.seen}"` };
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method: options.method ?? 'GET',
      headers: options.body === undefined ? undefined : { 'Content-Type': 'application/json', ...match },
      body: options.body === undefined ? undefined : JSON.stringify(options.body),
    });
  } catch {
    reachable.set(false);
    throw new Unreachable();
  }
  reachable.set(true);
  return response;
}

/** Sends a request and gives the answer's JSON. @throws ServerSays, ChangedHere or Unreachable */
export async function request<T>(path: string, options: Sending = {}): Promise<T> {
  const response = await send(path, options);
  const body = (await response.json().catch(() => null)) as {
    error?: string;
    code?: string;
    here?: { version: number };
    yours?: object;
  } | null;
  if (body?.code === 'changed' && body.here && body.yours)
    throw new ChangedHere(body.error ?? '', body.here, body.yours);
  if (response.status === 401 && body?.code === 'door') closed.set(true);
  if (!response.ok)
    throw new ServerSays(body?.error ?? `The server answered with ${response.status}. Try again.`, response.status);
  return body as T;
}

/** Asks for bytes; null where there are none. @throws Unreachable */
export async function requestBytes(path: string): Promise<ArrayBuffer | null> {
  const response = await send(path);
  return response.ok ? response.arrayBuffer() : null;
}
