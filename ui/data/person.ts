import { useState } from 'react';

const KEY = 'umbrastat.person';

/** Who holds this device: their name stands beside what they tick. */
export function rememberedPerson(): string {
  try {
    return window.localStorage.getItem(KEY) ?? '';
  } catch {
    return '';
  }
}

export function usePerson(): [string, (name: string) => void] {
  const [name, setName] = useState(rememberedPerson);
  return [
    name,
    (next) => {
      setName(next);
      try {
        window.localStorage.setItem(KEY, next);
      } catch {
        // Without storage the name lasts until the page is closed.
      }
    },
  ];
}
