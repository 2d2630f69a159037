import { IDENTITY, type Similarity } from '../base/geometry/similarity';
import type { Background } from '../scene/background';
import type { Figure } from './figures';
import { keepLasting, measurePresence } from './measure';
import { occupancy } from '../take/occupancy';

const WIDTH = 64;
const HEIGHT = 36;
/** Source pixels for one small pixel. */
const FACTOR = 10;

/** Somebody as a box of small pixels; a shadow alone when `shade`. */
function figure(left: number, top: number, right: number, bottom: number, shade = false): Figure {
  const area = (right - left + 1) * (bottom - top + 1);
  const rows: number[] = [];
  for (let y = top; y <= bottom; y++) rows.push(y, left, right, shade ? 2 : 1);
  return {
    ...{ left, top, right, bottom, rows },
    body: shade ? 0 : area,
    shadow: shade ? area : 0,
    box: shade ? null : { left, top, right, bottom },
  };
}
const background = (restless: (x: number, y: number) => boolean = () => false) =>
  ({
    width: WIDTH,
    height: HEIGHT,
    restless: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
      restless(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0,
    ),
  }) as Background;

function measure(
  figures: (Figure[] | null)[],
  { poses = figures.map(() => IDENTITY), behind = background(), unjudged = null as string | null } = {},
) {
  const scale = { width: WIDTH * FACTOR, height: HEIGHT * FACTOR, factor: FACTOR, poses: poses as Similarity[] };
  return measurePresence(figures, behind, scale, unjudged);
}
const frames = (count: number, at: (f: number) => Figure[] | null) => Array.from({ length: count }, (_, f) => at(f));
const somebody = figure(20, 10, 29, 29);

describe('runs', () => {
  test('clear and present follow one another, to the frame', () => {
    const p = measure(frames(50, (f) => (f >= 12 && f <= 30 ? [somebody] : [])));
    expect(p.present_runs).toEqual([{ start: 12, end: 30 }]);
    expect(p.clear_runs).toEqual([
      { start: 0, end: 11 },
      { start: 31, end: 49 },
    ]);
    expect(p.shadow_runs).toEqual([]);
  });

  test('a shadow alone is a run of shadows, and somebody is in', () => {
    const shadow = figure(20, 28, 40, 33, true);
    const p = measure(frames(30, (f) => (f < 10 ? [shadow] : f < 20 ? [somebody, shadow] : [])));
    expect(p.shadow_runs).toEqual([{ start: 0, end: 9 }]);
    expect(p.present_runs).toEqual([{ start: 0, end: 19 }]);
  });

  test('frames that could not be measured are in no run, and have no numbers', () => {
    const p = measure(frames(30, (f) => (f >= 10 && f < 15 ? null : [])));
    expect(p.clear_runs).toEqual([
      { start: 0, end: 9 },
      { start: 15, end: 29 },
    ]);
    expect(p.path.area_share[12]).toBeNull();
    expect(p.path.area_share[9]).toBe(0);
  });

  test('nothing at all to measure', () => {
    const p = measure([]);
    expect([p.clear_runs, p.present_runs, p.path.area_share]).toEqual([[], [], []]);
  });
});

describe('sizes and places', () => {
  test('shares are of the picture, boxes in source pixels', () => {
    const p = measure(frames(10, () => [somebody]));
    expect(p.path.area_share[5]).toBeCloseTo(200 / (WIDTH * HEIGHT), 9);
    expect([p.path.left_px[5], p.path.top_px[5], p.path.right_px[5], p.path.bottom_px[5]]).toEqual([
      200, 100, 300, 300,
    ]);
  });

  test('two people share one box round both, and their areas add up', () => {
    const other = figure(50, 5, 53, 12);
    const p = measure(frames(10, () => [somebody, other]));
    expect([p.path.left_px[0], p.path.right_px[0], p.path.top_px[0]]).toEqual([200, 540, 50]);
    expect(p.path.area_share[0]).toBeCloseTo((200 + 32) / (WIDTH * HEIGHT), 9);
  });

  test('the box is the body’s, its shadow does not widen it', () => {
    const p = measure(frames(10, () => [somebody, figure(30, 28, 60, 33, true)]));
    expect(p.path.right_px[0]).toBe(300);
    expect(p.path.shadow_share[0]).toBeGreaterThan(0);
  });

  test('a camera that moved is taken off: boxes lie where the picture shows them', () => {
    const moved: Similarity = { ...IDENTITY, dx: 14, dy: -6 };
    const p = measure(
      frames(10, () => [somebody]),
      { poses: frames(10, () => null).map(() => moved) },
    );
    const still = measure(frames(10, () => [somebody]));
    expect(Math.abs(p.path.left_px[0]! - still.path.left_px[0]!)).toBeCloseTo(14, 6);
    expect(Math.abs(p.path.top_px[0]! - still.path.top_px[0]!)).toBeCloseTo(6, 6);
  });
});

describe('the frame’s edges', () => {
  test.each<[string, Figure]>([
    ['left', figure(0, 10, 8, 20)],
    ['right', figure(56, 10, 63, 20)],
    ['top', figure(20, 0, 30, 9)],
    ['bottom', figure(20, 26, 30, 35)],
  ])('%s is touched, the others are not', (side, touching) => {
    const p = measure(frames(20, (f) => (f > 4 && f < 12 ? [touching] : [])));
    const found = Object.entries(p.edge_runs).filter(([, runs]) => runs.length > 0);
    expect(found).toEqual([[side, [{ start: 5, end: 11 }]]]);
  });

  test('a shadow that is cut by the edge counts as much', () => {
    const p = measure(frames(20, () => [somebody, figure(25, 28, 63, 33, true)]));
    expect(p.edge_runs.right).toEqual([{ start: 0, end: 19 }]);
  });
});

describe('what does not last', () => {
  const kept = (at: (f: number) => Figure[] | null, count = 20) =>
    keepLasting(frames(count, at)).map((all) => all && all.length);

  test('a flash of one or two frames goes, three frames stay', () => {
    expect(kept((f) => (f === 9 ? [somebody] : []))).toEqual(Array(20).fill(0));
    const three = kept((f) => (f >= 8 && f <= 10 ? [somebody] : []));
    expect(three.slice(7, 12)).toEqual([0, 1, 1, 1, 0]);
  });

  test('what jumps about is many flashes', () => {
    expect(kept((f) => [figure((f * 17) % 50, 5, ((f * 17) % 50) + 4, 9)]).every((n) => n === 0)).toBe(true);
  });

  test('somebody who walks is known again from frame to frame', () => {
    expect(
      kept((f) => [figure(f, 10, f + 8, 28)])
        .slice(1, 19)
        .every((n) => n === 1),
    ).toBe(true);
  });

  test('unmeasured frames stay unmeasured, and too short a take is left as it is', () => {
    expect(kept((f) => (f === 5 ? null : []))[5]).toBeNull();
    expect(kept(() => [somebody], 2)).toEqual([1, 1]);
  });
});

describe('occupied cells', () => {
  test('are those under somebody, and those that move by themselves in every frame', () => {
    const behind = background((x) => x >= 56);
    const cells = occupancy([[somebody], []], behind, 8, 4);
    const set = [0, 1].map((f) => Array.from(cells.read(f)).flatMap((v, k) => (v ? [k] : [])));
    expect(set[1]).toEqual([7, 15, 23, 31]);
    for (const k of [10, 11, 18, 19, 26, 27]) expect(set[0]).toContain(k);
    expect(set[0]).not.toContain(0);
  });

  test('of a frame that was not measured every cell is', () => {
    expect(Array.from(occupancy([null], background(), 4, 4).read(0))).toEqual(Array(16).fill(1));
  });

  test('a leaf in a cell does not make it restless', () => {
    const behind = background((x, y) => x < 2 && y < 2);
    expect(Array.from(occupancy([[]], behind, 8, 4).read(0))).toEqual(Array(32).fill(0));
  });
});

test('restless regions are said in source pixels, with their share', () => {
  const p = measure(
    frames(10, () => []),
    { behind: background((x, y) => x >= 32 && y >= 18) },
  );
  expect(p.restless_share).toBeCloseTo(0.25, 9);
  expect(p.restless).toEqual([{ x: 320, y: 180, width: 320, height: 180 }]);
});

test('why it could not be told goes through, and then no travel is claimed', () => {
  const p = measure(
    frames(30, (f) => [figure(f, 10, f + 8, 28)]),
    { unjudged: 'It is too dark.' },
  );
  expect([p.unjudged, p.travel]).toEqual(['It is too dark.', null]);
});
