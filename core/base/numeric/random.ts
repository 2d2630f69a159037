// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { imul, sqrt, log, cos, PI } = Math;

/** A repeatable stream of numbers in [0, 1) from a seed (mulberry32, Tommy Ettinger, public domain). */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = imul(t ^ (t >>> 15), t | 1);
    t ^= t + imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A repeatable stream of standard normal numbers (Box and Muller 1958). */
export function seededNormal(seed: number): () => number {
  const random = seededRandom(seed);
  return () => sqrt(-2 * log(1 - random())) * cos(2 * PI * random());
}
