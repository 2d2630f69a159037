import { useEffect, useState } from 'react';

interface LastSetup {
  id: string;
  number: number;
}

const KEY = 'umbrastat.setup';
let last: LastSetup | null = read();
const listeners = new Set<(s: LastSetup | null) => void>();

function read(): LastSetup | null {
  try {
    return JSON.parse(window.localStorage.getItem(KEY) ?? 'null') as LastSetup | null;
  } catch {
    return null;
  }
}

/** Remembers on this device which setup one is at, so that its gate is one tap away from everywhere. */
export function rememberSetup(setup: LastSetup | null): void {
  last = setup;
  try {
    if (setup) window.localStorage.setItem(KEY, JSON.stringify(setup));
    else window.localStorage.removeItem(KEY);
  } catch {
    // Without storage it is remembered until the page is closed.
  }
  listeners.forEach((l) => l(setup));
}

export function useLastSetup(): LastSetup | null {
  const [value, setValue] = useState(last);
  useEffect(() => {
    listeners.add(setValue);
    return () => {
      listeners.delete(setValue);
    };
  }, []);
  return value;
}

/** Takes the setup on screen as the one the person is at. */
export function useRememberedSetup(setup: LastSetup | null | undefined): void {
  const id = setup?.id;
  const number = setup?.number;
  useEffect(() => {
    if (id !== undefined && number !== undefined) rememberSetup({ id, number });
  }, [id, number]);
}
