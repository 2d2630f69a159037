import fc from 'fast-check';
import { judgeCutOut, judgeDrift, judgeFigure, type FigureSummary } from './judge';
import { seededNormal } from '../../base/numeric/random';
import { blockFrames, type BlockFrame } from '../../testing/walker-frames';
import { follow } from '../../movers/follow';
import { driftOf, heightsOf, liftedRuns, nearestOf } from './hold';
import { standOut, type Coloured } from './stand-out';
import { trackOf } from '../../movers/track';

describe.each([1, 2, 3])('a textured thing that hangs before a wall, seed %i', (seed) => {
  const [W, H] = [160, 100];
  const normal = seededNormal(seed);
  const phase = 7 * seed;
  const wall = (x: number, y: number) => 110 + 22 * Math.sin(x / 5 + phase) + 18 * Math.cos(y / 7 - phase);
  const coat = (u: number, v: number) => 70 + 34 * Math.sin(u / 3.1 + 1) + 26 * Math.cos(v / 2.7 + u / 6);
  const [X, Y, RX, RY] = [80, 50, 22, 16];
  /** Where it is in a frame: shift and turn about its middle. */
  const at = (f: number) => ({
    dx: 7 * Math.sin(f / 6),
    dy: 2.5 * Math.cos(f / 4) - 2.5,
    turn: 0.12 * Math.sin(f / 6),
  });
  const frame = (f: number) => {
    const { dx, dy, turn } = at(f);
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return Uint8Array.from({ length: W * H }, (_, i) => {
      const [x, y] = [(i % W) + 0.5, Math.floor(i / W) + 0.5];
      const [p, q] = [x - X - dx, y - Y - dy];
      const [u, v] = [c * p + s * q, -s * p + c * q];
      const inside = (u / RX) ** 2 + (v / RY) ** 2 < 1;
      return Math.max(0, Math.min(255, (inside ? coat(u, v) : wall(x, y)) + 2 * normal()));
    });
  };
  const frames = Array.from({ length: 50 }, (_, f) => frame(f));
  const mask = Uint8Array.from({ length: W * H }, (_, i) => {
    const { dx, dy } = at(25);
    const [u, v] = [(i % W) + 0.5 - X - dx, Math.floor(i / W) + 0.5 - Y - dy];
    return (u / RX) ** 2 + (v / RY) ** 2 < 1 ? 1 : 0;
  });

  test('is followed to a fifth of a pixel and half a degree', () => {
    const found = follow({ width: W, height: H, count: 50, read: (f) => frames[f], mask, reference: 25 })!;
    for (let f = 0; f < 50; f++) {
      const pose = found.poses[f]!;
      expect(Math.abs(pose.dx - (at(f).dx - at(25).dx))).toBeLessThan(0.2);
      expect(Math.abs(pose.dy - (at(f).dy - at(25).dy))).toBeLessThan(0.2);
      expect(Math.abs(pose.rotation - (at(f).turn - at(25).turn))).toBeLessThan(0.009);
    }
  });

  test('what is gone is not followed, and what is too small is not either', () => {
    const gone = frames.map((p, f) => (f < 40 ? p : Uint8Array.from(p, (_, i) => wall(i % W, Math.floor(i / W)))));
    const about = { width: W, height: H, count: 50, read: (f: number) => gone[f], reference: 25 };
    const found = follow({ ...about, mask })!;
    expect(found.poses.slice(0, 40).every((p) => p !== null)).toBe(true);
    expect(found.poses.slice(40).every((p) => p === null)).toBe(true);
    expect(follow({ ...about, mask: mask.map((m, i) => (i % 97 === 0 ? m : 0)) })).toBeNull();
  });
});

test('drift is the widest way between two places, in pixels and of its size; speed and turn come with it', () => {
  const x = Array.from({ length: 100 }, (_, f) => 500 + 30 * Math.sin((2 * Math.PI * f) / 50));
  const y = x.map(() => 200);
  const turn = x.map((_, f) => (f === 10 ? null : 5 + 3 * Math.sin((2 * Math.PI * f) / 50)));
  const drift = driftOf({ x, y, turn }, { start: 0, end: 99 }, 120, 25)!;
  expect(drift.px).toBeCloseTo(60, 0);
  expect(drift.share).toBeCloseTo(0.5, 1);
  expect(drift.turn_deg).toBeCloseTo(6, 1);
  // Twice around in four seconds: 30 x 2 pi / 2 s at the fastest, a little less over a fifth of a second.
  expect(drift.speed_px_per_s).toBeGreaterThan(85);
  expect(drift.speed_px_per_s).toBeLessThan(94.5);
  expect(driftOf({ x: [null, 3], y: [null, 3], turn: [] }, { start: 0, end: 1 }, 10, 25)).toBeNull();
});

test('how far two places lie apart at most is found to half a per cent, wherever they lie', () => {
  const places = fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 500 })), {
    minLength: 2,
    maxLength: 30,
  });
  fc.assert(
    fc.property(places, (all) => {
      const most = Math.max(...all.flatMap(([a, b]) => all.map(([u, v]) => Math.hypot(u - a, v - b))));
      const path = { x: all.map((p) => p[0]), y: all.map((p) => p[1]), turn: all.map(() => null) };
      const { px } = driftOf(path, { start: 0, end: all.length - 1 }, 100, 25)!;
      expect(px).toBeLessThanOrEqual(most + 1e-6);
      expect(px).toBeGreaterThanOrEqual(0.995 * most);
    }),
  );
});

describe('off the ground', () => {
  const [W, H, FACTOR, FPS] = [160, 90, 4, 25];
  const track = (frames: BlockFrame[]) => trackOf(blockFrames(W, H, frames), FACTOR);
  const person = (x: number, foot: number, height = 40): BlockFrame => ({
    body: [{ x, y: foot - height, width: 14, height }],
  });
  const runsOf = (frames: BlockFrame[]) => {
    const own = track(frames);
    return liftedRuns(own, heightsOf(own, FPS, FACTOR), FPS);
  };
  const jump = (f: number, off: number, air: number) => {
    const u = (f - off) / air;
    return u > 0 && u < 1 ? Math.round(18 * 4 * u * (1 - u)) : 0;
  };

  test('a jump is off it from take-off to landing; walking and crouching are not', () => {
    const frames = Array.from({ length: 75 }, (_, f) => person(20 + f, 80 - jump(f, 30, 16)));
    const [run] = runsOf(frames);
    expect(Math.abs(run.start - 31)).toBeLessThanOrEqual(1);
    expect(Math.abs(run.end - 45)).toBeLessThanOrEqual(1);
    expect(runsOf(frames)).toHaveLength(1);
    expect(runsOf(Array.from({ length: 75 }, (_, f) => person(20 + f, 80)))).toEqual([]);
    // The head goes down, the feet stay.
    const crouch = Array.from({ length: 75 }, (_, f) => person(60, 80, 40 - Math.round(jump(f, 30, 16))));
    expect(runsOf(crouch)).toEqual([]);
  });

  test('one that ends at the top is, who goes behind a bench is not, who comes nearer is not', () => {
    const up = Array.from({ length: 40 }, (_, f) => person(60, 80 - jump(f, 30, 18)));
    expect(runsOf(up)).toEqual([{ start: 31, end: 39 }]);
    // Their feet are hidden for a second; their head stays where it is.
    const bench = Array.from({ length: 75 }, (_, f) =>
      f > 30 && f < 50 ? person(20 + f, 64, 24) : person(20 + f, 80, 40),
    );
    expect(runsOf(bench)).toEqual([]);
    const nearer = Array.from({ length: 100 }, (_, f) =>
      person(20 + f, 60 + Math.floor(f / 5), 40 + Math.floor(f / 8)),
    );
    expect(runsOf(nearer)).toEqual([]);
  });

  test('who is cut off at the top is not whole', () => {
    const frames = Array.from({ length: 75 }, (_, f) => person(60, 60 - 2 * jump(f, 30, 16), 50));
    for (const run of runsOf(frames))
      for (let f = run.start; f <= run.end; f++) expect(track([frames[f]])[0]!.touches).toEqual([]);
  });

  test('what some frames say is taken for those nearest to them', () => {
    const seen = [5, 9, 13].map((frame) => ({ frame, ok: frame !== 9 }));
    expect(nearestOf([{ start: 4, end: 15 }], seen)).toEqual([{ start: 4, end: 7 }, { start: 12, end: 15 }]); // prettier-ignore
    expect(nearestOf([{ start: 4, end: 15 }], [])).toEqual([]);
  });
});

describe.each([1, 2, 3])('an outline before what lies behind, seed %i', (seed) => {
  const [W, H, FACTOR] = [240, 160, 2];
  const normal = seededNormal(seed);
  const [gw, gh] = [W / FACTOR, H / FACTOR];
  const box = { left: 90, top: 40, right: 150, bottom: 120 };
  const inside = (x: number, y: number) => x >= box.left && x < box.right && y >= box.top && y < box.bottom;
  const wall = (x: number, y: number, c: number) => 90 + 10 * c + 6 * Math.sin(x / 9 + c) + 5 * Math.cos(y / 8);
  const picture = (coat: (x: number, y: number, c: number) => number | null): Coloured => ({
    ...{ width: W, height: H, most: 255 },
    data: Uint8Array.from({ length: 3 * W * H }, (_, k) => {
      const [i, c] = [Math.floor(k / 3), k % 3];
      const [x, y] = [i % W, Math.floor(i / W)];
      return (inside(x, y) ? (coat(x, y, c) ?? wall(x, y, c)) : wall(x, y, c)) + 1.5 * normal() + 0.5;
    }),
  });
  const maskOf = (on: (x: number, y: number) => boolean) =>
    Uint8Array.from({ length: gw * gh }, (_, i) =>
      on((i % gw) * FACTOR + 1, Math.floor(i / gw) * FACTOR + 1) ? 1 : 0,
    );
  const read = (coat: (x: number, y: number, c: number) => number | null, mask = maskOf(inside)) =>
    standOut({
      picture: picture(coat),
      behind: picture(() => null),
      mask,
      kinds: mask,
      gridWidth: gw,
      factor: FACTOR,
    })!;

  test('a dark coat, and one of another colour as bright, stand out all round', () => {
    expect(read(() => 40)).toEqual({ share: 1, weakest: null });
    // As bright as the wall: redder and less green.
    const bright = read((x, y, c) => wall(x, y, c) + [40, -14, 10][c]);
    expect(bright.share).toBeGreaterThan(0.97);
  });

  test('legs of the wall’s own colour are lost, and where is said', () => {
    const { share, weakest } = read((x, y, c) => (y < 80 ? 40 : wall(x, y, c)));
    // Of 280 pixels the lower half and the foot, 140, are lost.
    expect(share).toBeGreaterThan(0.4);
    expect(share).toBeLessThan(0.62);
    expect(weakest!.y_px).toBeGreaterThan(76);
  });

  test('legs that were taken for background are noticed beyond the outline', () => {
    // Nine levels off: found by nobody who looks pixel by pixel, and not empty either.
    const upper = maskOf((x, y) => inside(x, y) && y < 80);
    const { share } = read((x, y, c) => (y < 80 ? 40 : wall(x, y, c) + 9), upper);
    expect(share).toBeLessThan(0.85);
    expect(read((_, y) => (y < 80 ? 40 : null), upper).share).toBeGreaterThan(0.95);
  });

  test('who is hardly in has no outline', () => {
    expect(
      standOut({
        picture: picture(() => 40),
        behind: null,
        ...{ mask: new Uint8Array(gw * gh), kinds: new Uint8Array(gw * gh), gridWidth: gw, factor: FACTOR },
      }),
    ).toBeNull();
  });
});

describe('judged', () => {
  const figure = (more: Partial<FigureSummary>): FigureSummary => ({
    run: { start: 0, end: 99 },
    run_share: 1,
    size_px: 100,
    drift: { px: 6, share: 0.06, frame: 40, turn_deg: 1.2, speed_px_per_s: 20 },
    ...{ lifted_runs: [], clear_runs: [], outline: [], known_share: 1, unjudged: null },
    ...more,
  });
  const drifting = (share: number) =>
    figure({ drift: { px: 100 * share, share, frame: 40, turn_deg: null, speed_px_per_s: 20 } });

  test('a drift is said at the speed of the edit', () => {
    expect(judgeDrift(drifting(0.06), 10, 40)).toEqual({
      verdict: 'holds',
      text: 'it drifts by up to 6.0 px (6.0 % of its size) in frames 0 to 99; slowed to 40 %, by 8.0 px a second at most',
      fix: null,
    });
    expect(judgeDrift(drifting(0.3), 10, 100).verdict).toBe('workable');
    expect(judgeDrift(drifting(0.9), 10, 100)).toMatchObject({
      verdict: 'reshoot',
      fix: expect.stringMatching(/stand/),
    });
    expect(judgeDrift(figure({ drift: null }), 10, 100).verdict).toBe('unjudged');
    expect(judgeDrift(figure({ known_share: 0.3 }), 10, 100).verdict).toBe('unjudged');
    expect(judgeDrift(figure({ known_share: 0.8 }), 10, 100).verdict).toBe('holds');
    expect(judgeCutOut(figure({ known_share: 0.8 }), 8).verdict).toBe('unjudged');
    // A few frames of something are not what the take is of.
    expect(judgeDrift(figure({ run: { start: 32, end: 40 }, run_share: 0.09 }), 10, 100)).toMatchObject({
      verdict: 'unjudged',
      text: 'something is whole in the picture in frames 32 to 40 only',
    });
  });

  test('a jump is judged by its frames in the air, and by its outline there', () => {
    const air = { lifted_runs: [{ start: 30, end: 49 }], outline: [{ frame: 40, share: 0.66, weakest: null }] };
    expect(judgeCutOut(figure({ ...air, clear_runs: air.lifted_runs }), 8).verdict).toBe('holds');
    expect(judgeCutOut(figure(air), 8)).toMatchObject({
      verdict: 'workable',
      text: expect.stringContaining('34 % of it would have to be guessed at frame 40'),
    });
    const lost = { ...air, outline: [{ frame: 40, share: 0.3, weakest: { x_px: 10, y_px: 20 } }] };
    expect(judgeCutOut(figure(lost), 8)).toMatchObject({
      verdict: 'reshoot',
      text: expect.stringContaining('at 10, 20 px'),
    });
    expect(judgeCutOut(figure({ lifted_runs: [{ start: 30, end: 33 }] }), 8).verdict).toBe('reshoot');
    expect(judgeCutOut(figure({}), 8)).toMatchObject({
      verdict: 'reshoot',
      text: expect.stringMatching(/never off the ground/),
    });
    expect(judgeFigure(figure({ ...air, clear_runs: air.lifted_runs }), 100).verdict).toBe('holds');
    expect(judgeFigure(figure({}), 100).reasons[0].text).toMatch(/^It drifts by up to 6\.0 px .* turns by 1\.2°/);
  });
});
