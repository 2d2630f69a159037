import fc from 'fast-check';
import { findTrick, TRICKS } from '../tricks/library/library';
import { NO_WISHES, type TrickWishes } from '../tricks/types';
import { findContradictions } from './contradictions';
import { proposeOrder, standingOrders, stepsInOrder } from './rolling-order';
import { NO_NOTES, type PlannedPart, type PlannedTrick } from './types';

const HD = { width: 1920, height: 1080, fps: 25 };
const planned = (
  key: string,
  parts: Record<string, string>,
  wishes: Partial<TrickWishes> = {},
  id = key,
): PlannedTrick => ({ id, trick: findTrick(key)!, wishes: { ...NO_WISHES, ...wishes }, parts });
const part = (id: string): PlannedPart => ({ id, name: id, what: '', seconds: 5, optional: false });

describe('contradictions', () => {
  const double = planned('double', { plate: 'p', 'pass-a': 'a', 'pass-b': 'b' });

  test('what is not noted contradicts nothing', () => {
    expect(findContradictions(NO_NOTES, HD, [planned('double', {}, { speed_pct: 40, push_pct: 200 })])).toEqual([]);
  });
  test('40 % slow motion at 25 fps is caught at once, with what to do, and gone at 63 fps', () => {
    const slow = planned('double', {}, { speed_pct: 40 });
    const [found] = findContradictions({ ...NO_NOTES, fps: 25 }, HD, [slow]);
    expect(found).toMatchObject({ code: 'rate', tricks: ['double'] });
    expect(found.text).toContain('62.5');
    expect(found.fix).toContain('100 %');
    expect(findContradictions({ ...NO_NOTES, fps: 63 }, HD, [slow])).toEqual([]);
  });
  test('a push beyond the headroom, a trick’s own rate and headroom, a small picture, a long shutter', () => {
    const codes = (notes: object, t: PlannedTrick) =>
      findContradictions({ ...NO_NOTES, ...notes }, HD, [t]).map((c) => c.code);
    expect(codes({ width: 2560, height: 1440 }, planned('double', {}, { push_pct: 150 }))).toEqual(['headroom']);
    expect(codes({ width: 3840, height: 2160 }, planned('double', {}, { push_pct: 150 }))).toEqual([]);
    expect(codes({ fps: 25, width: 3840, height: 2160 }, planned('floater', {}))).toEqual(['rate']);
    expect(codes({ fps: 50, width: 1920, height: 1080 }, planned('floater', {}))).toEqual(['headroom']);
    expect(codes({ width: 1280, height: 720 }, double)).toEqual(['small']);
    expect(codes({ fps: 50, shutter_s: 1 / 25 }, double)).toEqual(['shutter']);
    expect(codes({ fps: 50, shutter_s: 1 / 50 }, double)).toEqual([]);
  });
  test('two positions on one setup are named once', () => {
    const found = findContradictions(NO_NOTES, HD, [
      planned('double', {}, { height_m: 1.4 }),
      planned('slip-behind', {}, { height_m: 0.4 }),
    ]);
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ code: 'position', tricks: ['double', 'slip-behind'] });
    expect(
      findContradictions({ ...NO_NOTES, focal_mm: 35 }, HD, [planned('double', {}, { lens_mm: 50 })])[0].text,
    ).toContain('the setup 35 mm');
    expect(findContradictions(NO_NOTES, HD, [double, planned('pan-past-wipe', {})])[0].code).toBe('moving');
  });
});

describe('rolling order', () => {
  const parts = ['b', 'in', 'a', 'pull', 'end', 'p', 'out'].map(part);
  const tricks = [
    planned('passing-wipe', { out: 'out', in: 'in' }),
    planned('double', { plate: 'p', 'pass-a': 'a', 'pass-b': 'b' }),
    planned('cover-pull', { pass: 'pull', plate: 'end' }),
  ];

  test('empty first, light-critical passes next, the end of a roll after its pass, other places last', () => {
    const steps = proposeOrder(parts, tricks);
    expect(steps.map((s) => s.part.id)).toEqual(['p', 'b', 'a', 'pull', 'end', 'out', 'in']);
    expect(steps[0].why).toMatch(/Empty first/);
    expect(steps[4].why).toMatch(/At the end of the same roll/);
    expect(steps[6].why).toMatch(/other place/);
    expect(steps.map((s) => s.elsewhere)).toEqual([false, false, false, false, false, false, true]);
    // Plate and both passes of the double are one roll; the wipe's out side is another.
    expect(new Set(steps.slice(0, 3).map((s) => s.roll)).size).toBe(1);
    expect(steps[5].roll).not.toBe(steps[4].roll);
    expect(steps[1].script.length).toBeGreaterThan(0);
  });
  test('one empty frame serves several tricks', () => {
    const steps = proposeOrder(
      [part('a'), part('p')],
      [planned('slip-behind', { plate: 'p', pass: 'a' }), planned('see-through', { plate: 'p', pass: 'a' })],
    );
    expect(steps[0]).toMatchObject({ part: { id: 'p' }, tricks: ['Slip-behind', 'See-through figure'] });
    expect(steps[0].why).toContain('serves 2 tricks');
  });
  test('whatever is planned, each part comes once, and a chosen order is kept', () => {
    fc.assert(
      fc.property(fc.subarray([...TRICKS], { minLength: 1, maxLength: 4 }), fc.boolean(), (chosen, share) => {
        const all: PlannedPart[] = [];
        const plans = chosen.map((t): PlannedTrick => ({
          id: t.key,
          trick: t,
          wishes: NO_WISHES,
          parts: Object.fromEntries(
            t.parts.map((p) => {
              const id = share && p.role === 'plate' ? 'shared' : `${t.key}.${p.key}`;
              if (!all.some((q) => q.id === id)) all.push(part(id));
              return [p.key, id];
            }),
          ),
        }));
        const steps = proposeOrder(all, plans);
        expect(steps.map((s) => s.part.id).sort()).toEqual(all.map((p) => p.id).sort());
        expect(steps.every((s) => s.why.length > 10)).toBe(true);
        expect(steps.map((s) => s.roll)).toEqual(steps.map((s) => s.roll).sort((a, b) => a - b));
        expect(stepsInOrder([...all].reverse(), plans).map((s) => s.part.id)).toEqual(all.map((p) => p.id).reverse());
      }),
    );
  });
  test('standing orders say who must not touch what', () => {
    expect(standingOrders([tricks[1]]).join(' ')).toMatch(/Nobody touches the tripod.*Nobody changes a lamp/);
    expect(standingOrders([])).toEqual([]);
  });
});
