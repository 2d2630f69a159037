import fc from 'fast-check';
import type { VerdictWord } from '../../report/types';
import { listRuns } from '../../judge/runs';
import { byWorst, VERDICT_ORDER, worstOf } from '../../judge/verdicts';

const word = fc.constantFrom<VerdictWord>('reshoot', 'unjudged', 'workable', 'holds');

test('the order goes from what must be rolled again to what is fine', () => {
  expect(VERDICT_ORDER).toEqual(['reshoot', 'unjudged', 'workable', 'holds']);
});

test('sorting puts the worst first and keeps the rest in their order', () => {
  fc.assert(
    fc.property(fc.array(word), (words) => {
      const sorted = words.map((w, n) => ({ w, n })).sort((a, b) => byWorst(a.w, b.w));
      for (let k = 1; k < sorted.length; k++) {
        const apart = byWorst(sorted[k - 1].w, sorted[k].w);
        expect(apart).toBeLessThanOrEqual(0);
        if (apart === 0) expect(sorted[k - 1].n).toBeLessThan(sorted[k].n);
      }
    }),
  );
});

test('the worst of some is the first of them once sorted; of none there is none', () => {
  expect(worstOf([])).toBeNull();
  fc.assert(
    fc.property(fc.array(word, { minLength: 1 }), (words) => {
      const all = words.map((verdict, n) => ({ verdict, n }));
      expect(worstOf(all)).toBe([...all].sort((a, b) => byWorst(a.verdict, b.verdict))[0]);
    }),
  );
});

test.each([
  [[], ''],
  [[{ start: 4, end: 4 }], '4'],
  [
    [
      { start: 0, end: 27 },
      { start: 121, end: 149 },
    ],
    '0 to 27, 121 to 149',
  ],
  [
    [
      { start: 90, end: 99 },
      { start: 0, end: 3 },
      { start: 10, end: 10 },
      { start: 20, end: 60 },
    ],
    '0 to 3, 20 to 60, 90 to 99 and more',
  ],
])('runs in words: %j', (runs, words) => {
  expect(listRuns(runs)).toBe(words);
});
