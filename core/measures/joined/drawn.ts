import { betweenPixels } from '../../base/image/between-pixels';
import type { Run, Side } from '../../report/types';
import { DistanceField } from '../../base/image/distance';
import type { PassOutlines, Stretches } from '../../movers/kept';
import { sidesOf } from '../../movers/moving';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, hypot, max, min } = Math;

/** A line from an edge of the picture to the opposite one, source pixels, and the side of it on which the first pass lies. */
export interface DrawnLine {
  points: readonly (readonly [number, number])[];
  first_side: Side;
}

/** What a line cuts off of one pass. */
export interface LineCut {
  /** 1, on the grid of the outlines, for what is cut in any frame. */
  mask: Uint8Array;
  /** Frames of the first pass. */
  runs: Run[];
}

/** What a line drawn by hand does to two passes. */
export interface LineAgainst {
  a: LineCut;
  b: LineCut;
  /** Width of its corridor at the narrowest place, source pixels; null where nobody is in. 0 where it cuts. */
  room_px: number | null;
}

const upright = (side: Side) => side === 'left' || side === 'right';

/**
 * Two passes as they lie on each other when the second starts so many frames later: who is where, for lines drawn by hand.
 */
export class LaidPasses {
  private readonly fields = new Map<string, Float32Array[]>();

  /** @param alone frames of the first that count although the second may have none there, as with a plate */
  constructor(
    private readonly outlines: PassOutlines,
    private readonly slide: number,
    private readonly alone: Run | null = null,
  ) {}

  /** Frames of the first pass that have one of the second; ends before it starts where there is none. */
  get run(): Run {
    const { count } = this.outlines;
    return this.alone ?? { start: max(0, this.slide), end: min(count.a, count.b + this.slide) - 1 };
  }

  /** The stretches of one pass that are seen, each with the frames of the first pass in which it is. */
  private *seen(pass: 'a' | 'b'): Generator<{ run: Run; stretches: Stretches }> {
    const { step } = this.outlines,
      { start, end } = this.run,
      by = pass === 'a' ? 0 : this.slide;
    for (const [n, stretches] of this.outlines[pass].entries()) {
      const run = { start: max(start, n * step + by), end: min(end, (n + 1) * step - 1 + by) };
      if (stretches && run.end >= run.start) yield { run, stretches };
    }
  }

  /** 1 for whatever one pass takes up in any frame outside some runs. */
  taken(pass: 'a' | 'b', without: readonly Run[] = []): Uint8Array {
    const { width, height } = this.outlines;
    const out = new Uint8Array(width * height);
    for (const { run, stretches } of this.seen(pass)) {
      if (isIn(run, without)) continue;
      for (let i = 0; i < stretches.length; i += 3)
        out.fill(1, stretches[i] * width + stretches[i + 1], stretches[i] * width + stretches[i + 2] + 1);
    }
    return out;
  }

  /** For each pixel the distance to either pass, over all frames outside some runs, pixels of the grid. */
  private distances(without: readonly Run[]): Float32Array[] {
    const key = JSON.stringify(without);
    const known = this.fields.get(key);
    if (known) return known;
    const { width, height } = this.outlines;
    const field = new DistanceField(width, height);
    const made = (['a', 'b'] as const).map((pass) =>
      field.of(this.taken(pass, without), new Float32Array(width * height)),
    );
    this.fields.set(key, made);
    return made;
  }

  /**
   * What a line cuts, and how wide its corridor is.
   * @param feather its soft edge, source pixels
   * @param without frames in which another line stands for it
   * @param only where it may cut, for a line that was measured to cut nobody elsewhere; everywhere when left out
   */
  against(
    line: DrawnLine,
    feather: number,
    without: readonly Run[] = [],
    only: readonly Run[] | null = null,
  ): LineAgainst {
    const { width, height, factor } = this.outlines;
    const points = line.points.map(([x, y]): [number, number] => [x / factor, y / factor]);
    const sides = sidesOf({ points, upright: upright(line.first_side) }, width, height);
    const soft = feather / factor / 2;
    const near = soft > 0 ? this.withinOf(sides, soft) : null;
    const firstIs = line.first_side === 'left' || line.first_side === 'top' ? -1 : 1;
    const cut = (pass: 'a' | 'b'): LineCut => {
      const own = pass === 'a' ? firstIs : -firstIs;
      const mask = new Uint8Array(width * height);
      const runs: Run[] = [];
      for (const { run, stretches } of this.seen(pass)) {
        if (isIn(run, without) || (only && !only.some((r) => r.start <= run.end && run.start <= r.end))) continue;
        let any = false;
        for (let i = 0; i < stretches.length; i += 3)
          for (let p = stretches[i] * width + stretches[i + 1]; p <= stretches[i] * width + stretches[i + 2]; p++)
            if (sides[p] !== own || near?.[p]) {
              mask[p] = 1;
              any = true;
            }
        if (any) join(runs, run);
      }
      return { mask, runs };
    };
    const [a, b] = [cut('a'), cut('b')];
    const clear = this.clearance(points, without);
    const cuts = a.runs.length > 0 || b.runs.length > 0;
    // Softness alone is no cut: the corridor says how much of it there may be.
    const crossed = cuts && (soft <= 0 || this.crossed(sides, firstIs, without));
    return { a, b, room_px: crossed ? 0 : clear === null ? null : 2 * clear * factor };
  }

  private crossed(sides: Int8Array, firstIs: number, without: readonly Run[]): boolean {
    return (['a', 'b'] as const).some((pass) =>
      this.taken(pass, without).some((t, i) => t && sides[i] !== (pass === 'a' ? firstIs : -firstIs)),
    );
  }

  private withinOf(sides: Int8Array, reach: number): Uint8Array {
    const { width, height } = this.outlines;
    const line = Uint8Array.from(sides, (s) => (s === 0 ? 1 : 0));
    // A line between pixels lies on none of them.
    for (let i = 0; i < sides.length; i++) {
      if (i % width && sides[i] !== sides[i - 1]) line[i] = 1;
      if (i >= width && sides[i] !== sides[i - width]) line[i] = 1;
    }
    const away = new DistanceField(width, height).of(line, new Float32Array(sides.length));
    return Uint8Array.from(away, (d) => (d < reach ? 1 : 0));
  }

  /** The smallest distance from a line to anybody, pixels of the grid; null where nobody is in. */
  private clearance(points: readonly [number, number][], without: readonly Run[]): number | null {
    const { width, height } = this.outlines;
    let least = Infinity;
    for (const field of this.distances(without)) {
      // A pass with nobody in it is infinitely far from everywhere.
      if (field[0] === Infinity) continue;
      for (let k = 0; k + 1 < points.length; k++) {
        const [ax, ay] = points[k],
          [bx, by] = points[k + 1];
        const steps = max(1, ceil(2 * hypot(bx - ax, by - ay)));
        for (let s = 0; s <= steps; s++) {
          const x = ax + ((bx - ax) * s) / steps - 0.5,
            y = ay + ((by - ay) * s) / steps - 0.5;
          least = min(
            least,
            betweenPixels(field, width, height, min(width - 1, max(0, x)), min(height - 1, max(0, y))),
          );
        }
      }
    }
    return least === Infinity ? null : max(0, least - 0.5);
  }

  /**
   * Where a point of a line goes when it is let go of: into the corridor, when that is near.
   * @param reach how far it may go for that, source pixels
   * @param without frames that need not be served
   */
  snapped(line: DrawnLine, index: number, reach: number, without: readonly Run[] = []): [number, number] {
    const { width, height, factor } = this.outlines;
    const points = line.points.map(([x, y]): [number, number] => [x / factor, y / factor]);
    const [x, y] = points[index];
    const along = upright(line.first_side);
    const isEnd = index === 0 || index === points.length - 1;
    const firstIs = line.first_side === 'left' || line.first_side === 'top' ? -1 : 1;
    const clears = (at: [number, number]): boolean => {
      const stretch = points.slice(max(0, index - 1), index + 2);
      stretch[index === 0 ? 0 : 1] = at;
      const clear = this.clearance(stretch, without);
      return clear === null || (clear >= 1 && this.parts(at, firstIs, along, without));
    };
    const far = reach / factor;
    if (clears([x, y])) return [x * factor, y * factor];
    const tries: [number, number][] = [];
    for (let v = -ceil(far); v <= far; v++)
      for (let u = -ceil(far); u <= far; u++) {
        if (isEnd && (along ? v : u) !== 0) continue;
        const at: [number, number] = [x + u, y + v];
        if (hypot(u, v) <= far && at[0] >= 0 && at[1] >= 0 && at[0] <= width && at[1] <= height) tries.push(at);
      }
    tries.sort((p, q) => hypot(p[0] - x, p[1] - y) - hypot(q[0] - x, q[1] - y));
    const best = tries.find(clears) ?? [x, y];
    return [best[0] * factor, best[1] * factor];
  }

  /** Whether a place has nobody of the second pass on the first one's side of it on its own row, and the other way round. */
  private parts([x, y]: [number, number], firstIs: number, along: boolean, without: readonly Run[]): boolean {
    const { width, height } = this.outlines;
    const row = along ? min(height - 1, max(0, floor(y))) : min(width - 1, max(0, floor(x)));
    const at = along ? x : y,
      long = along ? width : height;
    return (['a', 'b'] as const).every((pass) => {
      const field = this.distances(without)[pass === 'a' ? 0 : 1];
      const side = pass === 'a' ? firstIs : -firstIs;
      for (let k = 0; k < long; k++)
        if (field[along ? row * width + k : k * width + row] === 0 && (k + 0.5 < at ? -1 : 1) !== side) return false;
      return true;
    });
  }
}

const isIn = (run: Run, runs: readonly Run[]) => runs.some((r) => r.start <= run.start && run.end <= r.end);

function join(runs: Run[], run: Run): void {
  const last = runs.at(-1);
  if (last && run.start <= last.end + 1) last.end = max(last.end, run.end);
  else runs.push({ ...run });
}
