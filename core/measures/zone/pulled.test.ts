import { judgePulled } from './judge';
import { seededNormal } from '../../base/numeric/random';
import { BODY, NONE } from '../../presence/shade';
import type { ZoneFound } from '../../report/zone-types';
import { boxOutline, insideOf } from '../../base/geometry/outline';
import { ZonePull } from './pulled';
import { few } from '../../testing/few';

const [W, H, COUNT, FPS] = [160, 90, 100, 25];
const zone = insideOf(boxOutline(60, 30, 40, 40), W, H);
const wall = (x: number, y: number) => 100 + 20 * Math.sin(x / 6) + 15 * Math.cos(y / 5);

interface What {
  seed?: number;
  /** Where the cloth's left side is in a frame; null where there is none. */
  cloth?: (f: number) => number | null;
  /** Where somebody's left side is, ten pixels wide; null where nobody is in. */
  who?: (f: number) => number | null;
  stops?: (f: number) => number;
}

/** A wall before which a cloth of 30 pixels lies and is pulled away, and somebody comes and goes. */
function watched({ seed = 1, cloth = () => null, who = () => null, stops = () => 0 }: What) {
  const normal = seededNormal(seed);
  const kinds = new Uint8Array(W * H);
  const frames = Array.from({ length: COUNT }, (_, f) => {
    const [c, w] = [cloth(f), who(f)];
    return Uint8Array.from({ length: W * H }, (_, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      const body = w !== null && x >= w && x < w + 10 && y > 20 && y < 75;
      const covered = c !== null && x >= c && x < c + 30 && y >= 40 && y < 70;
      const v = body ? 200 : covered ? 55 + 6 * Math.sin((x - c) / 2) : wall(x, y);
      return v * 2 ** (stops(f) / 2.2) + 1.5 * normal() + 0.5;
    });
  });
  const light = frames.map((_, f) => stops(f));
  const sigma = new Float32Array(W * H).fill(1.5);
  const pull = new ZonePull({ zone, count: COUNT, fps: FPS, read: (f) => frames[f], light, curve: 'srgb', sigma });
  frames.forEach((picture, f) => {
    kinds.fill(NONE);
    const [c, w] = [cloth(f), who(f)];
    for (let i = 0; i < kinds.length; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      if (w !== null && x >= w && x < w + 10 && y > 20 && y < 75) kinds[i] = BODY;
      if (c !== null && x >= c && x < c + 30 && y >= 40 && y < 70) kinds[i] = BODY;
    }
    pull.frame(f, picture, kinds);
  });
  return pull.found();
}

const pulledAt = (from: number, pace: number) => (f: number) => 65 + Math.max(0, f - from) * pace;

describe.each(few(1, [1, 2, 3]))('a cloth that is pulled out of a zone, seed %i', (seed) => {
  test('is told to two frames, in light that changes too, and nobody else touches the zone', () => {
    const pulled = watched({ seed, cloth: pulledAt(50, 4), stops: (f) => 0.2 * Math.sin(f / 30) })!;
    expect(Math.abs(pulled.start - 51)).toBeLessThanOrEqual(2);
    // Its left side passes where its right side was, 95, after seven frames and a half.
    expect(Math.abs(pulled.end - 57)).toBeLessThanOrEqual(2);
    expect(pulled.touched_runs).toEqual([]);
  });

  test('whoever pulls it may reach in; who passes before is told, and who comes back afterwards', () => {
    const puller = watched({
      seed,
      cloth: pulledAt(50, 4),
      who: (f) => (f < 42 ? null : 92 + 4 * Math.max(0, f - 50)),
    });
    expect(puller!.touched_runs).toEqual([]);
    const passes = watched({ seed, cloth: pulledAt(50, 4), who: (f) => (f < 30 ? 6 * f - 20 : null) });
    expect(passes!.touched_runs).toHaveLength(1);
    // In the zone from x = 60 to 100: frames 12 to 19.
    expect(Math.abs(passes!.touched_runs[0].start - 12)).toBeLessThanOrEqual(1);
    expect(Math.abs(passes!.touched_runs[0].end - 19)).toBeLessThanOrEqual(1);
    const after = watched({ seed, cloth: pulledAt(50, 4), who: (f) => (f > 75 && f < 85 ? 70 : null) });
    expect(after!.touched_runs).toEqual([{ start: 76, end: 84 }]);
  });
});

test('where nothing is pulled away nothing is told, and the eye is asked', () => {
  expect(watched({ cloth: () => 65 })).toBeNull();
  expect(watched({ who: (f) => f * 2 - 20 })).toBeNull();
  const none: ZoneFound = {
    ...{ entered_runs: [], first_frame: null, closest_px: null, closest_frame: null, entered: [], outside: [] },
    ...{ changes: [], pulled: null, edge: null, known_share: 1, unjudged: null, path: { share: [], gap_px: [] } },
  };
  expect(judgePulled(none, 'Pass, take 1').verdict).toBe('unjudged');
  const pull = { start: 51, end: 58, touched_runs: [] };
  expect(judgePulled({ ...none, pulled: pull }, 'Pass, take 1')).toEqual({
    verdict: 'holds',
    text: 'Pass, take 1: what lies in the zone is pulled away in frames 51 to 58; nobody else touches it',
    fix: null,
  });
  const touched = { ...pull, touched_runs: [{ start: 12, end: 19 }] };
  const said = judgePulled({ ...none, pulled: touched }, 'Pass');
  expect(said).toMatchObject({ verdict: 'workable', fix: expect.stringContaining('8 frames') });
  const long = { ...pull, touched_runs: [{ start: 1, end: 40 }] };
  expect(judgePulled({ ...none, pulled: long }, 'Pass').verdict).toBe('reshoot');
});
