import { median, quantile } from '../../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, atan2, floor, max, min, PI, round } = Math;

/** The four ways an edge may travel, degrees. */
export type Way = 0 | 90 | 180 | 270;

/**
 * The way an object travels, from where the picture becomes covered later, in degrees; null when too little is covered.
 * Each pixel's first covered frame rises along the way: its slope across and down is the way's direction.
 */
export function travelDirection(
  masks: readonly Uint8Array[],
  from: number,
  to: number,
  width: number,
  height: number,
  late = false,
): number | null {
  let n = 0,
    sx = 0,
    sy = 0,
    st = 0,
    xx = 0,
    yy = 0,
    xt = 0,
    yt = 0,
    tt = 0;
  for (let y = 2; y < height - 2; y += 2) {
    for (let x = 2; x < width - 2; x += 2) {
      const i = y * width + x;
      let at = -1;
      if (late) {
        for (let f = to; f >= from; f--)
          if (masks[f][i]) {
            at = f;
            break;
          }
        if (at === to) continue;
      } else {
        for (let f = from; f <= to; f++)
          if (masks[f][i]) {
            at = f;
            break;
          }
        // What is covered from the start says nothing of the way.
        if (at === from) continue;
      }
      if (at < 0) continue;
      n++;
      sx += x;
      sy += y;
      st += at;
      xx += x * x;
      yy += y * y;
      xt += x * at;
      yt += y * at;
      tt += at * at;
    }
  }
  if (n < 40) return null;
  const spreadX = xx / n - (sx / n) ** 2,
    spreadY = yy / n - (sy / n) ** 2,
    spreadT = tt / n - (st / n) ** 2;
  if (spreadT < 0.2) return null;
  const gx = spreadX > 4 ? (xt / n - (sx * st) / n / n) / spreadX : 0,
    gy = spreadY > 4 ? (yt / n - (sy * st) / n / n) / spreadY : 0;
  if (gx === 0 && gy === 0) return null;
  return ((atan2(gy, gx) * 180) / PI + 360) % 360;
}

/** The nearest of the four ways. */
export function nearestWay(degrees: number): Way {
  return ((round(degrees / 90) % 4) * 90) as Way;
}

export interface EdgePair {
  lead: number | null;
  trail: number | null;
}

/**
 * Leading and trailing edge of a mask along its way, in its pixels, over a band of a share of the picture's breadth
 * about `centre`; null for an edge that is outside the picture.
 */
export function edgesOf(
  mask: Uint8Array,
  width: number,
  height: number,
  way: Way,
  centre = 0.5,
  band = 0.03,
): EdgePair {
  const vertical = way === 90 || way === 270,
    forwards = way === 0 || way === 90;
  const long = vertical ? height : width,
    broad = vertical ? width : height;
  const from = max(0, floor(broad * (centre - band))),
    to = min(broad - 1, floor(broad * (centre + band)));
  const leads: number[] = [],
    trails: number[] = [];
  for (let b = from; b <= to; b++) {
    const at = (a: number) => mask[vertical ? a * width + b : b * width + a];
    // The longest covered run of the line.
    let best = 0,
      first = -1;
    for (let a = 0; a < long;) {
      if (!at(a)) {
        a++;
        continue;
      }
      let end = a;
      while (end < long && at(end)) end++;
      if (end - a > best) {
        best = end - a;
        first = a;
      }
      a = end;
    }
    if (first < 0) continue;
    const low = first,
      high = first + best;
    leads.push(forwards ? (high >= long ? NaN : high) : low <= 0 ? NaN : low);
    trails.push(forwards ? (low <= 0 ? NaN : low) : high >= long ? NaN : high);
  }
  const middle = (values: number[]) => {
    const known = values.filter((v) => !Number.isNaN(v));
    return known.length > 0.5 * (to - from + 1) ? median(known) : null;
  };
  return { lead: middle(leads), trail: middle(trails) };
}

/** The edge's speed, pixels a frame, and how much it varies, as a share of it; from frames with known edges. */
export function edgeSpeed(path: readonly (number | null)[]): { speed: number; spread: number } | null {
  const REACH = 2;
  const steps: number[] = [];
  for (let f = REACH; f < path.length - REACH; f++) {
    const a = path[f - REACH],
      b = path[f + REACH];
    if (a !== null && b !== null) steps.push((b - a) / (2 * REACH));
  }
  if (steps.length < 2) {
    for (let f = 1; f < path.length; f++)
      if (path[f] !== null && path[f - 1] !== null) steps.push(path[f]! - path[f - 1]!);
  }
  if (steps.length === 0) return null;
  const speed = median(steps);
  return {
    speed: abs(speed),
    spread: steps.length < 4 || speed === 0 ? 0 : (quantile(steps, 0.9) - quantile(steps, 0.1)) / 2 / abs(speed),
  };
}
