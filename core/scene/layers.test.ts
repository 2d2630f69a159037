import { smallSize } from '../base/image/picture';
import { seededNormal } from '../base/numeric/random';
import { SampleSums } from './sample-sums';
import { ALWAYS, type Layers, type Samples } from './samples';
import { chooseBetweenLayers } from './layers';

const SIZE = smallSize(120, 68);
const { width, height } = SIZE;
const COUNT = 72;
const NOISE = 1.2;
const PIXELS = width * height;

type Box = { x: number; y: number; w: number; h: number };
const inside = (b: Box, x: number, y: number) => x >= b.x && x < b.x + b.w && y >= b.y && y < b.y + b.h;

/** A wall: a slope of brightness with soft stripes, so that it goes on across anything that stands in front. */
const wall = (x: number, y: number) => 90 + 0.3 * x + 12 * Math.sin(x / 9) + 8 * Math.sin(y / 7);

const WALL = Float32Array.from({ length: PIXELS }, (_, i) => wall(i % width, Math.floor(i / width)));

interface Stand {
  box: Box;
  /** Value of the thing that stands there, or what it makes of the wall behind it. */
  value: (x: number, y: number) => number;
  /** Samples in which it is there. */
  when: (k: number) => boolean;
  /** How far it sways, pixels, over the samples. */
  sway?: (k: number) => number;
}

/** Samples of a wall with things in front, and the layers chosen from them. */
function choose(stands: Stand[], seed = 1, seen: (k: number) => Uint8Array | null = () => null): Layers {
  const normal = seededNormal(seed);
  const grain = Float32Array.from({ length: 1 << 16 }, () => NOISE * normal());
  const luma = Array.from({ length: COUNT }, (_, k) => {
    const out = new Uint8Array(PIXELS);
    let n = (k * 7919) & 0xffff;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        let v = WALL[i];
        for (const s of stands) {
          const off = s.sway?.(k) ?? 0;
          if (s.when(k) && inside(s.box, x - off, y)) v = s.value(x - off, y);
        }
        out[i] = Math.max(0, Math.min(255, Math.round(v + grain[(n = (n + 1) & 0xffff)])));
      }
    return out;
  });
  const grey = () => new Uint8Array(SIZE.colourWidth * SIZE.colourHeight).fill(128);
  const samples: Samples = {
    frames: luma.map((_, k) => k),
    luma,
    blue: luma.map(grey),
    red: luma.map(grey),
    seen: luma.map((_, k) => seen(k)),
    stops: luma.map(() => 0),
  };
  const same = Float32Array.from({ length: 256 }, (_, v) => v);
  const sums = new SampleSums(
    samples,
    SIZE,
    luma.map(() => same),
  );
  return chooseBetweenLayers(sums, samples.seen, width, height, new Float32Array(16).fill(NOISE), 0);
}

/** Share of a box's inner pixels whose chosen value is the wall's. */
function wallShare({ middle }: Layers, box: Box): number {
  let right = 0,
    n = 0;
  for (let y = box.y + 2; y < box.y + box.h - 2; y++)
    for (let x = box.x + 2; x < box.x + box.w - 2; x++, n++)
      if (Math.abs(middle[y * width + x] - wall(x, y)) < 4) right++;
  return right / n;
}

const box: Box = { x: 40, y: 14, w: 18, h: 38 };
const coat = (x: number, y: number) => 45 + 10 * Math.sin(x * 1.3) * Math.cos(y * 0.9);

test('an empty wall is found as it is, to a fraction of its noise', () => {
  const { middle, reach, trusted } = choose([]);
  let worst = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) worst = Math.max(worst, Math.abs(middle[i] - wall(x, y)));
  expect(worst).toBeLessThan(2.5);
  expect(Math.min(...reach)).toBeGreaterThan(NOISE);
  expect(trusted.every((t) => t === ALWAYS)).toBe(true);
});

test.each([
  [1, 0.3],
  [2, 0.5],
  [3, 0.6],
])('seed %d: what stands there for %d of the take does not become the background', (seed, share) => {
  const layers = choose([{ box, value: coat, when: (k) => k < share * COUNT }], seed);
  expect(wallShare(layers, box)).toBeGreaterThan(0.95);
});

test('it makes no odds whether somebody stood there at the start, in the middle or at the end', () => {
  for (const from of [0, 18, 36]) {
    const layers = choose([{ box, value: coat, when: (k) => k >= from && k < from + 36 }]);
    expect(wallShare(layers, box)).toBeGreaterThan(0.95);
  }
});

test('somebody who sways is told from the wall although seen for two thirds of the take', () => {
  const layers = choose([
    { box, value: coat, when: (k) => k < 0.65 * COUNT, sway: (k) => Math.round(2 * Math.sin(k / 4)) },
  ]);
  expect(wallShare(layers, box)).toBeGreaterThan(0.9);
});

test('of a lasting shadow and the lit wall the lit one is the background', () => {
  const layers = choose([{ box, value: (x, y) => 0.72 * wall(x, y), when: (k) => k < 0.55 * COUNT }]);
  expect(wallShare(layers, box)).toBeGreaterThan(0.9);
});

test('what never leaves is the background: nothing else was ever seen there', () => {
  const { middle } = choose([{ box, value: coat, when: () => true }]);
  const i = (box.y + 20) * width + box.x + 12;
  expect(Math.abs(middle[i] - coat(box.x + 12, box.y + 20))).toBeLessThan(3);
});

test('a few samples of something do not call the wall into question', () => {
  const layers = choose([{ box, value: coat, when: (k) => k >= 30 && k < 33 }]);
  expect(wallShare(layers, box)).toBe(1);
  expect(layers.trusted.every((t) => t === ALWAYS)).toBe(true);
});

test('two who stand at different times and places are each told by their own', () => {
  const other: Box = { x: 80, y: 18, w: 16, h: 32 };
  const layers = choose([
    { box, value: coat, when: (k) => k < 40 },
    { box: other, value: (x, y) => 200 + 0.2 * coat(x, y), when: (k) => k >= 34 },
  ]);
  expect(wallShare(layers, box)).toBeGreaterThan(0.95);
  expect(wallShare(layers, other)).toBeGreaterThan(0.95);
});

test('samples in which a pixel was not seen do not vote there', () => {
  const hidden = new Uint8Array(PIXELS).fill(1);
  for (let y = box.y; y < box.y + box.h; y++) hidden.fill(0, y * width + box.x, y * width + box.x + box.w);
  // It stands there whenever that place is known not to be seen.
  const there = (k: number) => k < 50;
  const layers = choose([{ box, value: coat, when: there }], 1, (k) => (there(k) ? hidden : null));
  expect(wallShare(layers, box)).toBe(1);
});

const large: Box = { x: 12, y: 6, w: 92, h: 58 };
const pattern = (x: number, y: number) => 120 + 60 * Math.sin(x / 3.1) * Math.sin(y / 2.3);

test.each([1, 2, 3])('seed %d: a detailed thing that stirs before most of the picture is told from it', (seed) => {
  const layers = choose(
    [{ box: large, value: pattern, when: (k) => k >= 10 && k < 58, sway: (k) => Math.round(4 * Math.sin(k / 2.3)) }],
    seed,
  );
  expect(wallShare(layers, large)).toBeGreaterThan(0.97);
});

test('something plain that stands still is in front when the wall is seen before it and after it', () => {
  const layers = choose([{ box, value: () => 150, when: (k) => k >= 12 && k < 60 }]);
  expect(wallShare(layers, box)).toBeGreaterThan(0.95);
});

test('what is seen of the wall only at the start is told by what lies beside it', () => {
  // It slides in and stays, plain, so that each column is left with a story of its own.
  const layers = choose([
    { box: { x: 0, y: 0, w: 40, h: height }, value: () => 76, when: (k) => k >= 14 },
    { box: { x: 40, y: 0, w: 40, h: height }, value: pattern, when: (k) => k >= 20, sway: (k) => k % 3 },
  ]);
  expect(wallShare(layers, { x: 44, y: 0, w: 32, h: height })).toBeGreaterThan(0.9);
  expect(wallShare(layers, { x: 0, y: 0, w: 40, h: height })).toBeGreaterThan(0.9);
});

test('each pixel says itself when it showed the wall, though an outline passed over all at different times', () => {
  const layers = choose([
    { box: { x: -30, y: 0, w: 30, h: height }, value: pattern, when: (k) => k >= 10, sway: (k) => 2 * (k - 10) },
  ]);
  // The middle column is hidden while the thing is over it: those spells are not trusted for its colour.
  const x = 60,
    hidden = Math.floor((10 + x / 2 + 7) * (16 / COUNT));
  for (let y = 8; y < height - 8; y += 8) {
    const trusted = layers.trusted[y * width + x];
    if (trusted !== ALWAYS) expect((trusted >> hidden) & 1).toBe(0);
  }
  expect(wallShare(layers, { x: 0, y: 0, w: width, h: height })).toBeGreaterThan(0.97);
});
