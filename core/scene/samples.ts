import type { SteadyReader } from './steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, min } = Math;

/** So many frames of the take are looked at. */
const SAMPLES = 72;

/**
 * What a pixel showed: the value chosen as background, and how far values of the same thing lie from it, in levels;
 * and the spells in which it is known to have shown that, a bit each.
 */
export interface Layers {
  middle: Float32Array;
  reach: Float32Array;
  trusted: Uint16Array;
}

/** A take is divided into so many spells. */
export const SPELLS = 16;
/** Every spell. */
export const ALWAYS = (1 << SPELLS) - 1;

/** The spell in which one of so many samples lies. */
export function spellOf(sample: number, count: number): number {
  return floor(((sample + 0.5) * SPELLS) / count);
}

/** Pictures at hand for building the background, in the light of the first estimate. */
export interface Samples {
  frames: number[];
  luma: Uint8Array[];
  blue: Uint8Array[];
  red: Uint8Array[];
  seen: (Uint8Array | null)[];
  /** Light of each against the others, stops. */
  stops: number[];
}

/** A frame that lost more than this share of its fine detail is out of focus, and no background is made from it, */
const SOFT = 0.3;
/** unless fewer than this share of the frames are sharp. */
const LEAST_SHARP = 0.15;

/**
 * Reads evenly spread sharp frames of a take. Null when none has a known place.
 * @param soft share of fine detail lost in a frame
 * @param weight how much a frame counts in spreading them. @param most so many of them
 */
export function takeSamples(
  reader: SteadyReader,
  soft: (frame: number) => number = () => 0,
  weight: (frame: number) => number = () => 1,
  most = SAMPLES,
): Samples | null {
  const known = Array.from({ length: reader.count }, (_, f) => f).filter((f) => reader.displacement(f) !== null);
  const sharp = known.filter((f) => soft(f) < SOFT);
  const usable = sharp.length >= LEAST_SHARP * known.length ? sharp : known;
  const count = min(most, usable.length);
  if (count < 1) return null;
  const out: Samples = { frames: [], luma: [], blue: [], red: [], seen: [], stops: [] };
  const upTo: number[] = [];
  for (const f of usable) upTo.push((upTo.at(-1) ?? 0) + weight(f));
  const all = upTo.at(-1)!;
  let next = 0;
  for (let k = 0; k < count; k++) {
    while (next + 1 < usable.length && upTo[next] <= ((k + 0.5) * all) / count) next++;
    const f = usable[next];
    if (f === out.frames.at(-1)) continue;
    const p = reader.read(f);
    if (!p) continue;
    out.frames.push(f);
    out.luma.push(p.luma.slice());
    out.blue.push(p.blue.slice());
    out.red.push(p.red.slice());
    out.seen.push(p.seen?.slice() ?? null);
    out.stops.push(0);
  }
  return out;
}
