import { checkTrick } from '../../plan/check-trick';
import { ownTrick } from './library';
import { proposedPurpose, PURPOSES, TAKE_KEY } from './purposes';
import { eachByItself } from '../requirement-kinds';

test.each([
  ['Plate', 'plate'],
  ['Plate (Cover pull)', 'plate'],
  ['Empty frame', 'plate'],
  ['Clean pass', 'plate'],
  ['Out side', 'out'],
  ['In side', 'in'],
  ['Still', 'still'],
  ['Handheld walk', 'moving'],
  ['Pan to the ferry', 'moving'],
  ['Pass A', 'locked'],
  ['Outtakes', 'locked'],
  ['Company', 'locked'],
])('a part called %s is likely for: %s', (name, purpose) => {
  expect(proposedPurpose(name)).toBe(purpose);
});

test('what a purpose asks is of the take alone, sound as a trick’s requirements are, and each asked once', () => {
  for (const { requirements, name, called } of Object.values(PURPOSES)) {
    expect(name.length * called.length).toBeGreaterThan(0);
    expect(requirements.every((r) => eachByItself(r.kind) && r.parts.join() === TAKE_KEY)).toBe(true);
    const own = ownTrick(name);
    const trick = { ...own, parts: [{ ...own.parts[0], key: TAKE_KEY }], requirements: [...requirements], script: [] };
    expect(checkTrick(trick)).toEqual([]);
  }
});

test('what is laid over something else asks for steady light, white and focus; what only moves or covers does not', () => {
  const asks = (purpose: keyof typeof PURPOSES) => PURPOSES[purpose].requirements.map((r) => r.kind);
  for (const purpose of ['locked', 'plate', 'still'] as const)
    expect(asks(purpose)).toEqual(expect.arrayContaining(['steady-light', 'steady-white', 'steady-focus']));
  expect(asks('locked')).toContain('locked');
  expect(asks('plate')).toEqual(expect.arrayContaining(['locked', 'clean-plate']));
  expect(asks('out')).toEqual(['covers-frame', 'leaves-frame']);
  expect([...asks('in'), ...asks('moving')]).toEqual([]);
});
