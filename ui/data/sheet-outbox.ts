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

/** Sends what waits, setup by setup; gives whether all of it got through. What the server refuses for good is dropped. */
async function flush(): Promise<boolean> {
  if (sending) return false;
  sending = true;
  try {
    for (const setupId of new Set(waiting.map((w) => w.setupId))) {
      const batch = waiting.filter((w) => w.setupId === setupId);
      try {
        await request(`/setups/${setupId}/ticks`, {
          method: 'PUT',
          body: { ticks: batch.map(({ line, done, by, at }) => ({ line, done, by, at })) },
        });
      } catch (error) {
        if (error instanceof Unreachable || (error as { status?: number }).status !== 404) return false;
      }
      setWaiting(waiting.filter((w) => !batch.includes(w)));
    }
    return true;
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
