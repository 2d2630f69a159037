import { checkTrick, freshKey } from '../../plan/check-trick';
import { SUM_KINDS } from '../../calculators/kinds';
import { findTrick, ownTrick, TRICKS } from './library';
import { REQUIREMENT_KINDS, statement } from '../requirement-kinds';

test('the library has the twenty tricks, each with everything a plan needs', () => {
  expect(TRICKS.map((t) => t.name).sort()).toEqual([
    'Closing wipe',
    'Cloth drop',
    'Cover pull',
    'Dialled fade',
    'Double',
    'Floater',
    'Framed visitor',
    'Held moment',
    'Lit prop',
    'Mid-air vanish',
    'Mime screen',
    'Over the bars',
    'Pan-past wipe',
    'Passing wipe',
    'Pulled in',
    'See-through figure',
    'Slip-behind',
    'Staged impact',
    'Streak run',
    'Walk-in wipe',
  ]);
  expect(new Set(TRICKS.map((t) => t.key)).size).toBe(20);
});

test.each(TRICKS.map((t) => [t.name, t] as const))('%s is sound', (_name, trick) => {
  expect(checkTrick(trick)).toEqual([]);
  expect(trick.summary.length).toBeGreaterThan(10);
  expect(trick.script.length).toBeGreaterThan(0);
  expect(trick.sums.length).toBeGreaterThan(0);
  expect(trick.mistakes.length).toBeGreaterThan(0);
  for (const sum of trick.sums) expect(SUM_KINDS).toContain(sum);
  for (const r of trick.requirements) {
    expect(r.why).toMatch(/\.$/);
    expect(r.remedySet).toMatch(/\.$/);
    expect(statement(r.kind, r.tolerance)).not.toMatch(/\{n\}|null/);
  }
  // Every part that must be recorded is spoken of by a requirement.
  for (const part of trick.parts.filter((p) => !p.optional))
    expect(trick.requirements.some((r) => r.parts.includes(part.key))).toBe(true);
});

test('every kind of requirement is used, and says what decides it', () => {
  for (const [kind, facts] of Object.entries(REQUIREMENT_KINDS)) {
    expect(facts.measure.length).toBeGreaterThan(5);
    expect(facts.says.includes('{n}')).toBe(facts.tolerance !== null);
    if (kind !== 'length-at-least') expect(TRICKS.some((t) => t.requirements.some((r) => r.kind === kind))).toBe(true);
  }
});

test('a trick of one’s own is checked in sentences', () => {
  const own = ownTrick('Gulls');
  expect(checkTrick(own)).toEqual([]);
  expect(checkTrick({ ...own, name: ' ' })).toEqual(['The trick needs a name.']);
  const wrong = {
    ...own,
    requirements: [
      {
        key: 'a',
        kind: 'same-light' as const,
        parts: ['plate', 'plate'],
        tolerance: 9,
        why: '',
        remedySet: '',
        remedyEdit: null,
      },
      {
        key: 'b',
        kind: 'locked' as const,
        parts: ['nobody'],
        tolerance: 0.35,
        why: '',
        remedySet: '',
        remedyEdit: null,
      },
    ],
  };
  expect(checkTrick(wrong)).toEqual([
    'Same light needs 2 different parts.',
    'Same light: 0.02 to 2 stop can be asked for.',
    'Camera locked speaks of a part "nobody" that is not there.',
  ]);
  expect(findTrick('nothing')).toBeNull();
  expect(freshKey('Pass Ä', ['pass-a'])).toBe('pass-a-2');
  expect(freshKey('???', [])).toBe('part');
});
