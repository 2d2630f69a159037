import type { RequirementKind } from '../tricks/types';
import { BEATS } from './beats';
import { CLOTH } from './cloth';
import { COMPARE } from './compare';
import { COVER } from './cover';
import { CUT } from './cut';
import { FIGURE } from './figure';
import { HIDE } from './hide';
import { JOINED } from './joined';
import type { Measure } from './measure';
import { MEET } from './meet';
import { OUTLINES } from './outlines';
import { PAIR } from './pair';
import { PLATE } from './plate';
import { PROOF } from './proof';
import { SPOT } from './spot';
import { STILLS } from './stills';
import { TAKE } from './take';
import { ZONE } from './zone';

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
