import { pictureOf } from '../../base/image/picture';
import { seededNormal } from '../../base/numeric/random';
import { RandomTexture } from '../../testing/rendered-scene';
import type { HandCover } from './by-hand';
import { CoverMeter } from './measure';
import { few } from '../../testing/few';

const W = 480,
  H = 270;
const { floor, max, min, round, sin } = Math;

interface Shot {
  seed: number;
  frames: number;
  /** How far the picture's content has gone to the right, and where the block begins and ends, pixels. */
  pan?: (f: number) => number;
  block?: (f: number) => [left: number, right: number] | null;
  /** Height up to which the block leaves the picture open. */
  open?: number;
  /** Pixels that a part of the wall sways, or of most of it. */
  sway?: number;
  windy?: boolean;
  gain?: (f: number) => number;
  hand?: HandCover | null;
}

/** A textured wall with grain, before which a block of another texture passes. */
function measure({
  seed,
  frames,
  pan = () => 0,
  block = () => null,
  open = 0,
  sway = 0,
  windy = false,
  gain = () => 1,
  hand = null,
}: Shot) {
  const wall = new RandomTexture(seed, 5, 24),
    coat = new RandomTexture(seed + 9, 8, 16);
  const wide = 3 * W,
    behind = new Uint8Array(wide * H),
    front = new Uint8Array(wide * H);
  for (let y = 0, i = 0; y < H; y++) {
    for (let x = 0; x < wide; x++, i++) {
      behind[i] = max(0, min(255, round(wall.at(x, y))));
      front[i] = max(0, min(255, round(coat.at(x, y) - 55)));
    }
  }
  const normal = seededNormal(seed);
  const grain = Float32Array.from({ length: 1 << 14 }, () => 1.5 * normal());
  const meter = new CoverMeter();
  const truth: number[] = [];
  for (let f = 0; f < frames; f++) {
    const data = new Uint8Array(W * H),
      gone = round(pan(f)),
      at = block(f),
      bright = gain(f);
    let covered = 0,
      n = (f * 5003) & 0x3fff;
    for (let y = 0, i = 0; y < H; y++) {
      for (let x = 0; x < W; x++, i++) {
        const inFront = at !== null && x >= at[0] && x < at[1] && y >= open;
        if (inFront) covered++;
        const swing = sway && (windy ? x < 300 : x > 300 && y < 150) ? round(sway * sin(f * 0.9 + y * 0.05)) : 0;
        const v = inFront ? front[y * wide + (floor(x - at[0]) % wide)] : behind[y * wide + W + x - gone + swing];
        data[i] = max(0, min(255, round(bright * v + grain[(n = (n + 1) & 0x3fff)])));
      }
    }
    truth.push(covered / (W * H));
    meter.frame(pictureOf({ width: W, height: H, data }));
  }
  const { measure: found, shape } = meter.finish(
    { width: W, height: H, factorX: 1, factorY: 1, delivery: { width: W, height: H } },
    hand,
  );
  const off = found.path.cover_share
    .flatMap((s, f) => (s === null ? [] : [Math.abs(s - truth[f])]))
    .sort((a, b) => a - b);
  return { found, shape, truth, worst: off[off.length - 1], most: off[floor(0.9 * off.length)] };
}

const crossing = (f: number): [number, number] => [-640 + 28 * f, -80 + 28 * f];

test.each(few(1, [1, 2]))(
  'seed %d: a block passes a camera that stands; a change of exposure is none of it',
  (seed) => {
    const { found, worst, truth } = measure({
      seed,
      frames: 46,
      block: crossing,
      gain: (f) => 1 - 0.15 * min(1, f / 20),
    });
    expect(found).toMatchObject({
      kind: 'passing',
      reaches: { top: true, bottom: true, left: true, right: true },
      punch_in: null,
    });
    expect(worst).toBeLessThan(0.03);
    expect(Math.abs(found.enter_frame! - truth.findIndex((s) => s > 0))).toBeLessThanOrEqual(1);
    expect(Math.abs(found.first_full_frame! - truth.indexOf(1))).toBeLessThanOrEqual(1);
    expect(Math.abs(found.last_full_frame! - truth.lastIndexOf(1))).toBeLessThanOrEqual(1);
    expect(
      Math.abs(found.leave_frame! - (truth.length - 1 - [...truth].reverse().findIndex((s) => s > 0))),
    ).toBeLessThanOrEqual(1);
    expect(found.edge.speed_px_per_frame!).toBeCloseTo(28, 0);
    // A hard edge is as soft as the looking at it makes it.
    expect(found.edge.softness_px!).toBeLessThan(2);
    expect(found.mask_frames).toBe(found.leave_frame! - found.last_full_frame!);
  },
);

test.each(few(1, [11, 12]))('seed %d: a camera that shakes a little stands: the block passes and leaves', (seed) => {
  const { found, most, truth } = measure({ seed, frames: 50, block: crossing, pan: (f) => 2.4 * sin(1.3 * f) });
  expect(found.kind).toBe('passing');
  expect(most).toBeLessThan(0.03);
  expect(Math.abs(found.first_full_frame! - truth.indexOf(1))).toBeLessThanOrEqual(1);
  expect(Math.abs(found.last_full_frame! - truth.lastIndexOf(1))).toBeLessThanOrEqual(1);
  expect(
    Math.abs(found.leave_frame! - (truth.length - 1 - [...truth].reverse().findIndex((s) => s > 0))),
  ).toBeLessThanOrEqual(1);
});

test('what the block misses at the top stays open, and a punch-in below it is found', () => {
  const { found, worst } = measure({ seed: 3, frames: 46, block: crossing, open: 27 });
  expect(worst).toBeLessThan(0.03);
  expect(found.first_full_frame).toBeNull();
  expect(found.reaches).toMatchObject({ top: false, bottom: true });
  expect(found.missed[0].where).toBe('at the top');
  expect(found.punch_in!.scale).toBeGreaterThan(1.09);
  expect(found.punch_in!.scale).toBeLessThan(1.16);
});

test('most of the wall sways: none of it is the block that comes in late and covers a third', () => {
  const { found, worst, truth } = measure({
    seed: 6,
    frames: 60,
    block: (f) => (f < 36 ? null : [W - 7 * (f - 35), 2 * W]),
    sway: 2,
    windy: true,
  });
  expect(worst).toBeLessThan(0.03);
  expect(Math.abs(found.enter_frame! - truth.findIndex((s) => s > 0))).toBeLessThanOrEqual(1);
  expect(Math.max(...found.path.cover_share.map((s) => s!))).toBeCloseTo(Math.max(...truth), 1);
});

test('a part of the wall that sways is not covered, and does not keep the block from leaving', () => {
  const { found, most } = measure({ seed: 4, frames: 52, block: crossing, sway: 3 });
  expect(most).toBeLessThan(0.03);
  expect(found.leave_frame).not.toBeNull();
});

test('a camera that pans past a block: the wall is not the block; a pan past nothing covers nothing', () => {
  const { found, most } = measure({ seed: 5, frames: 46, pan: (f) => 9 * f, block: crossing });
  expect(found.kind).toBe('panning');
  expect(most).toBeLessThan(0.03);
  expect(found.first_full_frame).not.toBeNull();
  const nothing = measure({ seed: 6, frames: 30, pan: (f) => 9 * f });
  expect(nothing.found.peak_cover_share).toBeLessThan(0.05);
  expect(nothing.found).toMatchObject({ enter_frame: null, key_frames: [], mask_frames: 0 });
});

test('a block that is in when the take begins is measured from its end; one in at both ends is said to be', () => {
  const late = measure({ seed: 7, frames: 34, block: (f) => crossing(f + 14) });
  expect(late.found).toMatchObject({ kind: 'passing', free_ends: 'end', enter_frame: 0 });
  expect(late.worst).toBeLessThan(0.03);
  expect(Math.abs(late.found.first_full_frame! - late.truth.indexOf(1))).toBeLessThanOrEqual(1);
  expect(
    Math.abs(late.found.leave_frame! - (late.truth.length - 1 - [...late.truth].reverse().findIndex((s) => s > 0))),
  ).toBeLessThanOrEqual(1);
  expect(measure({ seed: 8, frames: 25, block: (f) => crossing(f + 9) }).found.free_ends).toBe('neither');
  const stops = measure({ seed: 9, frames: 46, block: (f) => crossing(min(f, 30)) });
  expect(stops.found).toMatchObject({ free_ends: 'start', leave_frame: null });
  expect(stops.worst).toBeLessThan(0.03);
});

test('a pan that ends before the block has left: full where it is, never gone, and nothing said of what cannot be known', () => {
  const { found, truth, worst } = measure({ seed: 5, frames: 31, pan: (f) => 9 * f, block: crossing });
  expect(found).toMatchObject({ kind: 'panning', free_ends: 'start', leave_frame: null, last_full_frame: null });
  expect(Math.abs(found.first_full_frame! - truth.indexOf(1))).toBeLessThanOrEqual(1);
  expect(worst).toBeLessThan(0.03);
  expect(found.path.cover_share[30]).toBeNull();
});

test('a pan that ends while the block still fills the picture: full to the end, and never gone', () => {
  const { found, truth, worst } = measure({
    seed: 15,
    frames: 40,
    pan: (f) => 9 * f,
    block: (f) => crossing(min(f, 21)),
  });
  expect(found).toMatchObject({ kind: 'panning', free_ends: 'start', leave_frame: null, last_full_frame: 39 });
  expect(Math.abs(found.first_full_frame! - truth.indexOf(1))).toBeLessThanOrEqual(1);
  expect(worst).toBeLessThan(0.03);
});

test('a pan that ends just before the block fills the picture', () => {
  const { found, truth, worst } = measure({ seed: 16, frames: 20, pan: (f) => 9 * f, block: crossing });
  expect(found).toMatchObject({ kind: 'panning', free_ends: 'start', leave_frame: null, first_full_frame: null });
  expect(worst).toBeLessThan(0.03);
  expect(truth[19]).toBeGreaterThan(0.9);
});

test('edges set by hand in six frames give the numbers, and the picture moves them to where the edge is', () => {
  const key = (frame: number, edge: 'lead' | 'trail', off: number) => {
    const at = (crossing(frame)[edge === 'lead' ? 1 : 0] + off) / W;
    return { frame, edge, from: at, to: at };
  };
  const hand: HandCover = {
    kind: 'passing',
    way: 0,
    keys: [
      key(3, 'lead', 1),
      key(12, 'lead', -1),
      key(19, 'lead', 1),
      key(23, 'trail', -1),
      key(32, 'trail', 1),
      key(39, 'trail', -1),
    ],
  };
  // The wall sways all over the upper half: by itself that is not to be told.
  const { found, worst, shape } = measure({ seed: 10, frames: 46, block: crossing, sway: 9, hand });
  expect(found.by_hand!.keys).toBe(6);
  expect(found).toMatchObject({ kind: 'passing', direction_deg: 0, reaches: { top: true, bottom: true } });
  expect(worst).toBeLessThan(0.015);
  expect(found.first_full_frame).not.toBeNull();
  expect(found.leave_frame).not.toBeNull();
  const off = shape.trail[2]
    .flatMap((v, f) => (v === null ? [] : [Math.abs(v - crossing(f)[0])]))
    .sort((a, b) => a - b);
  expect(off[floor(0.9 * off.length)]).toBeLessThan(0.01 * W);
});
