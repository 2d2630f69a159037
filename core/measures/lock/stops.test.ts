import { seededRandom } from '../../base/numeric/random';
import { findStops, type StopInput } from './stops';
import { few } from '../../testing/few';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min, round } = Math;

const WIDTH = 160,
  HEIGHT = 90;

/** A texture of fine and coarse patches, in levels round a middle. */
function texture(seed: number, middle: number, spread: number): Float32Array {
  const random = seededRandom(seed);
  const coarse = Float32Array.from({ length: 60 * 60 }, () => random() - 0.5);
  const fine = Float32Array.from({ length: WIDTH * HEIGHT }, () => random() - 0.5);
  return fine.map((v, i) => {
    const x = i % WIDTH,
      y = (i / WIDTH) | 0;
    return middle + spread * (0.5 * v + coarse[(y >> 2) * 60 + (x >> 2)]);
  });
}

interface Shoot {
  seed: number;
  frames: number;
  /** Where whoever walks stands in a frame, by the left edge of a box of 16 x 40; null for nobody. */
  walker?: (frame: number) => number | null;
  /** By how much each pixel is lit in a frame, as a factor. */
  light?: (x: number, y: number, frame: number) => number;
  wall?: number;
  /** How far the camera has moved in a frame, whole pixels. */
  camera?: (frame: number) => number;
  dark?: boolean;
}

function shoot({ seed, frames, walker, light, wall = 60, camera = () => 0, dark }: Shoot): StopInput {
  const random = seededRandom(seed + 7);
  const back = texture(seed, 120, wall),
    coat = texture(seed + 1, dark ? 20 : 60, 50);
  const pictures = Array.from({ length: frames }, (_, f) => {
    const left = walker?.(f) ?? null;
    return Uint8Array.from(back, (_, i) => {
      const x = (i % WIDTH) - camera(f),
        y = (i / WIDTH) | 0;
      const on = left !== null && x >= left && x < left + 16 && y >= 30 && y < 70;
      const level = on ? coat[(y - 30) * WIDTH + x - left] : back[y * WIDTH + ((x + WIDTH) % WIDTH)];
      return max(0, min(255, round(level * (light?.(x, y, f) ?? 1) + 4 * (random() - 0.5))));
    });
  });
  const changes = pictures.map((p, f) =>
    f === 0 ? 0 : p.filter((v, i) => abs(v - pictures[f - 1][i]) > 8).length / p.length,
  );
  const none = new Uint8Array(0);
  return {
    pictures: {
      size: { width: WIDTH, height: HEIGHT, colourWidth: 0, colourHeight: 0, factor: 4 },
      count: frames,
      read: (f) => ({ luma: pictures[f], blue: none, red: none }),
    },
    changes,
    grain: 1.2,
    shift: (a, b) => [camera(b) - camera(a), 0],
    doubtful: new Set(),
    least: 10,
  };
}

/** Walks a pixel a frame, and has gone on by `gone` frames when the camera runs again at frame 40. */
const walks = (gone: number) => (f: number) => 20 + f + (f >= 40 ? gone : 0);

describe.each(few(1, [1, 2, 3]))('seed %i', (seed) => {
  test('whoever walks is elsewhere from one frame to the next: the camera was stopped', () => {
    expect(findStops(shoot({ seed, frames: 90, walker: walks(25) }))).toEqual([40]);
  });

  test('also where they have gone, or the camera was put down some pixels beside', () => {
    expect(findStops(shoot({ seed, frames: 90, dark: true, walker: (f) => (f < 40 ? 20 + (f >> 1) : null) }))).toEqual([
      40,
    ]);
    const camera = (f: number) => (f < 40 ? 0 : 5);
    expect(findStops(shoot({ seed, frames: 90, walker: walks(25), camera }))).toEqual([40]);
    // Whoever walks briskly changes as much within ten frames as the stop does.
    const brisk = (f: number) => 2 * f - (f >= 40 ? 60 : 0);
    expect(findStops(shoot({ seed, frames: 80, walker: brisk }))).toEqual([40]);
  });

  test('somebody who walks all through is no stop, and neither is a camera that is knocked', () => {
    expect(findStops(shoot({ seed, frames: 90, walker: walks(0) }))).toEqual([]);
    expect(findStops(shoot({ seed, frames: 90, walker: (f) => (f < 40 ? 20 : 20 + 2 * (f - 40)) }))).toEqual([]);
    expect(findStops(shoot({ seed, frames: 90, camera: (f) => (f < 40 ? 0 : 3) }))).toEqual([]);
  });

  test('light that goes on is no stop: it leaves the texture, and on a plain wall it goes one way', () => {
    const light = (x: number, _: number, f: number) => (f >= 40 && x > 60 ? 1.6 : 1);
    expect(findStops(shoot({ seed, frames: 90, light }))).toEqual([]);
    const pool = (x: number, y: number, f: number) => (f >= 40 && hypot(x - 80, y - 45) < 25 ? 1.6 : 1);
    expect(findStops(shoot({ seed, frames: 90, light: pool, wall: 0 }))).toEqual([]);
    // All of it, while somebody walks: dark and bright change by as many stops, not levels.
    const all = (_: number, __: number, f: number) => (f >= 40 ? 1.6 : 1);
    expect(findStops(shoot({ seed, frames: 90, light: all, walker: walks(0) }))).toEqual([]);
    // Whoever switches it on moves all the while, elsewhere.
    const walker = (f: number) => 100 + (f >> 2);
    const lamp = (x: number, y: number, f: number) => (f >= 40 && hypot(x - 40, y - 45) < 25 ? 1.6 : 1);
    expect(findStops(shoot({ seed, frames: 90, light: lamp, wall: 0, walker }))).toEqual([]);
  });

  test('a flash, or a picture that is broken, is none', () => {
    const flash = (x: number, _: number, f: number) => (f === 40 && x % 7 < 3 ? 0.4 : 1);
    expect(findStops(shoot({ seed, frames: 90, light: flash }))).toEqual([]);
    const input = shoot({ seed, frames: 90, walker: walks(25) });
    expect(findStops({ ...input, doubtful: new Set([43]) })).toEqual([]);
  });
});

test('a screen, where windows come and go, holds no stops', () => {
  const walker = (f: number) => (((f / 12) | 0) % 2 === 0 ? 20 + 7 * ((f / 12) | 0) : null);
  expect(findStops(shoot({ seed: 4, frames: 100, walker }))).toEqual([]);
});
