import fc from 'fast-check';
import { seededNormal, seededRandom } from '../../base/numeric/random';
import type { CoverEvents } from './events';
import type { EdgePaths, FoundEdge } from './edge-finder';
import { fitSoftEdge } from './soft-fit';
import { trimmedToMiddle } from './soft-edge';
import { LINES_AT } from './profile';

const LONG = 960;

/** Three lines of a wall before which something of its own shading stands up to a soft edge. */
function lines(seed: number, at: number, rise: number, outwards: 1 | -1) {
  const random = seededRandom(seed),
    normal = seededNormal(seed + 1);
  const blotches = Array.from({ length: LONG / 8 + 1 }, () => 60 + 120 * random());
  const behind = [0, 1, 2].map((k) =>
    Float32Array.from({ length: LONG }, (_, x) => blotches[x >> 3] + 6 * Math.sin(x / 3 + k)),
  );
  const seen = behind.map((line) =>
    line.map((b, x) => {
      const a = 1 / (1 + Math.exp((outwards * (x - at) * 4.394) / rise));
      return a * (215 + 0.03 * (x - at)) + (1 - a) * b + 2 * normal();
    }),
  );
  return { seen, behind };
}

test('middle and rise of a soft edge: within a tenth of its rise, whichever way it goes', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 999 }),
      fc.integer({ min: 330, max: 630 }),
      fc.integer({ min: 30, max: 200 }),
      fc.constantFrom(1 as const, -1 as const),
      (seed, at, rise, outwards) => {
        const { seen, behind } = lines(seed, at, rise, outwards);
        const found = fitSoftEdge(seen, behind, at + outwards * 0.45 * rise, outwards)!;
        expect(Math.abs(found.at - at)).toBeLessThan(0.1 * rise + 3);
        expect(Math.abs(found.rise / rise - 1)).toBeLessThan(0.3);
      },
    ),
    { numRuns: 40 },
  );
});

test('a hard edge, and no edge at all, are no soft edge', () => {
  const hard = lines(5, 480, 2, 1);
  expect(fitSoftEdge(hard.seen, hard.behind, 480, 1)).toBeNull();
  expect(fitSoftEdge(hard.behind, hard.behind, 480, 1)).toBeNull();
});

describe('masks of a soft edge', () => {
  const FRAMES = 30,
    W = 40,
    H = 20;
  /** Each column of the masks is covered when the rim, 8 pixels ahead of the middle, has reached it: two a frame. */
  const masks = Array.from({ length: FRAMES }, (_, f) =>
    Uint8Array.from({ length: W * H }, (_v, i) => (i % W < 2 * f ? 1 : 0)),
  );
  const path = (ahead: number) =>
    LINES_AT.map(() => Array.from({ length: FRAMES }, (_, f) => (2 * f >= W ? null : 2 * f - ahead)));
  const edge = (ahead: number, softness: number): FoundEdge => ({
    looked: true,
    lines: path(ahead).map((line) => line.map((v) => (v === null ? null : 3 * v))),
    softness,
    byMotion: null,
    byDefocus: null,
  });
  const events: CoverEvents = { enter: 1, firstFull: 20, lastFull: 29, leave: null, peak: 25 };
  const edges = (softness: number): EdgePaths => ({
    lead: edge(8, softness),
    trail: { ...edge(0, 0), looked: false },
    coarse: { lead: path(0), trail: path(0) },
  });

  test('end at its middle, also after its rim has left the picture', () => {
    const trimmed = trimmedToMiddle(masks, edges(60), events, 0, 3)!;
    for (const f of [8, 15, 22, 29]) {
      const covered = trimmed[f].subarray(0, W).reduce((a, b) => a + b, 0);
      expect(covered).toBe(Math.min(W, 2 * f - 8));
    }
  });

  test('stay as they are where the edge is not soft', () => {
    expect(trimmedToMiddle(masks, edges(6), events, 0, 3)).toBeNull();
  });
});
