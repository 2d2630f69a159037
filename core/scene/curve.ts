import { median, quantile } from '../base/numeric/quantile';
import { stopsTable, type Transfer } from '../base/image/transfer';
import type { Samples } from './samples';
import { LightGauge } from './gauge';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max } = Math;

/** Changes of light smaller than this, stops, do not tell one curve from another. */
const TELLING = 0.05;
/** How much better a curve must do, stops between dark and bright parts. */
const BETTER = 0.0015;

/**
 * The transfer curve to undo. A file tagged with a curve of its own keeps it. Untagged files, and those tagged Rec.709
 * (which many write by habit), are sRGB or Rec.709: where the take's light changes, the right one makes dark and
 * bright parts of the picture change by the same number of stops; where it does not change, the tag stands (sRGB
 * without one) and it makes no odds.
 */
export function chooseCurve(samples: Samples, tagged: Transfer | null): Transfer {
  const usual = tagged ?? 'srgb';
  if (usual !== 'srgb' && usual !== 'bt709') return usual;
  const order = samples.stops.map((s, k) => ({ s, k })).sort((a, b) => a.s - b.s);
  if (order.length < 2 || order[order.length - 1].s - order[0].s < TELLING) return usual;
  const some = max(1, floor(order.length / 6));
  const dim = average(
    samples,
    order.slice(0, some).map((o) => o.k),
  );
  const other = usual === 'srgb' ? 'bt709' : 'srgb';
  const bright = order.slice(-some).map((o) => o.k);
  const uneven = (curve: Transfer) => unevenness(samples, dim, bright, stopsTable(curve));
  const [a, b] = [uneven(usual), uneven(other)];
  return a !== null && b !== null && b + BETTER < a ? other : usual;
}

function average(samples: Samples, which: number[]): Float32Array {
  const out = new Float32Array(samples.luma[0].length);
  for (const k of which) for (let i = 0; i < out.length; i++) out[i] += samples.luma[k][i] / which.length;
  return out;
}

/** How far apart the changes of light read on the dark and on the bright part of the picture are, stops; null when they cannot be read. */
function unevenness(samples: Samples, dim: Float32Array, bright: number[], stops: Float32Array): number | null {
  const usable = Array.from(dim).filter((v) => v > 30 && v < 215);
  if (usable.length < 500) return null;
  const low = quantile(usable, 0.35),
    high = quantile(usable, 0.65);
  if (high < 1.1 * low) return null;
  const part = (from: number, to: number) =>
    new LightGauge(
      stops,
      dim,
      Uint8Array.from(dim, (v) => (v > from && v <= to ? 1 : 0)),
      1.5,
      1,
    );
  const dark = part(30, low),
    light = part(high, 215);
  const apart = bright.flatMap((k) => {
    const a = dark.read(samples.luma[k], samples.seen[k]),
      b = light.read(samples.luma[k], samples.seen[k]);
    return a && b ? [b.stops - a.stops] : [];
  });
  return apart.length ? abs(median(apart)) : null;
}
