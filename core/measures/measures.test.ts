import fc from 'fast-check';
import Joi from 'joi';
import { REQUIREMENT_KINDS } from '../tricks/requirement-kinds';
import { TRICKS } from '../tricks/library/library';
import type { RequirementKind } from '../tricks/types';
import { withZone, type Zone } from '../tricks/zones';
import { ALL_MEASURES, decidingMeasure, MEASURES } from '.';
import { putTogether, takeApart } from './apart';
import { neededMeasures, type NeedingTake, type PlannedNeed } from './needed';

const KINDS = Object.keys(REQUIREMENT_KINDS) as RequirementKind[];

test('each measure is described whole: known by its key, readable by itself, resting only on measures there are', () => {
  for (const [key, m] of Object.entries(MEASURES)) {
    expect(m.key).toBe(key);
    expect(m.key).toMatch(/^[a-z]+$/);
    expect(m.version).toBeGreaterThanOrEqual(m.reads);
    expect(m.sorry).toMatch(/\.$/);
    for (const other of [...m.needs, ...m.uses]) expect(Object.keys(MEASURES)).toContain(other);
    // A wish nobody made is a wish too.
    const { error, value } = m.wish(Joi).validate({});
    expect([error, typeof value]).toEqual([undefined, 'object']);
    expect(m.wish(Joi).validate({ evil: 1 }).error).toBeDefined();
  }
});

test('each kind of requirement is decided by one measure at most, and no measure decides a kind that there is not', () => {
  for (const kind of KINDS) expect(ALL_MEASURES.filter((m) => m.decides[kind]).length).toBeLessThanOrEqual(1);
  for (const m of ALL_MEASURES) for (const kind of Object.keys(m.decides)) expect(KINDS).toContain(kind);
  expect(decidingMeasure('locked')?.key).toBe('take');
  expect(decidingMeasure('cloth-hides')?.key).toBe('cloth');
  expect(decidingMeasure('beats-marked')?.key).toBe('beats');
  // Nothing is left to the eye alone.
  expect(KINDS.filter((kind) => !decidingMeasure(kind))).toEqual([]);
  expect(decidingMeasure('locked', [])).toBeNull();
});

const take = (id: string, more: Partial<NeedingTake> = {}): NeedingTake => ({
  id,
  number: 1,
  measured: true,
  standing: true,
  ...more,
});
const ZONE_DRAWN: Zone = [
  [0.2, 0.2],
  [0.6, 0.2],
  [0.4, 0.8],
];
const keysOf = (needs: PlannedNeed[]) =>
  neededMeasures(needs, ALL_MEASURES).map((n) => `${n.measure.key} ${n.takes.join(' ')}`);

test('every kind of requirement that a measure decides gets that measure asked for', () => {
  for (const kind of KINDS) {
    const measure = decidingMeasure(kind);
    const parts = Array.from({ length: REQUIREMENT_KINDS[kind].parts }, (_, i) => [take(`t${i}`)]);
    const asked = neededMeasures([{ requirement: { kind, zone: ZONE_DRAWN }, parts }], ALL_MEASURES).map(
      (n) => n.measure.key,
    );
    // What is told by outlines has them made first.
    const outlined = measure?.byOutlines ? parts.map(() => 'outlines') : [];
    // Takes are measured by themselves as they come in.
    expect([kind, asked]).toEqual([kind, measure && measure.needs.length > 0 ? [...outlined, measure.key] : []]);
  }
});

test('every trick of the library, with one take of each part, gets all that its requirements need', () => {
  for (const trick of TRICKS) {
    const needs = withZone(trick, ZONE_DRAWN).requirements.map((r) => ({
      requirement: r,
      parts: r.parts.map((key) => [take(key)]),
    }));
    const asked = new Set(neededMeasures(needs, ALL_MEASURES).map((n) => n.measure.key));
    for (const { kind, parts } of trick.requirements) {
      const measure = decidingMeasure(kind);
      if (!measure || measure.needs.length === 0 || parts.length < measure.takes) continue;
      expect([trick.name, kind, asked.has(measure.key)]).toEqual([trick.name, kind, true]);
    }
  }
});

test('what is asked for: takes that are measured, each measure once, and of pairs those worth it', () => {
  expect(
    keysOf([{ requirement: { kind: 'covers-frame' }, parts: [[take('a'), take('b', { measured: false })]] }]),
  ).toEqual(['cover a']);
  const twice: PlannedNeed[] = ['covers-frame', 'leaves-frame'].map((kind) => ({
    requirement: { kind: kind as RequirementKind },
    parts: [[take('a')]],
  }));
  expect(keysOf(twice)).toEqual(['cover a']);
  // A comparison is one, whichever way round; a cut is two.
  const both = [[take('a')], [take('b')]];
  const turned = [...both].reverse();
  expect(
    keysOf([
      { requirement: { kind: 'same-light' }, parts: both },
      { requirement: { kind: 'same-position' }, parts: turned },
    ]),
  ).toEqual(['compare a b']);
  expect(
    keysOf([
      { requirement: { kind: 'same-direction' }, parts: both },
      { requirement: { kind: 'same-direction' }, parts: turned },
    ]),
  ).toEqual(['cut a b', 'cut b a']);
  // Whoever is in is outlined while the other pass is still to be rolled.
  expect(keysOf([{ requirement: { kind: 'apart' }, parts: [[take('a')], []] }])).toEqual(['outlines a']);
  // A part that does for both is not held against itself.
  expect(keysOf([{ requirement: { kind: 'same-light' }, parts: [[take('a')], [take('a')]] }])).toEqual([]);
  // Of many takes the one that stands and the three newest.
  const many = Array.from({ length: 6 }, (_, i) => take(`a${i}`, { number: i, standing: i === 1 }));
  const pairs = keysOf([{ requirement: { kind: 'same-light' }, parts: [many, [take('b')]] }]);
  expect(pairs[0]).toBe('compare a1 b');
  expect(pairs.sort()).toEqual(['a1', 'a3', 'a4', 'a5'].map((a) => `compare ${a} b`));
});

test('a result taken apart and put together is the same, and nothing named stays in what lists read', () => {
  const leaf = fc.oneof(fc.integer(), fc.string(), fc.constant(null), fc.array(fc.integer()));
  const result = fc.dictionary(
    fc.constantFrom('lock', 'light', 'media', 'path'),
    fc.oneof(leaf, fc.dictionary(fc.constantFrom('path', 'steps', 'peak'), leaf)),
  );
  const names = fc.subarray(['lock.path', 'light.path', 'media.steps', 'path']);
  fc.assert(
    fc.property(result, names, (whole, apart) => {
      const before = JSON.stringify(whole);
      const { summary, detail } = takeApart(whole, apart);
      expect(putTogether(summary, detail)).toEqual(whole);
      expect(JSON.stringify(whole)).toBe(before);
      const read = summary as Record<string, Record<string, unknown> | null | undefined>;
      for (const name of apart) {
        const [outer, inner] = name.split('.');
        if (inner === undefined) expect(read).not.toHaveProperty(outer);
        else if (typeof read[outer] === 'object' && read[outer] !== null && !Array.isArray(read[outer]))
          expect(Object.keys(read[outer])).not.toContain(inner);
      }
    }),
    { numRuns: 300 },
  );
  expect(putTogether({ a: 1 }, null)).toEqual({ a: 1 });
});

test('a zone is watched once it is drawn, and anew when it is drawn elsewhere', () => {
  const needs = (zone: Zone | null) =>
    neededMeasures([{ requirement: { kind: 'zone-free', zone }, parts: [[take('a')]] }], ALL_MEASURES);
  expect(needs(null)).toEqual([]);
  const moved = ZONE_DRAWN.map(([x, y]): [number, number] => [x + 0.1, y]);
  const both = neededMeasures(
    [ZONE_DRAWN, moved, ZONE_DRAWN].map((zone) => ({ requirement: { kind: 'zone-free', zone }, parts: [[take('a')]] })),
    ALL_MEASURES,
  );
  expect(both.map((n) => [n.measure.key, n.wish])).toEqual([
    ['outlines', null],
    ['zone', { zone: ZONE_DRAWN }],
    ['zone', { zone: moved }],
  ]);
});
