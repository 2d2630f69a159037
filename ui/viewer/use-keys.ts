import { useEffect } from 'react';

/** Keys of the take viewer, as they are listed in the app. */
export const TAKE_KEYS: [string, string][] = [
  ['← →', 'one frame back or on'],
  ['Shift ← →', 'ten frames'],
  ['Home End', 'first or last frame'],
  ['W', 'worst frame'],
  ['P', 'patches the lock rests on'],
  ['F', 'who is in the picture, and their shadows'],
  ['R', 'regions that move by themselves'],
  ['G', 'light by zone'],
  ['L', 'loupe'],
  ['?', 'this list'],
];

/** Listens for keys while a screen is shown, except while somebody types. */
export function useKeys(onKey: (key: string, shift: boolean) => boolean): void {
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && /^(input|textarea|select)$/i.test(e.target.tagName);
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      if (onKey(e.key, e.shiftKey)) e.preventDefault();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [onKey]);
}
