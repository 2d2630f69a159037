import fc from 'fast-check';
import { findTrick, TRICKS } from '../tricks/library/library';
import { REQUIREMENT_KINDS } from '../tricks/requirement-kinds';
import type { Requirement, RequirementKind, Trick } from '../tricks/types';
import { checkTrick, freshKey } from './check-trick';

const double = (): Trick => structuredClone(findTrick('double')!);
/** The sentences about a trick after a change. */
const after = (change: (t: Trick) => void) => {
  const t = double();
  change(t);
  return checkTrick(t);
};
const KINDS = Object.keys(REQUIREMENT_KINDS) as RequirementKind[];

test.each(TRICKS.map((t) => [t.name, t] as const))('%s, as the library has it, can be used', (_, trick) => {
  expect(checkTrick(trick)).toEqual([]);
});

test.each<[string, (t: Trick) => void, RegExp]>([
  ['no name', (t) => (t.name = '  '), /^The trick needs a name\.$/],
  ['no part', (t) => Object.assign(t, { parts: [], requirements: [], script: [] }), /^A trick needs at least one part/],
  ['a part without a name', (t) => (t.parts[0].name = ''), /^Every part needs a name\.$/],
  ['a part of no length', (t) => (t.parts[0].seconds = 0), /a length of above 0 and up to 3600 s/],
  ['a part of two hours', (t) => (t.parts[0].seconds = 7200), /a length of above 0 and up to 3600 s/],
  ['a length that is no number', (t) => (t.parts[0].seconds = NaN), /a length of above 0 and up to 3600 s/],
  [
    'a script line for a part that is gone',
    (t) => (t.script[1].part = 'away'),
    /^A script line speaks of a part "away"/,
  ],
])('%s is said', (_, change, sentence) => {
  const wrong = after(change);
  expect(wrong).toHaveLength(1);
  expect(wrong[0]).toMatch(sentence);
});

test('two parts of one key are said, and what speaks of the lost one too', () => {
  const wrong = after((t) => (t.parts[1].key = t.parts[0].key));
  expect(wrong).toContain('Two parts have the key "plate".');
  expect(wrong.some((w) => w.includes('"pass-a" that is not there'))).toBe(true);
});

test('a requirement of no known kind, one twice, and one that is short of parts', () => {
  expect(after((t) => (t.requirements[0].kind = 'shiny' as RequirementKind))).toEqual([
    '"shiny" is no kind of requirement.',
  ]);
  expect(after((t) => t.requirements.push({ ...t.requirements[0] }))).toEqual([
    expect.stringMatching(/: the same requirement stands there twice\.$/) as string,
  ]);
  const same = (t: Trick) => t.requirements.find((r) => r.kind === 'same-position')!;
  expect(after((t) => (same(t).parts = ['plate', 'plate']))).toEqual([
    expect.stringMatching(/ needs 2 different parts\.$/) as string,
  ]);
});

describe('tolerances', () => {
  const withTolerance = KINDS.filter((k) => REQUIREMENT_KINDS[k].tolerance);

  test.each(withTolerance)('%s: what lies outside of its range is said with the range and its unit', (kind) => {
    const { least, most, unit } = REQUIREMENT_KINDS[kind].tolerance!;
    const asking = (tolerance: number | null): string[] =>
      after((t) => {
        const r: Requirement = { ...t.requirements[0], key: 'own', kind, parts: ['plate', 'pass-a'], tolerance };
        t.requirements = [r];
      });
    expect(asking(least)).toEqual([]);
    expect(asking(most)).toEqual([]);
    for (const wrong of [least - 0.001, most + 0.001, null, NaN]) {
      expect(asking(wrong)).toHaveLength(1);
      expect(asking(wrong)[0]).toContain(`${least} to ${most} ${unit} can be asked for.`);
    }
  });
});

test('one fault is said once, however many parts have it', () => {
  expect(after((t) => t.parts.forEach((p) => (p.name = '')))).toEqual(['Every part needs a name.']);
});

test('a fresh key is new, readable and short, whatever the name', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.nat({ max: 8 }), (name, count) => {
      const taken: string[] = [];
      for (let k = 0; k <= count; k++) {
        const key = freshKey(name, taken);
        expect(taken).not.toContain(key);
        expect(key).toMatch(/^[a-z0-9]+[a-z0-9-]*$/);
        expect(key.length).toBeLessThan(36);
        taken.push(key);
      }
    }),
  );
  expect(freshKey('Pass A!', [])).toBe('pass-a');
  expect(freshKey('Pass A!', ['pass-a', 'pass-a-2'])).toBe('pass-a-3');
  expect(freshKey('Überblendung', [])).toBe('u-berblendung');
  expect(freshKey('夜', [])).toBe('part');
});
