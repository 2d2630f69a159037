import fc from 'fast-check';
import { seededNormal, seededRandom } from '../base/numeric/random';
import { runs } from '../testing/few';
import type { FineBackground } from './fine-background';
import { HINT, Labeller } from './labels';
import { BODY, NONE, SHADOW } from './shade';

const [W, H] = [96, 72];
const NOISE = 1.5;
const ALL = { left: 0, top: 0, right: W - 1, bottom: H - 1 };
type Box = { x: number; y: number; width: number; height: number };
const isIn = ({ x, y, width, height }: Box, i: number) => {
  const [u, v] = [i % W, Math.floor(i / W)];
  return u >= x && u < x + width && v >= y && v < y + height;
};

/** A wall of tiles in two colours, each with a level of its own. */
function wall(seed: number): FineBackground {
  const random = seededRandom(seed);
  const tiles = Array.from({ length: 12 * 9 }, () => [90 + 100 * random(), 16 * random() - 8, 16 * random() - 8]);
  const tile = (i: number) => tiles[Math.floor(Math.floor(i / W) / 8) * 12 + Math.floor((i % W) / 8)];
  const plane = (k: number) => Float32Array.from({ length: W * H }, (_, i) => tile(i)[k]);
  const sigma = new Float32Array(W * H).fill(NOISE);
  return {
    luma: plane(0),
    blue: plane(1),
    red: plane(2),
    sigma,
    colourSigma: sigma.map(() => 0.8),
    colourNoise: 0.8,
    swaying: null,
  };
}

interface Scene {
  body?: Box & { luma: number; blue: number; red: number };
  /** Share of the code values that is left in a shadow. */
  shadow?: Box & { left: number };
}

/** What a camera sees of the wall, with noise. */
function look(back: FineBackground, { body, shadow }: Scene, seed: number) {
  const normal = seededNormal(seed);
  const at = (name: 'luma' | 'blue' | 'red', i: number) => {
    const own = shadow && isIn(shadow, i) ? shadow.left * back[name][i] : back[name][i];
    return body && isIn(body, i) ? body[name] : own;
  };
  const plane = (name: 'luma' | 'blue' | 'red') => {
    const [middle, noise] = name === 'luma' ? [0, NOISE] : [128, 0.8];
    return Uint8Array.from({ length: W * H }, (_, i) =>
      Math.max(0, Math.min(255, Math.round(middle + at(name, i) + noise * normal()))),
    );
  };
  return { luma: plane('luma'), blue: plane('blue'), red: plane('red'), seen: null as Uint8Array | null };
}

function labelled(scene: Scene, seed: number): Uint8Array {
  const back = wall(seed);
  const labeller = new Labeller(back, W, H, 'srgb');
  labeller.inside.fill(HINT);
  return labeller.label(look(back, scene, seed + 1), 0, ALL).slice();
}

const overlap = (kinds: Uint8Array, kind: number, box: Box) => {
  let [both, either] = [0, 0];
  kinds.forEach((k, i) => {
    const inside = isIn(box, i);
    if (k === kind && inside) both++;
    if (k === kind || inside) either++;
  });
  return both / either;
};

const boxes = fc.record({
  x: fc.integer({ min: 6, max: 50 }),
  y: fc.integer({ min: 6, max: 30 }),
  width: fc.integer({ min: 14, max: 30 }),
  height: fc.integer({ min: 16, max: 34 }),
});
const seeds = fc.integer({ min: 1, max: 1e5 });

test('somebody in a colour of their own is found to their border, and the rest of the wall is free', () => {
  fc.assert(
    fc.property(boxes, seeds, fc.integer({ min: 20, max: 60 }), (box, seed, blue) => {
      const kinds = labelled({ body: { ...box, luma: 120, blue, red: -blue / 2 } }, seed);
      expect(overlap(kinds, BODY, box)).toBeGreaterThan(0.9);
    }),
    { numRuns: runs(40) },
  );
});

test('light that is taken evenly from a wall of many colours is a shadow, and nobody', () => {
  fc.assert(
    fc.property(boxes, seeds, fc.double({ min: 0.5, max: 0.8, noNaN: true }), (box, seed, left) => {
      const kinds = labelled({ shadow: { ...box, left } }, seed);
      expect(overlap(kinds, SHADOW, box)).toBeGreaterThan(0.6);
      expect(kinds.filter((k) => k === BODY).length).toBeLessThan(0.3 * box.width * box.height);
    }),
    { numRuns: runs(40) },
  );
});

test('an empty wall is empty, whatever its noise', () => {
  fc.assert(
    fc.property(seeds, (seed) => {
      expect(labelled({}, seed).every((k) => k === NONE)).toBe(true);
    }),
    { numRuns: runs(40) },
  );
});

test('what is not to be looked at, or not seen, is nobody; a picture in other light is the same wall', () => {
  const back = wall(3);
  const labeller = new Labeller(back, W, H, 'srgb');
  const body = { x: 20, y: 20, width: 30, height: 30, luma: 40, blue: 40, red: -20 };
  const picture = look(back, { body }, 4);
  labeller.inside.fill(0);
  expect(labeller.label(picture, 0, ALL).every((k) => k === NONE)).toBe(true);
  labeller.inside.fill(HINT);
  picture.seen = Uint8Array.from({ length: W * H }, (_, i) => (i % W < 35 ? 1 : 0));
  const half = labeller.label(picture, 0, ALL);
  expect(overlap(half, BODY, { ...body, width: 15 })).toBeGreaterThan(0.8);
  // A stop of gamma 2.4 is a factor of 1.335 in code values.
  const [luma, blue, red] = [back.luma, back.blue, back.red].map((plane) => plane.map((v) => v / 1.335));
  const dark = { ...back, luma, blue, red };
  const darker = labeller.label({ ...look(dark, {}, 5), seen: null }, -1, ALL);
  expect(darker.filter((k) => k === BODY).length).toBeLessThan(0.01 * W * H);
});
