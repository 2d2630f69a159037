import fc from 'fast-check';
import { IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { seededNormal, seededRandom } from '../../base/numeric/random';
import { RandomTexture, renderFrame } from '../../testing/rendered-scene';
import {
  agrees,
  covarianceOf,
  emptySighting,
  fitPose,
  misfit,
  poseToSimilarity,
  searchPose,
  similarityToPose,
  strayOf,
  support,
  tellsApart,
  type Pose,
  type Sighting,
} from './consensus';
import { choosePatches, type Patch } from './patches';

const SIZE = { width: 480, height: 270 };
const picture = renderFrame({ ...SIZE, background: new RandomTexture(5, 4, 40), grain: 1, seed: 5 }, IDENTITY, 0);
const { patches } = choosePatches(picture, 1);
const ones = new Float32Array(patches.length).fill(1);
const spreads = new Float32Array(patches.length).fill(0.05);

/** Where each patch would be found under a pose, by the patches' own equations. */
function seen(poseOf: (i: number) => Pose, noise = 0, seed = 1): Sighting {
  const normal = seededNormal(seed);
  const s = emptySighting(patches.length);
  patches.forEach((p, i) => {
    const pose = poseOf(i);
    s.found[i] = 1;
    for (let k = 0; k < p.ways; k++) {
      const along =
        p.rows[4 * k] * pose[0] +
        p.rows[4 * k + 1] * pose[1] +
        p.rows[4 * k + 2] * pose[2] +
        p.rows[4 * k + 3] * pose[3] +
        noise * normal();
      s.dx[i] += along * p.axes[2 * k];
      s.dy[i] += along * p.axes[2 * k + 1];
    }
  });
  return s;
}

const pose = (t: Partial<Similarity>) => similarityToPose({ ...IDENTITY, ...t });

test('a pose and a similarity are two ways to write one thing', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -50, max: 50, noNaN: true }),
      fc.double({ min: -50, max: 50, noNaN: true }),
      fc.double({ min: -0.5, max: 0.5, noNaN: true }),
      fc.double({ min: 0.7, max: 1.4, noNaN: true }),
      (dx, dy, rotation, scale) => {
        const back = poseToSimilarity(similarityToPose({ dx, dy, rotation, scale }));
        expect(back.dx).toBeCloseTo(dx, 9);
        expect(back.rotation).toBeCloseTo(rotation, 9);
        expect(back.scale).toBeCloseTo(scale, 9);
      },
    ),
  );
});

test('enough patches to mean something', () => {
  expect(patches.length).toBeGreaterThan(80);
});

test.each([1, 2, 3])(
  'the fit finds shift, turn and size among noise, and says how sure it is, from a start a little off, seed %d',
  (seed) => {
    const truth = pose({ dx: 1.4, dy: -0.8, rotation: 0.003, scale: 1.004 });
    const fit = fitPose(
      patches,
      seen(() => truth, 0.05, seed),
      pose({ dx: 1.2, dy: -0.7, rotation: 0.0025, scale: 1.0035 }),
      ones,
      spreads,
      3,
      8,
    );
    expect(fit.members).toBeGreaterThan(0.9 * patches.length);
    for (let k = 0; k < 2; k++) expect(Math.abs(fit.pose[k] - truth[k])).toBeLessThan(0.03);
    expect(Math.abs(fit.pose[2] - truth[2])).toBeLessThan(2e-4);
    expect(Math.abs(fit.pose[3] - truth[3])).toBeLessThan(2e-4);
    const sigma = Math.sqrt(covarianceOf(fit)![0]);
    expect(sigma).toBeGreaterThan(0.001);
    expect(sigma).toBeLessThan(0.02);
  },
);

test('a third that goes its own way is given up, from a start near the rest', () => {
  const [rest, mover] = [pose({ dx: 0.3 }), pose({ dx: 6, dy: 2 })];
  const s = seen((i) => (i % 3 === 0 ? mover : rest), 0.03);
  const fit = fitPose(patches, s, pose({}), ones, spreads, 3, 8);
  expect(fit.pose[0]).toBeCloseTo(0.3, 1);
  expect(fit.members / patches.length).toBeGreaterThan(0.6);
  expect(fit.members / patches.length).toBeLessThan(0.72);
});

test('the search takes what most of the picture agrees on, wherever it starts; a favoured start wins a near tie', () => {
  const [most, few] = [pose({ dx: -4, dy: 3 }), pose({ dx: 5 })];
  const s = seen((i) => (i % 5 < 3 ? most : few), 0.03);
  const found = searchPose(patches, s, [{ pose: few, favour: 1 }], ones, spreads, 120, seededRandom(3));
  expect(found.pose[0]).toBeCloseTo(-4, 1);
  const tied = seen((i) => (i % 9 < 5 ? most : few), 0.03);
  const favoured = searchPose(
    patches,
    tied,
    [
      { pose: most, favour: 1 },
      { pose: few, favour: 1.5 },
    ],
    ones,
    spreads,
    0,
    seededRandom(3),
  );
  expect(favoured.pose[0]).toBeCloseTo(5, 1);
});

test('nothing found gives no movement and no certainty', () => {
  const fit = fitPose(patches, emptySighting(patches.length), pose({ dx: 2 }), ones, spreads);
  expect(fit.members).toBe(0);
  expect(covarianceOf(fit)).toBeNull();
});

test('distance from a pose: none on it, agreeing near it, told apart far from it', () => {
  const p = patches.find((q) => q.ways === 2) as Patch;
  const i = patches.indexOf(p);
  const at = seen(() => pose({ dx: 2 }));
  expect(misfit(p, pose({ dx: 2 }), at.dx[i], at.dy[i], 0.05)).toBeLessThan(1e-6);
  expect(agrees(p, pose({ dx: 2.05 }), at.dx[i], at.dy[i], 0.05)).toBe(true);
  expect(agrees(p, pose({ dx: 6 }), at.dx[i], at.dy[i], 0.05)).toBe(false);
  expect(strayOf(p, pose({ dx: 0 }), at.dx[i], at.dy[i])).toBeGreaterThan(1);
  expect(tellsApart(p, pose({ dx: 2 }), pose({ dx: 2.01 }), 0.05)).toBe(false);
  expect(tellsApart(p, pose({ dx: 2 }), pose({ dx: 6 }), 0.05)).toBe(true);
});

test('an edge tells nothing apart along itself', () => {
  const stripes = {
    ...SIZE,
    data: Uint8Array.from(
      { length: SIZE.width * SIZE.height },
      (_, k) => 120 + 60 * Math.sin(Math.floor(k / SIZE.width) / 4),
    ),
  };
  const level = choosePatches(stripes, 0.5).patches;
  expect(level.length).toBeGreaterThan(20);
  for (const p of level) {
    expect(p.ways).toBe(1);
    expect(tellsApart(p, pose({}), pose({ dx: 20 }), 0.05)).toBe(false);
    expect(tellsApart(p, pose({}), pose({ dy: 3 }), 0.05)).toBe(true);
  }
});

test('support counts picture area: more patches on a pose, more support; none off it', () => {
  const s = seen((i) => (i < patches.length / 2 ? pose({}) : pose({ dx: 4 })));
  const all = seen(() => pose({}));
  expect(support(patches, s, pose({}), ones, spreads)).toBeLessThan(
    0.7 * support(patches, all, pose({}), ones, spreads),
  );
  expect(support(patches, all, pose({ dx: 5 }), ones, spreads)).toBe(0);
});
