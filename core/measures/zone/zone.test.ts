import fc from 'fast-check';
import { seededNormal } from '../../base/numeric/random';
import { NONE, SHADOW } from '../../presence/shade';
import { blockFrames, type BlockFrame } from '../../testing/walker-frames';
import { readEdge } from './edge';
import { ZoneLight } from './light';
import { measureZone } from './measure';
import { boxOutline, insideOf } from '../../base/geometry/outline';

const [W, H] = [160, 90];
const BOX = { x: 90, y: 20, width: 30, height: 40 };
const zone = insideOf(boxOutline(BOX.x, BOX.y, BOX.width, BOX.height), W, H);
const walker = (f: number): BlockFrame => ({ body: [{ x: 2 * f - 20, y: 30, width: 10, height: 20 }] });
const measured = (frames: BlockFrame[]) => measureZone({ ...blockFrames(W, H, frames), zone, factor: 4 });

test('who walks through a zone is in it to the frame, and how near they are is known outside it', () => {
  const found = measured(Array.from({ length: 90 }, (_, f) => walker(f)));
  // Their right side is past 90 from frame 51 on, their left side past 120 from 70 on.
  expect(found.entered_runs).toEqual([{ start: 51, end: 69 }]);
  expect(found).toMatchObject({ first_frame: 51, closest_px: 0, closest_frame: 51 });
  expect(found.entered).toEqual([expect.objectContaining({ start: 51, end: 69, what: 'body' })]);
  expect(Math.max(...found.path.share.map((s) => s ?? 0))).toBeCloseTo((10 * 20) / (30 * 40), 5);
  // At frame 40 they reach to 70: twenty pixels of the grid before it.
  expect(found.path.gap_px[40]! / 4).toBeCloseTo(20.5, 1);
  expect(found.path.gap_px[0]).toBeNull();
});

test('a shadow in a zone is called one, and nobody is told from not knowing', () => {
  const shade = { shadow: [{ x: 100, y: 30, width: 12, height: 12 }] };
  const found = measured([{}, {}, shade, shade, shade, {}, null]);
  expect(found.entered).toEqual([expect.objectContaining({ start: 2, end: 4, what: 'shadow' })]);
  expect(found.path.share).toEqual([0, 0, 0.12, 0.12, 0.12, 0, null]);
  expect(measured([{}, {}])).toMatchObject({ entered_runs: [], first_frame: null, closest_px: null, known_share: 1 });
});

test('what lies inside an outline is what any ray from it says', () => {
  const corner = fc.tuple(fc.integer({ min: -5, max: 45 }), fc.integer({ min: -5, max: 35 }));
  fc.assert(
    fc.property(fc.array(corner, { minLength: 3, maxLength: 8 }), (corners) => {
      const inside = insideOf(corners, 40, 30);
      for (let i = 0; i < inside.length; i += 7) {
        const [x, y] = [(i % 40) + 0.5, Math.floor(i / 40) + 0.5];
        // Downwards, where the sum goes along rows.
        let crossed = 0,
          on = false;
        corners.forEach(([ax, ay], k) => {
          const [bx, by] = corners[(k + 1) % corners.length];
          if (ax <= x === bx <= x) return;
          const meets = ay + ((by - ay) * (x - ax)) / (bx - ax);
          if (Math.abs(meets - y) < 1e-9) on = true;
          if (meets > y) crossed++;
        });
        if (!on) expect(inside[i]).toBe(crossed % 2);
      }
    }),
    { numRuns: 60 },
  );
});

/** Grey with a brighter window where the zone is, and grain. */
function place(step: number, grain: number, seed: number) {
  const normal = seededNormal(seed);
  const luma = Float32Array.from(zone, (z) => 90 + (z ? step : 0));
  const sigma = new Float32Array(W * H).fill(grain);
  const picture = (add: (x: number, y: number) => number) =>
    Uint8Array.from(luma, (v, i) => v + add(i % W, Math.floor(i / W)) + grain * normal() + 0.5);
  return { behind: { luma, sigma }, picture };
}

test.each([1, 2, 3])('light that falls into a part of a zone is told from grain, to the frame (seed %i)', (seed) => {
  const { behind, picture } = place(30, 2, seed);
  const light = new ZoneLight(zone, W, H, behind, 'srgb');
  const free = new Uint8Array(W * H);
  for (let f = 0; f < 60; f++) {
    const lit = f >= 25 && f < 40;
    light.frame(
      picture((x, y) => (lit && x < 106 && y < 42 ? 14 : 0)),
      0,
      free,
    );
  }
  const found = light.changes();
  expect(found).toHaveLength(1);
  expect(Math.abs(found[0].start - 25)).toBeLessThanOrEqual(1);
  expect(Math.abs(found[0].end - 39)).toBeLessThanOrEqual(1);
  // 14 levels on 120 are about a quarter of a stop.
  expect(found[0].stops).toBeGreaterThan(0.15);
  expect(found[0].stops).toBeLessThan(0.4);
});

test('light of the whole picture, and what lies under somebody, is no light of the zone', () => {
  const { behind, picture } = place(30, 2, 4);
  const light = new ZoneLight(zone, W, H, behind, 'srgb');
  const somebody = new Uint8Array(W * H).fill(NONE);
  for (let y = 20; y < 60; y++) somebody.fill(SHADOW, y * W + 90, y * W + 105);
  for (let f = 0; f < 40; f++) {
    const dark = f >= 20 && f < 30;
    light.frame(
      picture((x) => (dark && x < 105 ? -20 : 0)),
      0,
      dark ? somebody : new Uint8Array(W * H),
    );
  }
  light.frame(null, null, null);
  expect(light.changes()).toEqual([]);
});

test('an edge is read where it steps out of the grain, and what it lacks is said', () => {
  const outline = boxOutline(BOX.x + 1, BOX.y - 1, BOX.width, BOX.height);
  const clear = readEdge(outline, place(30, 3, 1).behind, W, H, 4)!;
  expect(clear).toMatchObject({ readable_share: 1, lift_stops: 0 });
  const faint = readEdge(outline, place(1.5, 3, 1).behind, W, H, 4)!;
  expect(faint.readable_share).toBeLessThan(0.2);
  // A step of half the grain must be lit to four times as much to be twice the grain.
  expect(faint.lift_stops).toBeGreaterThan(1.6);
  expect(faint.lift_stops).toBeLessThan(2.6);
  expect(readEdge(boxOutline(0, 0, W, H), place(30, 3, 1).behind, W, H, 4)).toBeNull();
});
