// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { exp, log2, max, min } = Math;

/**
 * Transfer curves: how a picture's code value stands for light. ITU-R BT.709, BT.2100 (PQ and HLG, scene light
 * relative to its peak) and IEC 61966-2-1 (sRGB).
 */
export type Transfer = 'srgb' | 'bt709' | 'pq' | 'hlg' | 'gamma22' | 'gamma28' | 'linear';

/** Linear light (0 to 1) for a code value (0 to 1). */
export function toLight(curve: Transfer, v: number): number {
  const x = max(0, min(1, v));
  switch (curve) {
    case 'srgb':
      return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
    case 'bt709':
      return x < 0.081 ? x / 4.5 : ((x + 0.099) / 1.099) ** (1 / 0.45);
    case 'hlg':
      return x <= 0.5 ? (x * x) / 3 : (exp((x - 0.55991073) / 0.17883277) + 0.28466892) / 12;
    case 'pq': {
      const p = x ** (1 / 78.84375);
      return (max(0, p - 0.8359375) / (18.8515625 - 18.6875 * p)) ** (1 / 0.1593017578125);
    }
    case 'gamma22':
      return x ** 2.2;
    case 'gamma28':
      return x ** 2.8;
    default:
      return x;
  }
}

/** Code value (0 to 1) for linear light (0 to 1): the inverse of `toLight`, by halving. */
export function toCode(curve: Transfer, light: number): number {
  let low = 0,
    high = 1;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (toLight(curve, middle) < light) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** log2 of linear light for each of 256 code values; -Infinity is avoided by half a level. */
export function stopsTable(curve: Transfer): Float32Array {
  return Float32Array.from({ length: 256 }, (_, v) => log2(toLight(curve, max(0.5, v) / 255)));
}

/** The curve that a file's tag names; null when it names none. */
export function taggedTransfer(tag: string | null): Transfer | null {
  switch (tag) {
    case 'bt709':
    case 'smpte170m':
    case 'bt2020-10':
    case 'bt2020-12':
    case 'iec61966-2-4':
    case 'bt1361e':
      return 'bt709';
    case 'iec61966-2-1':
      return 'srgb';
    case 'smpte2084':
      return 'pq';
    case 'arib-std-b67':
      return 'hlg';
    case 'bt470m':
      return 'gamma22';
    case 'bt470bg':
      return 'gamma28';
    case 'linear':
      return 'linear';
    default:
      return null;
  }
}
