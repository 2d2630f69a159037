import { sigmaOf } from '../../base/numeric/robust';
import { addressOf as at, Kernels } from '../../base/kernels/kernels';
import { median } from '../../base/numeric/quantile';
import type { PictureStack } from '../../base/image/stack';
import { CellMarks } from '../../base/image/cell-marks';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, max, min, round } = Math;

/** A cell is covered when its mean differs by so many levels, or so many times its own spread, from what it usually is. */
const LEAST_LEVELS = 7;
const SPREADS = 5;
/** Light of a whole picture may differ by this factor from the usual. */
const MOST_GAIN = 1.6;
/** Frames looked at to tell what is usual. */
const LOOKS = 60;

/**
 * For each frame the cells of a grid over the picture in which something else stands than usually: their mean says so,
 * which a lens out of focus leaves alone. A first idea, before anybody is told from the background.
 */
export function coveredCells(stack: PictureStack, across: number, down: number): CellMarks {
  const count = across * down;
  const mean = cellMeans(stack.size.width, stack.size.height, across, down);
  const step = max(1, floor(stack.count / LOOKS));
  const some = Array.from({ length: ceil(stack.count / step) }, (_, k) => mean(stack.read(k * step).luma).slice());
  const usual = Float32Array.from({ length: count }, (_, c) => median(some.map((m) => m[c])));
  const bright = [...usual.keys()].filter((c) => usual[c] > 16);
  const gainOf = (m: Float32Array) => {
    const gain = bright.length ? median(bright.map((c) => m[c] / usual[c])) : 1;
    return max(1 / MOST_GAIN, min(MOST_GAIN, gain));
  };
  const gains = some.map(gainOf);
  const spread = Float32Array.from({ length: count }, (_, c) =>
    sigmaOf(some.map((m, k) => abs(m[c] / gains[k] - usual[c]))),
  );
  const marks = new Uint8Array(count);
  return new CellMarks(stack.count, count, (f) => {
    const m = mean(stack.read(f).luma),
      gain = gainOf(m);
    for (let c = 0; c < count; c++)
      marks[c] = abs(m[c] / gain - usual[c]) > max(LEAST_LEVELS, SPREADS * spread[c]) ? 1 : 0;
    return marks;
  });
}

/** Means of the cells of a grid laid over pictures of one size. What is given is overwritten by the next. */
function cellMeans(width: number, height: number, across: number, down: number) {
  const { kernels, arrays } = Kernels.with({
    luma: ['bytes', width * height],
    columns: ['words', across + 1],
    rows: ['words', down + 1],
    sums: ['bytes', 2 * (width + 16)],
    out: ['floats', across * down],
  });
  // Each cell's own pixels, as the first of its columns and rows and the first of the next.
  arrays.columns.forEach((_, c) => (arrays.columns[c] = ceil((c * width) / across)));
  arrays.rows.forEach((_, r) => (arrays.rows[r] = ceil((r * height) / down)));
  const { luma, columns, rows, sums, out } = arrays;
  return (picture: Uint8Array): Float32Array => {
    luma.set(picture);
    kernels.run.meansOfCells({
      luma: at(luma),
      width,
      columns: at(columns),
      rows: at(rows),
      across,
      down,
      sums: at(sums),
      out: at(out),
    });
    return out;
  };
}

/** A cell's mean agrees within so many levels, or this share of how far the cells round it lie apart. */
const AGREES = 2.5;
const BLURRED = 0.3;
/** So many gains are tried, each as one cell has it. */
const GAINS = 40;

/**
 * Share of a grid's cells whose mean is the background's, but for the light: a lens out of focus leaves it alone, or
 * mixes it with the cells round about; whoever stands before the background does not.
 */
export function shareOfBackground(
  { luma, width, height }: { luma: ArrayLike<number>; width: number; height: number },
  across: number,
  down: number,
): (picture: Uint8Array) => number {
  const mean = cellMeans(width, height, across, down);
  const usual = mean(Uint8Array.from(luma, round)).slice();
  const slack = usual.map((v, c) => {
    const x = c % across,
      y = (c - x) / across;
    let most = 0;
    for (let j = max(0, y - 1); j <= min(down - 1, y + 1); j++)
      for (let i = max(0, x - 1); i <= min(across - 1, x + 1); i++) most = max(most, abs(usual[j * across + i] - v));
    return max(AGREES, BLURRED * most);
  });
  const bright = [...usual.keys()].filter((c) => usual[c] > 16);
  const tried = bright.filter((_, k) => k % max(1, floor(bright.length / GAINS)) === 0);
  return (picture) => {
    const own = mean(picture);
    const agreeing = (gain: number) =>
      bright.reduce((n, c) => n + (abs(own[c] - gain * usual[c]) <= slack[c] ? 1 : 0), 0);
    const gains = tried.map((c) => own[c] / usual[c]).filter((g) => g > 1 / MOST_GAIN && g < MOST_GAIN);
    return bright.length ? max(0, ...gains.map(agreeing)) / bright.length : 1;
  };
}
