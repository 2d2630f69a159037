import fc from 'fast-check';
import { SUM_KINDS, type SumInput, type SumValues } from './kinds';
import { SUM_SHEETS, usualValues, workOut } from './sheets';

/** Any value an input may have, also at its very ends. */
function anyValue(input: SumInput): fc.Arbitrary<number | string> {
  if (input.kind === 'choice') return fc.constantFrom(...input.options.map((o) => o.value));
  if (input.kind === 'text') return fc.constantFrom(input.usual, '', 'nonsense', '99:99:99:99', '2027-12-21T03:00');
  return fc.oneof(
    fc.double({ min: input.least, max: input.most, noNaN: true }),
    fc.constantFrom(input.least, input.most, input.usual),
  );
}

describe.each(SUM_KINDS)('%s', (kind) => {
  const sheet = SUM_SHEETS[kind];
  const anyValues = fc.record(
    Object.fromEntries(sheet.inputs.map((i) => [i.key, anyValue(i)])),
  ) as fc.Arbitrary<SumValues>;

  test('whatever is typed within bounds, there is an answer to be read, or a sentence why not', () => {
    fc.assert(
      fc.property(anyValues, (values) => {
        const { result, error } = workOut(kind, values);
        if (error !== null) {
          expect(error).toMatch(/[.]$/);
          return;
        }
        expect(result!.answers.length).toBeGreaterThan(0);
        for (const a of result!.answers) expect(a.value).not.toMatch(/NaN|undefined|Infinity|e\+/);
        expect(result!.working).not.toMatch(/NaN|undefined|Infinity/);
        for (const c of result!.cautions) expect(c).not.toMatch(/NaN|undefined/);
        for (const p of result!.curve?.points ?? []) expect(Number.isFinite(p.x) && Number.isFinite(p.y)).toBe(true);
      }),
      { numRuns: 150 },
    );
  });

  test('the same values give the same answer, and one curve stays one size', () => {
    fc.assert(
      fc.property(anyValues, (values) => {
        expect(workOut(kind, values)).toEqual(workOut(kind, { ...values }));
        const points = workOut(kind, values).result?.curve?.points.length;
        if (points !== undefined) expect(points).toBe(workOut(kind, usualValues(kind)).result?.curve?.points.length);
      }),
      { numRuns: 30 },
    );
  });

  test('numbers outside their bounds are refused with the bounds', () => {
    for (const input of sheet.inputs) {
      if (input.kind !== 'number') continue;
      const { error } = workOut(kind, {
        ...usualValues(kind),
        from: 'frames',
        move: 'pan',
        [input.key]: input.most * 2 + 1,
      });
      if (error !== null) expect(error).toContain(String(input.most));
    }
  });
});
