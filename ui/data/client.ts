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

/** Sends a request and gives the answer, whatever it says. @throws Unreachable */
async function send(path: string, options: { method?: string; body?: unknown } = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method: options.method ?? 'GET',
      headers: options.body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: options.body === undefined ? undefined : JSON.stringify(options.body),
    });
  } catch {
    reachable.set(false);
    throw new Unreachable();
  }
  reachable.set(true);
  return response;
}

/** Sends a request and gives the answer's JSON. @throws ServerSays or Unreachable */
export async function request<T>(path: string, options: { method?: string; body?: unknown } = {}): Promise<T> {
  const response = await send(path, options);
  const body = (await response.json().catch(() => null)) as { error?: string; code?: string } | null;
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
