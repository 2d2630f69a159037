import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { request, Unreachable } from './client';
import type { Sheet, Tick } from '../../api/plan';

/** A tick that the server has not confirmed yet. */
interface Waiting {
  setupId: string;
  line: string;
  done: boolean;
  by: string;
  at: string;
}

const OUTBOX = 'umbrastat.ticks';
const sheetKey = (setupId: string) => `umbrastat.sheet.${setupId}`;
const AGAIN_MS = 3000;

function read<T>(key: string): T | null {
  try {
    return JSON.parse(window.localStorage.getItem(key) ?? 'null') as T | null;
  } catch {
    return null;
  }
}

function write(key: string, value: unknown): void {
  try {
    window.localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // Without storage ticks are kept until the page is closed.
  }
}

let waiting: Waiting[] = read<Waiting[]>(OUTBOX) ?? [];
const listeners = new Set<() => void>();

function setWaiting(next: Waiting[]): void {
  waiting = next;
  write(OUTBOX, waiting);
  listeners.forEach((l) => l());
}

let sending = false;

/**
 * Sends ticks of one setup; gives those that are settled: sent, or refused for good. A refused line is found by sending
 * the lines one by one, so that it does not hold up the others.
 */
async function send(setupId: string, batch: readonly Waiting[]): Promise<Waiting[]> {
  try {
    await request(`/setups/${setupId}/ticks`, {
      method: 'PUT',
      body: { ticks: batch.map(({ line, done, by, at }) => ({ line, done, by, at })) },
    });
    return [...batch];
  } catch (error) {
    if (error instanceof Unreachable) throw error;
    const status = (error as { status?: number }).status ?? 500;
    if (status >= 500) return [];
    if (status === 404 || batch.length === 1) return [...batch];
    const settled: Waiting[] = [];
    for (const one of batch) settled.push(...(await send(setupId, [one])));
    return settled;
  }
}

/** Sends what waits, setup by setup; gives whether nothing of it is left. */
async function flush(): Promise<boolean> {
  if (sending) return false;
  sending = true;
  try {
    let all = true;
    for (const setupId of new Set(waiting.map((w) => w.setupId))) {
      const batch = waiting.filter((w) => w.setupId === setupId);
      const settled = await send(setupId, batch);
      setWaiting(waiting.filter((w) => !settled.includes(w)));
      all &&= settled.length === batch.length;
    }
    return all;
  } catch (error) {
    if (error instanceof Unreachable) return false;
    throw error;
  } finally {
    sending = false;
  }
}

/**
 * The sheet of a setup, kept on this device, with ticks that go on while the server cannot be reached and are sent later.
 */
export function useSheet(setupId: string) {
  const client = useQueryClient();
  const [pending, setPending] = useState(waiting);
  useEffect(() => {
    const listen = () => setPending(waiting);
    listeners.add(listen);
    return () => {
      listeners.delete(listen);
    };
  }, []);
  const query = useQuery({
    queryKey: ['sheets', setupId],
    queryFn: async () => {
      const sheet = await request<Sheet>(`/setups/${setupId}/sheet`);
      write(sheetKey(setupId), sheet);
      return sheet;
    },
    initialData: () => read<Sheet>(sheetKey(setupId)) ?? undefined,
    initialDataUpdatedAt: 0,
    refetchInterval: 6000,
  });
  const own = useMemo(() => pending.filter((w) => w.setupId === setupId), [pending, setupId]);
  useEffect(() => {
    if (own.length === 0) return undefined;
    const send = () => {
      flush().then(
        (all) => {
          if (all) void client.invalidateQueries({ queryKey: ['sheets', setupId] });
        },
        () => undefined,
      );
    };
    send();
    const timer = setInterval(send, AGAIN_MS);
    return () => clearInterval(timer);
  }, [own.length, client, setupId]);
  const ticks = useMemo(() => {
    const all = new Map<string, Tick>((query.data?.ticks ?? []).map((t) => [t.line, t]));
    for (const w of own) all.set(w.line, { line: w.line, done: w.done, ticked_by: w.by, ticked_at: w.at });
    return all;
  }, [query.data, own]);
  const tick = useCallback(
    (line: string, done: boolean, by: string) => {
      setWaiting([
        ...waiting.filter((w) => !(w.setupId === setupId && w.line === line)),
        { setupId, line, done, by, at: new Date().toISOString() },
      ]);
    },
    [setupId],
  );
  return { sheet: query.data ?? null, error: query.error, refetch: query.refetch, ticks, tick, unsent: own.length };
}
