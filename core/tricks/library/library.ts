import { ACTIONS } from './actions';
import { CLOTHS } from './cloths';
import { DOUBLES } from './doubles';
import { WIPES } from './wipes';
import type { Trick } from '../types';

/** Every trick of the library, in the order it is offered. */
export const TRICKS: readonly Trick[] = [...WIPES, ...DOUBLES, ...CLOTHS, ...ACTIONS];

/** A trick of the library by its key; null when there is none. */
export function findTrick(key: string): Trick | null {
  return TRICKS.find((t) => t.key === key) ?? null;
}

/** An empty trick to compose one's own from: one locked pass and its plate. */
export function ownTrick(name: string): Trick {
  return {
    key: 'own',
    name,
    summary: '',
    camera: 'still',
    oneRoll: false,
    parts: [
      {
        key: 'plate',
        name: 'Plate',
        role: 'plate',
        what: 'The empty frame',
        seconds: 5,
        place: 'first',
        optional: false,
      },
      { key: 'pass', name: 'Pass', role: 'pass', what: '', seconds: 10, place: 'any', optional: false },
    ],
    requirements: [],
    script: [],
    sums: [],
    mistakes: [],
  };
}
