import type { RequirementKind } from '../tricks/types';
import { BEATS } from './beats/description';
import { CLOTH } from './cloth/description';
import { COMPARE } from './compare/description';
import { COVER } from './cover/description';
import { CUT } from './cut/description';
import { FIGURE } from './figure/description';
import { HIDE } from './hide/description';
import { JOINED } from './joined/description';
import type { Measure } from '../judge/measure';
import { MEET } from './meet/description';
import { OUTLINES } from './outlines/description';
import { PAIR } from './pair/description';
import { PLATE } from './plate/description';
import { PROOF } from './proof/description';
import { SPOT } from './spot/description';
import { STILLS } from './stills/description';
import { TAKE } from './take/description';
import { ZONE } from './zone/description';

/** Every measure there is, by its key. */
export const MEASURES = {
  take: TAKE,
  beats: BEATS,
  cloth: CLOTH,
  compare: COMPARE,
  cover: COVER,
  cut: CUT,
  figure: FIGURE,
  hide: HIDE,
  joined: JOINED,
  meet: MEET,
  outlines: OUTLINES,
  pair: PAIR,
  plate: PLATE,
  proof: PROOF,
  spot: SPOT,
  stills: STILLS,
  zone: ZONE,
} as const;

export type MeasureKey = keyof typeof MEASURES;
/* eslint-disable @typescript-eslint/no-explicit-any -- any measure, whatever it takes and gives */
export type AnyMeasure = Measure<any, any, any>;
type TypesOf<K extends MeasureKey> = NonNullable<
  (typeof MEASURES)[K] extends Measure<infer W, infer R, infer S> ? { wish: W; result: R; summary: S } : never
>;
/** What may be wished of a measure, what it finds whole, and what lists see of that. */
export type WishOf<K extends MeasureKey> = TypesOf<K>['wish'];
export type ResultOf<K extends MeasureKey> = TypesOf<K>['result'];
export type SummaryOf<K extends MeasureKey> = TypesOf<K>['summary'];

export const ALL_MEASURES: readonly AnyMeasure[] = Object.values(MEASURES);

/** The measure that decides a kind of requirement; null when only somebody's eye does. */
export function decidingMeasure(
  kind: RequirementKind,
  measures: readonly AnyMeasure[] = ALL_MEASURES,
): AnyMeasure | null {
  return measures.find((m) => m.decides[kind]) ?? null;
}
