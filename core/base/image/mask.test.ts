import fc from 'fast-check';
import { fillDoubtful, grown, inverse, setAll, shareOf, solidMask, withoutSlips } from './mask';

const WIDTH = 48;
const HEIGHT = 27;
const PIXELS = WIDTH * HEIGHT;
const mask = (set: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: PIXELS }, (_, i) => (set(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0));
const any = fc.uint8Array({ min: 0, max: 1, minLength: PIXELS, maxLength: PIXELS });
const object = (x: number) => x >= 8 && x < 30;

describe('one solid object', () => {
  test('specks go and holes are filled, its outline stays', () => {
    const raw = mask((x, y) => {
      const hole = x > 15 && x < 19 && y > 10 && y < 14;
      const speck = x === 40 && y === 5;
      return (object(x) && !hole) || speck;
    });
    expect(solidMask(raw, WIDTH, HEIGHT)).toEqual(mask((x) => object(x)));
  });

  test('a large opening in it stays open, and so does what lies between it and the edge', () => {
    const open = (x: number, y: number) => x > 10 && x < 27 && y > 5 && y < 18;
    const ring = solidMask(
      mask((x, y) => object(x) && !open(x, y)),
      WIDTH,
      HEIGHT,
    );
    expect(ring[11 * WIDTH + 18]).toBe(0);
    expect(ring[11 * WIDTH + 9]).toBe(1);
    expect(ring[11 * WIDTH + 2]).toBe(0);
  });

  test('two parts of like size both count, a small one beside a large one does not', () => {
    const two = solidMask(
      mask((x) => x < 12 || x > 34),
      WIDTH,
      HEIGHT,
    );
    expect([two[5 * WIDTH + 3], two[5 * WIDTH + 40]]).toEqual([1, 1]);
    const small = solidMask(
      mask((x, y) => x < 30 || (x > 40 && x < 45 && y > 10 && y < 15)),
      WIDTH,
      HEIGHT,
    );
    expect([small[5 * WIDTH + 3], small[12 * WIDTH + 42]]).toEqual([1, 0]);
  });

  test('nothing stays nothing, everything stays everything, and doing it twice changes little', () => {
    expect(
      solidMask(
        mask(() => false),
        WIDTH,
        HEIGHT,
      ).includes(1),
    ).toBe(false);
    expect(
      solidMask(
        mask(() => true),
        WIDTH,
        HEIGHT,
      ).includes(0),
    ).toBe(false);
    const once = solidMask(
      mask((x) => object(x)),
      WIDTH,
      HEIGHT,
    );
    expect(solidMask(once.slice(), WIDTH, HEIGHT)).toEqual(once);
  });

  test('noise of a tenth of the pixels does not change what it is', () => {
    for (const seed of [1, 2, 3]) {
      let s = seed;
      const random = () => (s = (s * 16807) % 2147483647) / 2147483647;
      const noisy = mask((x) => (random() < 0.1 ? !object(x) : object(x)));
      const solid = solidMask(noisy, WIDTH, HEIGHT);
      const wrong = mask((x) => object(x)).reduce((n, v, i) => n + (v ^ solid[i]), 0);
      expect(wrong).toBeLessThan(0.02 * PIXELS);
    }
  });
});

test('small doubtful openings are closed, sure ones and large ones are not', () => {
  const hole = (x: number, y: number) => x > 20 && x < 23 && y > 10 && y < 13;
  const doubtful = mask((x) => x > 18 && x < 26);
  const closed = mask((x, y) => !hole(x, y));
  fillDoubtful(closed, doubtful, WIDTH, HEIGHT);
  expect(closed.includes(0)).toBe(false);
  const sure = mask((x, y) => !hole(x, y));
  fillDoubtful(sure, new Uint8Array(PIXELS), WIDTH, HEIGHT);
  expect(sure).toEqual(mask((x, y) => !hole(x, y)));
  const large = mask((x) => !(x > 18 && x < 26));
  fillDoubtful(large, doubtful, WIDTH, HEIGHT);
  expect(large).toEqual(mask((x) => !(x > 18 && x < 26)));
});

test('growing sets what lies within reach across and down, as counted plainly', () => {
  fc.assert(
    fc.property(any, fc.integer({ min: 0, max: 4 }), (given, reach) => {
      const out = grown(given, WIDTH, HEIGHT, reach);
      for (let y = 0, i = 0; y < HEIGHT; y++)
        for (let x = 0; x < WIDTH; x++, i++) {
          let near = 0;
          for (let v = Math.max(0, y - reach); v <= Math.min(HEIGHT - 1, y + reach) && !near; v++)
            for (let u = Math.max(0, x - reach); u <= Math.min(WIDTH - 1, x + reach); u++) near |= given[v * WIDTH + u];
          if (out[i] !== near) throw new Error(`${x} ${y}: ${out[i]} instead of ${near}`);
        }
    }),
    { numRuns: 30 },
  );
});

test('the share of set pixels is counted right, wherever the mask lies in memory', () => {
  fc.assert(
    fc.property(fc.uint8Array({ min: 0, max: 1, minLength: 1, maxLength: 3000 }), fc.nat({ max: 7 }), (given, off) => {
      const held = new Uint8Array(given.length + off);
      held.set(given, off);
      const share = given.reduce((n, v) => n + v, 0) / given.length;
      expect(shareOf(held.subarray(off))).toBeCloseTo(share, 12);
    }),
  );
});

test('inverse and setting by number', () => {
  fc.assert(
    fc.property(any, (given) => {
      expect(inverse(inverse(given))).toEqual(given);
      expect(shareOf(given) + shareOf(inverse(given))).toBeCloseTo(1, 12);
    }),
    { numRuns: 20 },
  );
  const out = new Uint8Array(6);
  setAll(out, Int32Array.from([1, 4]));
  expect(Array.from(out)).toEqual([0, 1, 0, 0, 1, 0]);
});

describe('one frame astray', () => {
  const at = (x: number) => mask((u) => u < x);

  test('is what its neighbours say', () => {
    const frames = [at(20), at(21), at(44), at(22), at(23)];
    const out = withoutSlips(frames);
    expect(out[2]).toEqual(at(22));
    for (const k of [0, 1, 3, 4]) expect(out[k]).toEqual(frames[k]);
  });

  test('is left alone where the cover goes on growing, at the ends, and where the neighbours do not agree', () => {
    for (const frames of [
      [at(10), at(14), at(18), at(22)],
      [at(40), at(10), at(11)],
      [at(4), at(40), at(20)],
      [at(10)],
      [],
    ])
      expect(withoutSlips(frames)).toEqual(frames);
  });
});
