import fc from 'fast-check';
import { TRICKS } from '../tricks/library/library';
import { differences } from './differences';

const trick = TRICKS[0];
const named = ({ key }: { key: string }) => key.replaceAll('-', ' ');

test('what two sides say is told by where it stands, and nothing else', () => {
  const [first, ...rest] = trick.requirements;
  const mine = { ...trick, name: 'Mine', requirements: [{ ...first, tolerance: 9.00001 }, ...rest] };
  expect(differences(trick, mine)).toEqual([
    { where: 'name', theirs: trick.name, yours: 'Mine' },
    {
      where: `requirements, ${named(first)}, tolerance`,
      theirs: first.tolerance === null ? 'nothing' : String(first.tolerance),
      yours: '9',
    },
  ]);
});

test('what a change would remove, add or order anew is told', () => {
  const { requirements: all } = trick;
  const removed = differences({ requirements: all }, { requirements: all.slice(1) });
  expect(removed).toEqual([{ where: `requirements, ${named(all[0])}`, theirs: expect.any(String), yours: 'nothing' }]);
  const added = differences({ requirements: all.slice(1) }, { requirements: all });
  expect(added).toEqual([{ where: `requirements, ${named(all[0])}`, theirs: 'nothing', yours: expect.any(String) }]);
  expect(differences({ requirements: [] }, { requirements: all })).toHaveLength(all.length);
  const turned = differences({ requirements: all }, { requirements: [...all].reverse() });
  expect(turned).toEqual([{ where: 'requirements', theirs: 'another order', yours: 'this order' }]);
});

test('only what the change names is looked at; the same is no difference', () => {
  expect(differences({ name: 'A', notes: 'B' }, { name: 'A' })).toEqual([]);
  const json = fc.jsonValue();
  fc.assert(
    fc.property(fc.dictionary(fc.string(), json), (value) => {
      expect(differences(value, JSON.parse(JSON.stringify(value)) as object)).toEqual([]);
    }),
  );
  fc.assert(
    fc.property(fc.dictionary(fc.string(), json), fc.dictionary(fc.string(), json), (a, b) => {
      const same = Object.keys(b).every((k) => JSON.stringify(a[k]) === JSON.stringify(b[k]));
      if (same) expect(differences(a, b)).toEqual([]);
    }),
  );
});
