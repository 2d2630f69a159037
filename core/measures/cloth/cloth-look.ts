// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, log, max, min } = Math;

/** Colours are told apart in so many steps a channel. */
const STEPS = 12;
const BINS = STEPS ** 3;
/** A colour is like the one that was pointed at up to so far from it, levels. */
const ALIKE = 26;
/** A difference in brightness counts so much of one in colour. */
const FOLDS = 0.4;
/** What was never seen is as likely as so many pixels of everything. */
const PRIOR = 0.02;

/** How often each colour is seen. */
export class Look {
  private readonly counts = new Float64Array(BINS);
  total = 0;

  /** Adds a pixel, spread over the steps next to its own. */
  add(red: number, green: number, blue: number, weight = 1): void {
    this.counts[binOf(red, green, blue)] += weight;
    this.total += weight;
  }

  /** The same with what lies next to each colour counted too, so that grain and light make no difference. */
  spread(): Look {
    const out = new Look();
    for (let r = 0; r < STEPS; r++)
      for (let g = 0; g < STEPS; g++)
        for (let b = 0; b < STEPS; b++) {
          const n = this.counts[(r * STEPS + g) * STEPS + b];
          if (n === 0) continue;
          for (let x = max(0, r - 1); x <= min(STEPS - 1, r + 1); x++)
            for (let y = max(0, g - 1); y <= min(STEPS - 1, g + 1); y++)
              for (let z = max(0, b - 1); z <= min(STEPS - 1, b + 1); z++)
                out.counts[(x * STEPS + y) * STEPS + z] += n / 2 ** (abs(x - r) + abs(y - g) + abs(z - b));
        }
    out.total = out.counts.reduce((a, c) => a + c, 0);
    return out;
  }

  /** Share of this colour among all. */
  share(bin: number): number {
    return (this.counts[bin] + (PRIOR * this.total) / BINS) / max(1e-9, this.total * (1 + PRIOR));
  }
}

export const binOf = (red: number, green: number, blue: number): number => {
  const step = (v: number) => min(STEPS - 1, ((v * STEPS) / 256) | 0);
  return (step(red) * STEPS + step(green)) * STEPS + step(blue);
};

/** For each colour by how much it looks more like the one than like the other: above 0 the first. */
export function ratios(one: Look, other: Look): Float32Array {
  return Float32Array.from({ length: BINS }, (_, bin) => log(one.share(bin) / other.share(bin)));
}

/** How clearly two looks differ: 1 less the share of colours that both have. */
export function apartBy(one: Look, other: Look): number {
  let both = 0;
  for (let bin = 0; bin < BINS; bin++) both += min(one.share(bin), other.share(bin));
  return max(0, 1 - both);
}

/** Whether a colour is like another: folds change how bright a cloth is, and its colour little. */
export function alike(a: readonly number[], b: readonly number[]): boolean {
  const bright = ([red, green, blue]: readonly number[]) => 0.3 * red + 0.59 * green + 0.11 * blue;
  const [u, v] = [bright(a), bright(b)];
  return hypot(FOLDS * (u - v), a[0] - u - b[0] + v, a[2] - u - b[2] + v) < ALIKE;
}
