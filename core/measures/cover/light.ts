import type { View } from '../../base/image/panorama';

const { exp, log, round, sqrt } = Math;

/** Ratios are counted in steps of this (natural logarithm), and those within so many steps are one light. */
const BIN = 0.01;
const NEAR = 3;
const REACH = 0.35;
/**
 * So much of what is known must agree on one ratio, and its detail with the background's: plain dark cloth before a
 * plain sky is one ratio too.
 */
const LEAST_SHARE = 0.12;
const LEAST_LIKENESS = 0.5;
const DARK = 24;
const BRIGHT = 240;

/**
 * Brightness of a picture over the background's, a factor of code values, from the commonest ratio of its pixels,
 * whatever covers the rest; null when too little agrees.
 */
export function commonGain(luma: Uint8Array, { luma: behind, known }: View, width: number): number | null {
  const bins = new Uint32Array(2 * round(REACH / BIN) + 1),
    middle = (bins.length - 1) / 2;
  let total = 0;
  for (let i = 0; i < luma.length; i++) {
    if (!known[i] || behind[i] < DARK || behind[i] > BRIGHT || luma[i] > 250) continue;
    total++;
    const bin = middle + round(log(luma[i] / behind[i]) / BIN);
    if (bin >= 0 && bin < bins.length) bins[bin]++;
  }
  let best = -1,
    most = 0;
  for (let b = NEAR; b < bins.length - NEAR; b++) {
    let sum = 0;
    for (let k = -NEAR; k <= NEAR; k++) sum += bins[b + k];
    if (sum > most) {
      most = sum;
      best = b;
    }
  }
  if (best < 0 || total < 200 || most < LEAST_SHARE * total) return null;
  const gain = exp((best - middle) * BIN);
  let both = 0,
    own = 0,
    other = 0;
  const agrees = (i: number) =>
    known[i] === 1 && behind[i] > DARK && Math.abs(log(luma[i] / (gain * behind[i]))) < (NEAR + 0.5) * BIN;
  for (let i = 0; i + width < luma.length; i++) {
    if (!agrees(i)) continue;
    for (const o of [i + 1, i + width]) {
      const a = luma[o] - luma[i],
        b = gain * (behind[o] - behind[i]);
      if (!known[o]) continue;
      both += a * b;
      own += a * a;
      other += b * b;
    }
  }
  return own > 0 && other > 0 && both / sqrt(own * other) > LEAST_LIKENESS ? gain : null;
}
