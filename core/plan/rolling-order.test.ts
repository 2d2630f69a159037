import fc from 'fast-check';
import { TRICKS } from '../tricks/library/library';
import { NO_WISHES, type Trick } from '../tricks/types';
import { partsElsewhere, proposeOrder, standingOrders, stepsInOrder } from './rolling-order';
import type { PlannedPart, PlannedTrick } from './types';

const part = (id: string): PlannedPart => ({ id, name: id, what: '', seconds: 5, optional: false });
/** A trick with each of its parts as a part of the setup; those of one key and prefix are shared. */
const planned = (trick: Trick, id = trick.key, prefix = `${id}-`): PlannedTrick => ({
  id,
  trick,
  wishes: { ...NO_WISHES },
  parts: Object.fromEntries(trick.parts.map((p) => [p.key, `${prefix}${p.key}`])),
});
const partsOf = (tricks: PlannedTrick[]) =>
  [...new Set(tricks.flatMap((t) => Object.values(t.parts)))].map((id) => part(id));
const ids = (steps: { part: { id: string } }[]) => steps.map((s) => s.part.id);

describe.each(TRICKS.map((t) => [t.name, t] as const))('%s by itself', (_, trick) => {
  const own = planned(trick);
  const steps = proposeOrder(partsOf([own]), [own]);

  test('each of its parts is rolled once, with a reason and what to say', () => {
    expect(ids(steps).sort()).toEqual(ids(partsOf([own]).map((p) => ({ part: p }))).sort());
    for (const s of steps) {
      expect(s.why).toMatch(/\.$/);
      expect(s.tricks).toEqual([trick.name]);
    }
    const said = steps.flatMap((s) => s.script.map((l) => l.say));
    for (const line of trick.script) if (line.part !== null) expect(said).toContain(line.say);
  });

  test('an empty frame that comes first comes first, and what is elsewhere comes last', () => {
    const roles = steps.map((s) => trick.parts.find((p) => s.part.id === own.parts[p.key])!);
    const first = roles.findIndex((p) => p.role === 'plate' && p.place !== 'last');
    if (first >= 0) expect(first).toBe(0);
    const away = steps.map((s) => s.elsewhere);
    expect(away).toEqual([...away].sort((a, b) => Number(a) - Number(b)));
    for (const s of steps) expect(partsElsewhere([own]).has(s.part.id)).toBe(s.elsewhere);
  });

  test('of one roll it is one roll', () => {
    const rolls = steps.flatMap((s) => {
      const p = trick.parts.find((q) => s.part.id === own.parts[q.key])!;
      return p.role === 'still' || s.elsewhere ? [] : [s.roll];
    });
    if (trick.oneRoll) expect(new Set(rolls).size).toBeLessThanOrEqual(1);
    expect(steps.map((s) => s.roll)).toEqual(steps.map((s) => s.roll).sort((a, b) => a - b));
  });
});

test('whatever is planned together, the order holds every part once and does not depend on how they lay before', () => {
  const some = fc.uniqueArray(fc.constantFrom(...TRICKS), { minLength: 1, maxLength: 4, selector: (t) => t.key });
  fc.assert(
    fc.property(some, fc.boolean(), (tricks, shared) => {
      const all = tricks.map((t) => planned(t, t.key, shared ? '' : `${t.key}-`));
      const parts = partsOf(all);
      const order = ids(proposeOrder(parts, all));
      expect([...order].sort()).toEqual(parts.map((p) => p.id).sort());
      expect(new Set(order).size).toBe(order.length);
      // Ordering what is in order changes nothing.
      const again = proposeOrder(
        order.map((id) => part(id)),
        all,
      );
      expect(ids(again)).toEqual(order);
    }),
  );
});

test('a part that no trick rests on stays, at the end, and says so', () => {
  const own = planned(TRICKS[0]);
  const steps = proposeOrder([part('extra'), ...partsOf([own])], [own]);
  expect(steps[steps.length - 1]).toMatchObject({ part: { id: 'extra' }, tricks: [], elsewhere: false });
  expect(steps[steps.length - 1].why).toBe('On its own: no trick rests on it.');
});

test('an order that somebody chose is kept as it is, with the same reasons', () => {
  const own = planned(TRICKS.find((t) => t.key === 'double')!);
  const turned = partsOf([own]).reverse();
  const steps = stepsInOrder(turned, [own]);
  expect(ids(steps)).toEqual(turned.map((p) => p.id));
  for (const s of steps) expect(s.why).toMatch(/\.$/);
});

test('one empty frame for two tricks says that it serves both', () => {
  const double = TRICKS.find((t) => t.key === 'double')!;
  const two = [planned(double, 'one', ''), planned({ ...double, name: 'Triple' }, 'two', '')];
  const [plate] = proposeOrder(partsOf(two), two);
  expect(plate.tricks).toEqual(['Double', 'Triple']);
  expect(plate.why).toBe('One empty frame serves 2 tricks; before anybody has touched anything.');
});

describe('standing orders', () => {
  test('are said once, however many tricks ask for them', () => {
    const double = TRICKS.find((t) => t.key === 'double')!;
    const once = standingOrders([planned(double)]);
    expect(standingOrders([planned(double, 'one'), planned(double, 'two')])).toEqual(once);
    expect(once).toContain('Nobody touches the tripod, the camera or its cable.');
    expect(once).toContain('Nobody changes a lamp, a curtain or a door.');
    expect(new Set(once).size).toBe(once.length);
  });

  test('where the camera moves, nobody is told to keep off the tripod', () => {
    for (const trick of TRICKS) {
      const told = standingOrders([planned(trick)]).includes('Nobody touches the tripod, the camera or its cable.');
      expect([trick.name, told]).toEqual([trick.name, trick.camera === 'still']);
    }
  });

  test('nothing planned, nothing to be said', () => {
    expect(standingOrders([])).toEqual([]);
  });
});
