import fc from 'fast-check';
import type { PresenceSummary } from '../../report/summaries';
import type { Run } from '../../report/types';
import { presenceSummary } from '../../testing/take-facts';
import { LIMITS } from '../../judge/limits';
import { judgeCleanPlate } from './judge';

const FRAMES = 150;
const LEAST = 25;

const judge = (more: Partial<PresenceSummary>) => judgeCleanPlate(presenceSummary(more), FRAMES, LEAST);
const run = (start: number, end: number): Run => ({ start, end });

test('an empty picture is a clean plate', () => {
  expect(judge({})).toMatchObject({ verdict: 'holds', reasons: [{ code: 'clean', value: FRAMES, fix: null }] });
});

test('somebody in it, with a run long enough to use', () => {
  const v = judge({ present_runs: [run(0, 99)], clear_runs: [run(100, 149)] });
  expect(v).toMatchObject({ verdict: 'workable', reasons: [{ code: 'clear-run', value: 50, limit: LEAST }] });
  expect(v.reasons[0].text).toBe('Somebody is in it in frames 0 to 99; frames 100 to 149 are clear.');
  expect(v.reasons[0].fix).toBe('Use frames 100 to 149 as the plate.');
});

test.each([
  [LEAST - 1, 'reshoot'],
  [LEAST, 'workable'],
])('a clear run of %d frames: %s', (frames, verdict) => {
  const v = judge({ present_runs: [run(frames, FRAMES - 1)], clear_runs: [run(0, frames - 1)] });
  expect(v.verdict).toBe(verdict);
});

test('the longest clear run is the one to use', () => {
  const clear_runs = [run(0, 29), run(50, 99), run(120, 149)];
  const v = judge({ present_runs: [run(30, 49), run(100, 119)], clear_runs });
  expect(v.reasons[0].fix).toContain('frames 50 to 99');
});

test('a shadow alone is called a shadow, somebody with a shadow is somebody', () => {
  const all = { present_runs: [run(0, 149)], clear_runs: [] };
  const shadow = judge({ ...all, shadow_runs: [run(0, 149)] });
  expect(shadow).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'shadow' }] });
  expect(shadow.reasons[0].text).toMatch(/^A shadow is in it/);
  const two = { present_runs: [run(0, 60), run(80, 149)], clear_runs: [], shadow_runs: [run(0, 60)] };
  expect(judge(two).reasons[0].code).toBe('somebody');
});

test('what cannot be told is not judged, and says why', () => {
  expect(judge({ unjudged: 'It is too dark.' })).toMatchObject({
    verdict: 'unjudged',
    reasons: [{ code: 'unknown', text: 'It is too dark.' }],
  });
  const restless_share = LIMITS.plate.restless_share + 0.01;
  expect(judge({ restless_share })).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'restless' }] });
  expect(judge({ restless_share: LIMITS.plate.restless_share }).verdict).toBe('holds');
});

test('whatever the runs, a plate that does not hold says what to do, and one with somebody in never holds', () => {
  const cuts = fc.uniqueArray(fc.integer({ min: 1, max: FRAMES - 1 }), { maxLength: 8 });
  fc.assert(
    fc.property(cuts, fc.boolean(), (at, first) => {
      const edges = [0, ...at.sort((a, b) => a - b), FRAMES];
      const runs = edges.slice(1).map((end, k) => ({ run: run(edges[k], end - 1), clear: (k % 2 === 0) === first }));
      const clear_runs = runs.filter((r) => r.clear).map((r) => r.run);
      const present_runs = runs.filter((r) => !r.clear).map((r) => r.run);
      const v = judge({ clear_runs, present_runs });
      const longest = Math.max(0, ...clear_runs.map((r) => r.end - r.start + 1));
      expect(v.verdict).toBe(present_runs.length === 0 ? 'holds' : longest >= LEAST ? 'workable' : 'reshoot');
      if (v.verdict !== 'holds') expect(v.reasons[0].fix).toBeTruthy();
    }),
  );
});
