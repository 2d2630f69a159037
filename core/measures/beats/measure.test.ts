import { seededNormal } from '../../base/numeric/random';
import { motionBeats } from './measure';
import { LightBeats } from './light-beats';
import { differenceNoise, paceBetween, type Pace } from '../../movers/pace';
import { onsetsOf } from './sound-beats';

const grid = { width: 480, height: 270 };
const box = { x: 200, y: 100, width: 40, height: 60 };
/** Steps of something that moves by so many pixels of the grid a frame. */
const steps = (...xs: (readonly [number, number])[]): Pace[] =>
  xs.map(([dx, dy]) =>
    dx || dy ? { dx, dy, box, changed: 800, moved: null } : { dx: 0, dy: 0, box: null, changed: 0, moved: null },
  );
const times = (n: number, x: number, y = 0) => Array.from({ length: n }, (): [number, number] => [x, y]);
const beats = (...xs: (readonly [number, number])[]) =>
  motionBeats({ paces: steps(...xs), fps: 25, factor: 2, width: 960, grid }).map((b) => `${b.kind} ${b.frame}`);
const slower = (from: number, n: number) =>
  Array.from({ length: n }, (_, k): [number, number] => [from * (1 - (k + 1) / (n + 1)), 0]);

test('somebody begins, turns and comes to rest', () => {
  expect(beats(...times(20, 0), ...times(20, 4), ...times(20, -4), ...slower(-4, 12), ...times(20, 0))).toEqual([
    'starts 20',
    'turns 40',
    'stops 72',
  ]);
});

test('a sudden stop is a strike, and no stop besides; so is a sharp change of way', () => {
  expect(beats(...times(20, 0), ...times(15, 0, 8), ...times(20, 0))).toEqual(['starts 20', 'strikes 35']);
  expect(beats(...times(30, 5, 9), ...times(30, 5, 0))).toEqual(['strikes 30']);
});

test('who is in from the start on begins nothing, and who walks out of the picture ends nothing', () => {
  const leaving = steps(...times(30, 4), ...times(30, 0)).map((p, k) =>
    k > 26 && k < 30 ? { ...p, box: { x: 460, y: 100, width: 20, height: 60 } } : p,
  );
  expect(motionBeats({ paces: leaving, fps: 25, factor: 2, width: 960, grid })).toEqual([]);
});

test('who sets off, or comes to rest, so slowly that no shift tells it does so where the first thing changes', () => {
  const creep = { dx: 0, dy: 0, box, changed: 500, moved: null };
  const paces = steps(...times(20, 0), ...times(20, 4), ...times(20, 0));
  [paces[19], paces[40]] = [creep, creep];
  const found = motionBeats({ paces, fps: 25, factor: 2, width: 960, grid }).map((b) => `${b.kind} ${b.frame}`);
  expect(found[0]).toBe('starts 19');
  expect(found[1]).toMatch(/^(stops|strikes) 4[01]$/);
});

test('mirrored, the same frames', () => {
  const xs = [...times(20, 0), ...times(20, 4, 1), ...times(20, -4, 2), ...times(20, 0)];
  expect(beats(...xs.map(([x, y]): [number, number] => [-x, y]))).toEqual(beats(...xs));
});

describe.each([1, 2, 3])('grain of seed %i', (seed) => {
  const normal = seededNormal(seed);
  const [W, H] = [160, 90];
  const inBody = (i: number) => i % W >= 60 && i % W < 80 && i >= 30 * W && i < 60 * W;
  const mover = Uint8Array.from({ length: W * H }, (_, i) => (inBody(i) ? 1 : 0));
  const scene = Float32Array.from(
    { length: W * H },
    (_, i) => 110 + 30 * Math.sin((i % W) / 7) + 25 * Math.cos(((i / W) | 0) / 5),
  );
  const skin = Float32Array.from({ length: 64 * 64 }, () => 60 + 25 * normal());
  const soft = skin.map((_, i) => [0, 1, 64, 65].reduce((s, d) => s + (skin[i + d] ?? 60), 0) / 4);
  const picture = (x: number, y: number, light?: (x: number, y: number) => number) =>
    Uint8Array.from(scene, (v, i) => {
      const [u, w] = [(i % W) - x, ((i / W) | 0) - y];
      const inside = u >= 0 && u < 20 && w >= 0 && w < 30;
      const own = inside ? soft[(Math.floor(w) + 4) * 64 + Math.floor(u) + 4] : v;
      return Math.max(0, Math.min(255, Math.round(own * (light?.(i % W, (i / W) | 0) ?? 1) + 1.5 * normal())));
    });

  test.each([
    [3, 0],
    [0, 7],
    [-12, 5],
    [24, 0],
  ])('a shift of %i, %i pixels is found to half of one', (dx, dy) => {
    const [before, now] = [picture(60, 30), picture(60 + dx, 30 + dy)];
    const found = paceBetween({
      width: W,
      height: H,
      before,
      now,
      counts: null,
      noise: differenceNoise(before, now),
      mover,
    });
    expect(Math.hypot(found.dx - dx, found.dy - dy)).toBeLessThan(0.5);
    expect(found.box!.x).toBeGreaterThanOrEqual(Math.min(60, 60 + dx) - 2);
  });

  test('nothing but grain moves nowhere', () => {
    const [before, now] = [picture(60, 30), picture(60, 30)];
    expect(
      paceBetween({ width: W, height: H, before, now, counts: null, noise: differenceNoise(before, now), mover }),
    ).toMatchObject({ dx: 0, dy: 0, box: null });
  });

  test('a lamp that comes on is a step of light on its frame; somebody who walks through is none', () => {
    const light = new LightBeats(W, H, 'srgb');
    for (let f = 0; f < 40; f++)
      light.frame(picture(5 + 3 * f, 30, (x, y) => (f >= 21 && x > 100 && x < 150 && y < 25 ? 1.2 : 1)));
    const found = light.beats(4);
    expect(found.map((b) => [b.kind, b.frame])).toEqual([['light', 21]]);
    expect(Math.abs(found[0].x! - 400)).toBeLessThan(60);
  });

  test('a clap is heard to the frame, a steady hum is not', () => {
    const rate = 16000;
    const hum = Float32Array.from({ length: rate * 2 }, (_, i) => 0.02 * Math.sin(i / 9) + 0.004 * normal());
    expect(onsetsOf(hum, rate)).toEqual([]);
    for (let i = 0; i < 1600; i++) hum[20000 + i] += 0.4 * normal() * Math.exp(-i / 500);
    const heard = onsetsOf(hum, rate);
    expect(heard).toHaveLength(1);
    expect(Math.abs(heard[0].time_s - 1.25)).toBeLessThan(0.004);
    expect(heard[0].over_db).toBeGreaterThan(12);
  });
});

test('who is stopped short and springs back a little has been struck, and has not turned', () => {
  const [start, strike, ...more] = beats(...times(20, 0), ...times(15, 20), ...times(3, -3), ...times(20, 0));
  expect([start, more]).toEqual(['starts 20', []]);
  expect(strike).toMatch(/^strikes 3[45]$/);
  expect(beats(...times(20, 0), ...times(15, 8), ...times(15, -8), ...times(20, 0))).toContain('turns 35');
});

test('whoever still comes in over an edge is not struck there', () => {
  const coming = (gap: number) =>
    steps(...times(20, 0), ...times(6 + gap, 5, 9), ...times(20, 5, 0)).map((p, k) =>
      k >= 20 && k < 26 ? { ...p, box: { x: 0, y: 60, width: 40, height: 80 } } : p,
    );
  const found = (gap: number) =>
    motionBeats({ paces: coming(gap), fps: 25, factor: 2, width: 960, grid }).map((b) => b.kind);
  expect(found(2)).toEqual([]);
  expect(found(14)).toEqual(['strikes']);
});

test('a step of a single frame that was read wrongly is no beat, and hides none', () => {
  const way = [...times(20, 0), ...times(15, 8), ...times(20, 0)];
  const wrong = way.map((p, k): [number, number] => (k === 30 ? [60, 45] : (p as [number, number])));
  expect(beats(...wrong)).toEqual(beats(...way));
  expect(beats(...way)).toEqual(['starts 20', 'strikes 35']);
});

describe('what moves among other changes', () => {
  /** A ball that is rolled against a wall at frame 50, rolls back, rests for a moment at 90 and comes again; the hand shakes. */
  const ball = (noise: (f: number) => Partial<Pace> | null = () => ({})) =>
    Array.from({ length: 130 }, (_, f): Pace | null => {
      const v = f < 10 ? 0 : f < 50 ? 2 + (f - 10) / 8 : (f - 90) / 6;
      const x = f < 50 ? 100 + (f - 10) * 4 : 260 - (f - 50) + Math.max(0, f - 90);
      const place = { x: Math.round(x), y: 100, width: 24, height: 24 };
      const moved = Math.abs(v) < 0.5 ? null : { box: place, changed: 300 };
      const own = noise(f);
      // All that changes lies all over the picture: a camera in the hand.
      const all = { x: 2, y: 2, width: 476, height: 266 };
      return own && { dx: Math.abs(v) < 0.5 ? 0 : v, dy: 0, box: all, changed: 900, moved, ...own };
    });
  const read = (paces: (Pace | null)[]) =>
    motionBeats({ paces, fps: 25, factor: 2, width: 960, grid }).filter((b) => b.kind === 'turns');

  test('is followed by itself: the wall, and the place where it comes back', () => {
    const [wall, back, ...more] = read(ball());
    expect(more).toEqual([]);
    expect(Math.abs(wall.frame - 50)).toBeLessThanOrEqual(1);
    expect(Math.abs(back.frame - 90)).toBeLessThanOrEqual(3);
    expect(wall.width).toBeLessThan(60);
  });

  test('steps of something elsewhere, and frames that are not known, are no beats', () => {
    const elsewhere = { dx: -9, dy: 4, moved: { box: { x: 400, y: 20, width: 60, height: 200 }, changed: 500 } };
    const found = read(ball((f) => (f % 13 === 4 ? elsewhere : [25, 26, 70].includes(f) ? null : {})));
    expect(found.map((b) => b.frame).filter((f) => Math.abs(f - 50) > 1 && Math.abs(f - 90) > 3)).toEqual([]);
    expect(found).toHaveLength(2);
    // Too long to be told by what lies around: nothing is said of it.
    const gap = ball((f) => (f >= 44 && f < 56 ? null : {}));
    expect(read(gap).map((b) => Math.abs(b.frame - 90) <= 3)).toEqual([true]);
  });

  test('two who move by turns are nobody’s turn', () => {
    const paces = ball().map((p, f) => {
      const here = { x: 60, y: 40, width: 30, height: 80 },
        there = { x: 360, y: 60, width: 30, height: 80 };
      const first = Math.floor(f / 6) % 2 === 0;
      return p && { ...p, dx: first ? 3 : -3, moved: { box: first ? here : there, changed: 500 } };
    });
    expect(read(paces)).toEqual([]);
  });
});

describe('what falls and crumples where it lands', () => {
  /** Clothes that fall to frame 30 and lie flat at 34: their foot stands still first. */
  const fall = (after: (Pace | null)[]) => [
    ...Array.from({ length: 20 }, (): Pace => ({ dx: 0, dy: 0, box: null, changed: 0, moved: null })),
    ...Array.from({ length: 10 }, (_, k): Pace => {
      const around = { x: 200, y: 20 + (k * k) / 2, width: 50, height: 100 + k };
      return { dx: 0, dy: k + 1, box: around, changed: 900, moved: { box: around, changed: 750 } };
    }),
    ...after,
    ...Array.from({ length: 20 }, (): Pace => ({ dx: 0, dy: 0, box: null, changed: 0, moved: null })),
  ];
  const left = (top: number, told: number, dy: number): Pace => {
    const around = { x: 200, y: top, width: 50, height: 160 - top };
    return { dx: 0, dy, box: around, changed: 900, moved: told ? { box: around, changed: told } : null };
  };
  const struck = (paces: (Pace | null)[]) =>
    motionBeats({ paces, fps: 25, factor: 2, width: 960, grid }).flatMap((b) => (b.kind === 'strikes' ? b.frame : []));

  test('struck when its foot stood still, and not when the last of it lay', () => {
    expect(struck(fall([left(80, 500, 19), left(100, 150, 2), left(125, 0, 0), left(145, 300, 2)]))).toEqual([30]);
    expect(struck(fall([left(80, 500, 19), left(100, 0, 0), left(125, 100, 2), left(145, 500, 6)]))).toEqual([30]);
  });
  test('what changes for a frame far beyond their front is not where it stops', () => {
    const paces = fall([]);
    const far = paces[25]!;
    paces[25] = { ...far, box: { ...far.box!, height: far.box!.height + 90 } };
    expect(struck(paces)).toEqual([30]);
  });
  test('what stops at once struck there', () => expect(struck(fall([]))).toEqual([30]));
});
