import fc from 'fast-check';
import type { VerdictWord } from '../report/types';
import { judgeGate, type GatePart, type GateTake, type GateTrick } from './gate';
import { standingTake } from './standing';

const SAID = { text: 'Said.', pending: false, broken: false };
const word = fc.constantFrom<VerdictWord>('holds', 'workable', 'reshoot', 'unjudged');
const takes = (id: string) =>
  fc
    .array(fc.record({ verdict: fc.option(word), circled: fc.boolean(), failed: fc.boolean() }), { maxLength: 3 })
    .map((all): GateTake[] =>
      all.map((t, i) => ({
        id: `${id}-${i}`,
        number: i + 1,
        circled: t.circled && all.findIndex((o) => o.circled) === i,
        state: t.verdict ? 'done' : t.failed ? 'failed' : 'working',
        judged: t.verdict && { ...SAID, verdict: t.verdict, fix: t.verdict === 'holds' ? null : 'Do it.' },
      })),
    );
const part = (id: string) =>
  fc
    .record({ takes: takes(id), optional: fc.boolean(), elsewhere: fc.boolean() })
    .map((p): GatePart => ({ id, name: `Part ${id}`, ...p }));
const parts = fc.tuple(part('a'), part('b'), part('c')).map((p) => [...p]);
const requirement = (parts: GatePart[]) =>
  fc
    .record({
      verdict: word,
      byEye: fc.boolean(),
      eye: fc.boolean(),
      about: fc.subarray(
        parts.map((p) => p.id),
        { minLength: 1 },
      ),
    })
    .map(({ verdict, byEye, eye, about }) => {
      const ticked = byEye && eye;
      return {
        key: `${about.join('-')}-${verdict}`,
        kind: 'locked' as const,
        name: 'Camera locked',
        says: 'it holds',
        why: 'Because.',
        verdict: byEye ? (ticked ? ('holds' as const) : ('unjudged' as const)) : verdict,
        text: 'so it is',
        fix: null,
        byEye,
        eye: ticked ? { by: 'Ines', at: 'now' } : null,
        pending: false,
        ready: about.every((id) => parts.find((p) => p.id === id)!.takes.some((t) => t.judged)),
        applies: true,
        partNames: about,
        partIds: about,
      };
    });
const setup = parts.chain((p) =>
  fc
    .array(requirement(p), { maxLength: 5 })
    .map((requirements): [GatePart[], GateTrick[]] => [
      p,
      requirements.length ? [{ id: 't', name: 'Double', requirements }] : [],
    ]),
);

test('whatever is rolled: the gate says one thing, names what to roll, and lets go only when nothing is open', () => {
  fc.assert(
    fc.property(setup, ([all, tricks]) => {
      const gate = judgeGate(all, tricks);
      expect(gate.rows.map((r) => r.partId)).toEqual(all.map((p) => p.id));
      expect(gate.headline).toMatch(/[.]$/);
      expect(gate.mayStrike).toBe(gate.verdict === 'holds' || gate.verdict === 'workable');
      if (gate.rollNext) expect(all.map((p) => p.id)).toContain(gate.rollNext.partId);
      const open = tricks.flatMap((t) => t.requirements);
      if (gate.mayStrike) {
        for (const p of all.filter((q) => !q.optional && !q.elsewhere))
          expect(standingTake(p.takes)?.judged).toBeTruthy();
        expect(open.some((r) => r.verdict === 'reshoot')).toBe(false);
        expect(open.some((r) => r.ready && r.byEye && !r.eye)).toBe(false);
        expect(gate.rollNext).toBeNull();
      }
      if (gate.verdict === 'holds')
        expect(gate.rows.filter((r) => r.takeId).every((r) => r.verdict === 'holds' || r.verdict === 'unjudged')).toBe(
          true,
        );
    }),
    { numRuns: 500 },
  );
});

test('one more sound circled take never closes a gate that was open', () => {
  fc.assert(
    fc.property(setup, fc.constantFrom(0, 1, 2), ([all, tricks], at) => {
      fc.pre(judgeGate(all, tricks).mayStrike);
      const better = all.map((p, i) =>
        i === at
          ? {
              ...p,
              takes: [
                ...p.takes.map((t) => ({ ...t, circled: false })),
                {
                  id: 'new',
                  number: 9,
                  circled: true,
                  state: 'done' as const,
                  judged: { ...SAID, verdict: 'holds' as const, fix: null },
                },
              ],
            }
          : p,
      );
      expect(judgeGate(better, tricks).mayStrike).toBe(true);
    }),
    { numRuns: 500 },
  );
});

test('the take a part stands on is the circled one, else none is better', () => {
  fc.assert(
    fc.property(takes('x'), (all) => {
      const standing = standingTake(all);
      if (all.length === 0) expect(standing).toBeNull();
      else if (all.some((t) => t.circled)) expect(standing?.circled).toBe(true);
      else if (all.some((t) => t.judged?.verdict === 'holds')) expect(standing?.judged?.verdict).toBe('holds');
    }),
  );
});
