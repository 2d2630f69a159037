import { median, quantile } from '../../base/numeric/quantile';
import type { CellMarks } from '../../base/image/cell-marks';
import type { DetailMeter } from './detail-meter';

/** How much detail of a take each cell of a grid holds where nobody stands in it. */
export interface CellDetail {
  across: number;
  down: number;
  /** Mean square of the detail, levels squared, less the picture's own noise; NaN where nothing was ever seen free. */
  cells: Float32Array;
  /** The noise that was taken off, levels squared. */
  noise: number;
}

/** So many frames say enough. */
const LOOKS = 24;
/** Share of the cells that are taken to hold nothing but noise. */
const BLANK = 0.06;

/**
 * The middle of each cell's detail over frames in which it is free: `occupied` marks those that are not; without it
 * all are.
 */
export function freeDetail(meter: DetailMeter, occupied: CellMarks | null = null): CellDetail {
  const { across, down, count } = meter;
  const cells = new Float32Array(across * down).fill(NaN);
  const step = Math.max(1, Math.floor(count / LOOKS));
  const looks = Array.from({ length: Math.ceil(count / step) }, (_, k) => {
    const detail = meter.read(k * step, true);
    return { detail, ground: quantile(detail, BLANK), taken: occupied?.read(k * step) };
  });
  for (let c = 0; c < cells.length; c++) {
    const seen = looks.flatMap(({ detail, ground, taken }) => (taken?.[c] ? [] : [detail[c] - ground]));
    if (seen.length) cells[c] = median(seen);
  }
  return { across, down, cells, noise: median(looks.map((l) => l.ground)) };
}

/**
 * Share of fine detail that the softer of plate and take has lost against the other, per cent, and which it is. Cells
 * that hold too little detail, or were never free, are not asked; null when too few are left.
 */
export function compareDetail(
  plate: CellDetail,
  take: CellDetail,
): { loss_pct: number; softer: 'plate' | 'take' } | null {
  if (plate.across !== take.across || plate.down !== take.down) return null;
  const ratios: number[] = [];
  take.cells.forEach((other, c) => {
    const own = plate.cells[c];
    if (Number.isNaN(own) || Number.isNaN(other)) return;
    if (Math.max(own, other) > 4 * plate.noise + 4) ratios.push(Math.sqrt(Math.max(0, own) / Math.max(1e-6, other)));
  });
  if (ratios.length < 4) return null;
  const ratio = median(ratios);
  return ratio < 1
    ? { loss_pct: 100 * (1 - ratio), softer: 'plate' }
    : { loss_pct: 100 * (1 - 1 / ratio), softer: 'take' };
}
