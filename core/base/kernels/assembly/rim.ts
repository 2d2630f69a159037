/** Somebody's border, by how much of each pixel is theirs; see core/presence/labels.ts for the model. */
import { binOf, codeOf } from './label-sums';

/**
 * Steps from each of somebody's pixels to the nearest that is not theirs, sides and corners, up to `most`; 0 where nobody
 * is. The picture's edge is no border.
 */
export function depthsOfBody(
  kind: usize,
  most: i32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  depth: usize,
): void {
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const i = usize(y * width + x);
      let d = 0;
      if (load<u8>(kind + i) === 1) {
        d = most;
        if (x > left) d = min(d, 1 + i32(load<u8>(depth + i - 1)));
        if (y > top) {
          const up = depth + i - width;
          d = min(d, 1 + i32(load<u8>(up)));
          if (x > left) d = min(d, 1 + i32(load<u8>(up - 1)));
          if (x < right) d = min(d, 1 + i32(load<u8>(up + 1)));
        }
      }
      store<u8>(depth + i, u8(d));
    }
  }
  for (let y = bottom; y >= top; y--) {
    for (let x = right; x >= left; x--) {
      const i = usize(y * width + x);
      let d = i32(load<u8>(depth + i));
      if (!d) continue;
      if (x < right) d = min(d, 1 + i32(load<u8>(depth + i + 1)));
      if (y < bottom) {
        const low = depth + i + width;
        d = min(d, 1 + i32(load<u8>(low)));
        if (x < right) d = min(d, 1 + i32(load<u8>(low + 1)));
        if (x > left) d = min(d, 1 + i32(load<u8>(low - 1)));
      }
      store<u8>(depth + i, u8(d));
    }
  }
}

/**
 * Decides anew, along somebody's border, by how much of each pixel is theirs: it is a mixture of what lies behind it (lit or
 * in the shadow close by) and of one of their pixels well inside, the one that explains it best. What is half theirs or more
 * is theirs. @param rim pixels to both sides that are looked at @param reach how far off theirs are looked for
 */
export function partOfPixels(
  light: usize,
  lightBlue: usize,
  lightRed: usize,
  over: usize,
  backLuma: usize,
  backBlue: usize,
  backRed: usize,
  backStops: usize,
  sharpness: usize,
  colourSharpness: usize,
  stops: usize,
  kind: usize,
  depth: usize,
  rim: i32,
  reach: i32,
  distance: f32,
  unlike: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  out: usize,
): void {
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const k = usize(y * width + x),
        i = k << 2;
      const own = load<u8>(kind + k);
      store<u8>(out + k, own);
      const deep = i32(load<u8>(depth + k));
      if (deep > rim) continue;
      if (
        !deep &&
        !(x > left && load<u8>(depth + k - 1)) &&
        !(x < right && load<u8>(depth + k + 1)) &&
        !(y > top && load<u8>(depth + k - width)) &&
        !(y < bottom && load<u8>(depth + k + width))
      )
        continue;
      const x0 = max(left, x - reach),
        x1 = min(right, x + reach),
        y0 = max(top, y - reach),
        y1 = min(bottom, y + reach);
      let most = 0,
        shades: f32 = 0,
        dark: f32 = 0;
      for (let v = y0; v <= y1; v += 2) {
        for (let u = x0; u <= x1; u += 2) {
          const j = usize(v * width + u);
          most = max(most, i32(load<u8>(depth + j)));
          if (load<u8>(kind + j) === 2) {
            shades += 1;
            dark += load<f32>(over + (j << 2));
          }
        }
      }
      if (!most) continue;
      const enough = min(most, rim);
      const sharp = load<f32>(sharpness + i),
        colourSharp = load<f32>(colourSharpness + i);
      let part: f32 = -1,
        told: f32 = 0,
        cost: f32 = 1e30,
        behind: u8 = 0;
      for (let lit = 0; lit < (shades > 1 ? 2 : 1); lit++) {
        let backing = load<f32>(backLuma + i),
          gain: f32 = 1;
        if (lit === 1) {
          const dimmed = codeOf(stops, load<f32>(backStops + i) + dark / shades);
          gain = dimmed / max<f32>(1, backing);
          backing = dimmed;
        }
        const bb = gain * load<f32>(backBlue + i),
          br = gain * load<f32>(backRed + i);
        const pv = (load<f32>(light + i) - backing) * sharp,
          pb = (load<f32>(lightBlue + i) - bb) * colourSharp,
          pr = (load<f32>(lightRed + i) - br) * colourSharp;
        for (let v = y0; v <= y1; v += 2) {
          for (let u = x0; u <= x1; u += 2) {
            const j = usize(v * width + u);
            if (i32(load<u8>(depth + j)) < enough) continue;
            const o = j << 2;
            const dv = (load<f32>(light + o) - backing) * sharp,
              db = (load<f32>(lightBlue + o) - bb) * colourSharp,
              dr = (load<f32>(lightRed + o) - br) * colourSharp;
            const length = dv * dv + db * db + dr * dr;
            const p = max<f32>(0, min<f32>(1, (pv * dv + pb * db + pr * dr) / max<f32>(1e-6, length)));
            const ev = pv - p * dv,
              eb = pb - p * db,
              er = pr - p * dr;
            const c = ev * ev + eb * eb + er * er + distance * f32((u - x) * (u - x) + (v - y) * (v - y)) + f32(lit) * 2;
            if (c < cost) {
              cost = c;
              part = p;
              told = length;
              behind = lit === 1 ? 2 : 0;
            }
          }
        }
      }
      if (part < 0 || told < unlike) continue;
      if (part >= 0.5) store<u8>(out + k, 1);
      else if (own === 1) store<u8>(out + k, behind);
    }
  }
}

/** Adds up the colours of what is surely somebody's, bin by bin (words); gives how many pixels those are. */
export function countColours(
  light: usize,
  lightBlue: usize,
  lightRed: usize,
  kind: usize,
  body: usize,
  sure: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  bins: usize,
): i32 {
  let n = 0;
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const k = usize(y * width + x),
        i = k << 2;
      if (load<u8>(kind + k) !== 1 || load<f32>(body + i) < sure) continue;
      const at = bins + (binOf(load<f32>(light + i), load<f32>(lightBlue + i), load<f32>(lightRed + i)) << 2);
      store<u32>(at, load<u32>(at) + 1);
      n++;
    }
  }
  return n;
}
