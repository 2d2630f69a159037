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

let reachable = true;
const listeners = new Set<() => void>();

function setReachable(next: boolean): void {
  if (next === reachable) return;
  reachable = next;
  listeners.forEach((l) => l());
}

/** Whether the last request got through. */
export function useReachable(): boolean {
  return useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => reachable,
  );
}

/** Sends a request and gives the answer's JSON. @throws ServerSays or Unreachable */
export async function request<T>(path: string, options: { method?: string; body?: unknown } = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method: options.method ?? 'GET',
      headers: options.body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: options.body === undefined ? undefined : JSON.stringify(options.body),
    });
  } catch {
    setReachable(false);
    throw new Unreachable();
  }
  setReachable(true);
  const body = (await response.json().catch(() => null)) as { error?: string } | null;
  if (!response.ok)
    throw new ServerSays(body?.error ?? `The server answered with ${response.status}. Try again.`, response.status);
  return body as T;
}
