import { findRegions } from '../image/regions';
import { stopsTable, type Transfer } from '../image/transfer';
import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';
import type { Background } from '../scene/background';
import { relight, slopes } from '../scene/gauge';
import { fineBackground, type FineBackground, type FineFrames, type Outline } from './fine-background';
import type { Figure } from './figures';
import { BODY, NONE, SHADOW } from './shade';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min, round } = Math;

export interface FineInput {
  frames: FineFrames;
  /** What was found in small pixels. */
  figures: readonly (readonly Figure[] | null)[];
  /** Stops of each frame over the background. */
  light: readonly (number | null)[];
  background: Background;
  curve: Transfer;
}

/** An outline is looked for so many small pixels to both sides of where the small pictures show it. */
const REACH = 2;
const WINDOW = (2 * REACH + 1) ** 2;
/** A shadow, whose end may be too faint for those, so many. */
const SHADE_REACH = 8;
/** A pixel is somebody's that differs, with its neighbours, by this share of what they differ by close by. */
const SHARE = 0.5;
/** And by so many standard deviations of the mean of nine, with so many levels for coding besides. */
const SIGMAS = 2.2;
const LEVELS = 1.2;
/** Close by is so many fine pixels. */
const CLOSE = 4;
/** A shadow takes so much light at least, stops, on the mean of 25 pixels; or, being thin, so much more on that of nine. */
const SHADE_STOPS = 0.12;
const THIN_SHADE_STOPS = 0.17;
/** Of a pixel and its neighbours so many must be taken for it to be, and leave it free. */
const MOST = 5;
/** Fewer fine pixels by themselves are nobody. */
const SPECK = 12;

/** Outlines of whoever is in, told again twice as finely where they matter: along their edges. Null where nothing is known. */
export function fineOutlines(input: FineInput): (Outline[] | null)[] {
  const { frames, figures, light, background, curve } = input;
  if (!figures.some((f) => f?.length)) return figures.map((f) => f && []);
  const behind = fineBackground(frames, figures, light, background, curve);
  const edge = new EdgeFinder(frames, background, behind, curve);
  return figures.map((all, f) => {
    if (!all || all.length === 0) return all && [];
    const picture = light[f] === null ? null : frames.read(f);
    return picture ? edge.find(picture, light[f]!, all) : all.map((a) => ({ rows: enlarged(a.rows, frames) }));
  });
}

/** Rows of small pixels as rows of fine ones, where no more is known. */
function enlarged(rows: ArrayLike<number>, { ratio, width, height }: FineFrames): Int16Array {
  const out: number[] = [];
  for (let k = 0; k < rows.length; k += 4)
    for (let y = ceil(rows[k] * ratio); y < min(height, (rows[k] + 1) * ratio); y++)
      out.push(
        y,
        min(width - 1, floor(rows[k + 1] * ratio)),
        min(width, ceil((rows[k + 2] + 1) * ratio)) - 1,
        rows[k + 3],
      );
  return Int16Array.from(out);
}

/** A part of the picture, both ends included. */
interface Part {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Room for what is made of one picture at a time. */
const roomFor = onceForSize((pixels) =>
  Kernels.with({
    picture: ['bytes', pixels],
    table: ['floats', 256],
    luma: ['floats', pixels],
    difference: ['floats', pixels],
    mean: ['floats', pixels],
    wide: ['floats', pixels],
    power: ['floats', pixels],
    most: ['floats', pixels],
    room: ['floats', pixels],
  }),
);

class EdgeFinder {
  private readonly stops: Float32Array;
  /** Stops for one level, by code value. */
  private readonly slope: Float32Array;
  private readonly kind: Uint8Array;
  /** Whether a small pixel may be a body's, how well inside one it is (0 to 2), and whether a shadow may reach it. */
  private readonly near: Uint8Array;
  private readonly deep: Uint8Array;
  private readonly shade: Uint8Array;
  /** How many of the small pixels to both sides are a body's. */
  private readonly across: Uint8Array;
  private readonly room: ReturnType<typeof roomFor>;
  /** The small pixel's column of each fine one. */
  private readonly columnOf: Int32Array;
  private readonly out: Uint8Array;
  private readonly full: Uint8Array;

  constructor(
    private readonly frames: FineFrames,
    private readonly small: { width: number; height: number },
    private readonly behind: FineBackground,
    curve: Transfer,
  ) {
    this.stops = stopsTable(curve);
    this.slope = slopes(this.stops);
    const pixels = small.width * small.height,
      fine = frames.width * frames.height;
    [this.kind, this.near, this.deep, this.shade, this.across] = [0, 1, 2, 3, 4].map(() => new Uint8Array(pixels));
    this.room = roomFor(fine);
    this.room.arrays.luma.set(behind.luma);
    this.columnOf = Int32Array.from({ length: frames.width }, (_, x) =>
      min(small.width - 1, floor((x + 0.5) / frames.ratio)),
    );
    this.out = new Uint8Array(fine);
    this.full = new Uint8Array(fine);
  }

  find(picture: Uint8Array, light: number, figures: readonly Figure[]): Outline[] {
    const part = this.markSmall(figures);
    this.compare(picture, light, part);
    this.decide(part);
    this.openShade(part);
    return [{ rows: this.rowsOf(part) }];
  }

  /** Lays the figures over the small pixels; gives the part of the fine picture to be looked at. */
  private markSmall(figures: readonly Figure[]): Part {
    const { kind, near, deep, shade, small, frames } = this;
    const { width, height } = small;
    kind.fill(NONE);
    near.fill(0);
    deep.fill(0);
    shade.fill(0);
    const box = { left: width, top: height, right: -1, bottom: -1 };
    for (const { rows } of figures)
      for (let k = 0; k < rows.length; k += 4) {
        kind.fill(rows[k + 3], rows[k] * width + rows[k + 1], rows[k] * width + rows[k + 2] + 1);
        box.left = min(box.left, rows[k + 1]);
        box.right = max(box.right, rows[k + 2]);
        box.top = min(box.top, rows[k]);
        box.bottom = max(box.bottom, rows[k]);
        if (rows[k + 3] === SHADOW)
          for (let y = max(0, rows[k] - SHADE_REACH); y <= min(height - 1, rows[k] + SHADE_REACH); y++)
            shade.fill(
              1,
              y * width + max(0, rows[k + 1] - SHADE_REACH),
              y * width + min(width - 1, rows[k + 2] + SHADE_REACH) + 1,
            );
      }
    const reach = shade.includes(1) ? SHADE_REACH : REACH;
    const x0 = max(0, box.left - reach),
      x1 = min(width - 1, box.right + reach),
      y0 = max(0, box.top - reach),
      y1 = min(height - 1, box.bottom + reach);
    const across = this.across;
    for (let y = max(0, y0 - REACH); y <= min(height - 1, y1 + REACH); y++)
      for (let x = x0; x <= x1; x++) {
        let n = 0;
        for (let u = max(0, x - REACH); u <= min(width - 1, x + REACH); u++) if (kind[y * width + u] === BODY) n++;
        across[y * width + x] = n;
      }
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const i = y * width + x;
        let bodies = 0;
        for (let v = max(0, y - REACH); v <= min(height - 1, y + REACH); v++) bodies += across[v * width + x];
        near[i] = bodies ? 1 : 0;
        // Small pixels draw somebody up to two pixels too large.
        deep[i] = kind[i] !== BODY || !this.inner(x, y) ? 0 : bodies === WINDOW ? 2 : 1;
      }
    const { ratio } = frames;
    return {
      left: floor(x0 * ratio),
      top: floor(y0 * ratio),
      right: min(frames.width, ceil((x1 + 1) * ratio)) - 1,
      bottom: min(frames.height, ceil((y1 + 1) * ratio)) - 1,
    };
  }

  /** Whether a small pixel and all around it are of one kind. */
  private inner(x: number, y: number): boolean {
    const { kind, small } = this;
    const { width, height } = small;
    const own = kind[y * width + x];
    for (let v = max(0, y - 1); v <= min(height - 1, y + 1); v++)
      for (let u = max(0, x - 1); u <= min(width - 1, x + 1); u++) if (kind[v * width + u] !== own) return false;
    return true;
  }

  /** How far the picture differs from the empty one, in the reference's light: over nine pixels, over 25, and at most close by. */
  private compare(picture: Uint8Array, light: number, part: Part): void {
    const { frames, room, stops } = this;
    const { kernels, arrays: a } = room;
    const { width } = frames;
    a.table.set(relight(stops, -light));
    // Only what the part needs of the picture is taken.
    const [from, to] = [part.top * width, (part.bottom + 1) * width];
    a.picture.set(picture.subarray(from, to), from);
    kernels.run.differFinely({
      ...part,
      picture: at(a.picture),
      luma: at(a.luma),
      table: at(a.table),
      width,
      close: CLOSE,
      room: at(a.room),
      difference: at(a.difference),
      mean: at(a.mean),
      wide: at(a.wide),
      power: at(a.power),
      most: at(a.most),
    });
  }

  private decide(part: Part): void {
    const { frames, small, behind, room, kind, near, deep, shade, slope, out, columnOf } = this;
    const { width, ratio } = frames;
    const { difference, mean, wide, power, most } = room.arrays;
    for (let y = part.top; y <= part.bottom; y++) {
      const row = min(small.height - 1, floor((y + 0.5) / ratio)) * small.width;
      for (let x = part.left; x <= part.right; x++) {
        const i = y * width + x,
          s = row + columnOf[x];
        out[i] = NONE;
        const told = SIGMAS * behind.sigma[i] + LEVELS;
        // Where luma does not tell them from what lies behind, what the small pixels say stays.
        if (deep[s] === 2 || (deep[s] === 1 && most[i] < 2 * told)) {
          out[i] = BODY;
          continue;
        }
        if (!near[s] && !shade[s]) continue;
        const least = max(told, SHARE * most[i]);
        const perLevel = slope[max(0, min(255, round(behind.luma[i] + wide[i] / 2)))];
        // Beside somebody dark the means are dark too; the pixel itself is not.
        const shaded =
          -difference[i] * perLevel > SHADE_STOPS / 2 &&
          (-wide[i] * perLevel > SHADE_STOPS || -mean[i] * perLevel > THIN_SHADE_STOPS);
        if (near[s] && kind[s] !== SHADOW && power[i] > least) out[i] = BODY;
        else if (shade[s] && shaded) out[i] = SHADOW;
      }
    }
  }

  /** Leaves out shadow that is nowhere three pixels across: the rim of somebody dark, blurred, is no shadow. */
  private openShade(part: Part): void {
    const { out, frames } = this;
    const { width } = frames;
    const full = this.full.fill(0);
    const { left, top, right, bottom } = part;
    for (let y = top + 1; y < bottom; y++)
      for (let i = y * width + left + 1, end = y * width + right; i < end; i++) {
        if (out[i] !== SHADOW || out[i - 1] !== SHADOW || out[i + 1] !== SHADOW) continue;
        let n = 0;
        for (let v = i - width; v <= i + width; v += width)
          for (let u = v - 1; u <= v + 1; u++) if (out[u] === SHADOW) n++;
        if (n === 9) for (let v = i - width; v <= i + width; v += width) full.fill(1, v - 1, v + 2);
      }
    for (let y = top; y <= bottom; y++)
      for (let i = y * width + left, end = y * width + right; i <= end; i++)
        if (out[i] === SHADOW && !full[i]) out[i] = NONE;
  }

  /** The rows of what was decided, specks and single gaps left out. */
  private rowsOf(part: Part): Int16Array {
    const { frames, out } = this;
    const { width } = frames;
    const w = part.right - part.left + 1,
      h = part.bottom - part.top + 1;
    const mask = new Uint8Array(w * h);
    const down = new Uint8Array(w + 2);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const i = (y + part.top) * width + x + part.left;
        down[x + 1] = (y > 0 && out[i - width] ? 1 : 0) + (out[i] ? 1 : 0) + (y < h - 1 && out[i + width] ? 1 : 0);
      }
      for (let x = 0; x < w; x++) mask[y * w + x] = down[x] + down[x + 1] + down[x + 2] >= MOST ? 1 : 0;
    }
    const kept = new Uint8Array(w * h);
    for (const region of findRegions(mask, w, h, SPECK)) for (const i of region.pixels) kept[i] = 1;
    const rows: number[] = [];
    for (let y = 0; y < h; y++) {
      let now = NONE,
        start = 0;
      for (let x = 0; x <= w; x++) {
        const o = (y + part.top) * width + x + part.left;
        const k = x < w && kept[y * w + x] ? out[o] || BODY : NONE;
        if (k === now) continue;
        if (now !== NONE) rows.push(y + part.top, start + part.left, x - 1 + part.left, now);
        start = x;
        now = k;
      }
    }
    return Int16Array.from(rows);
  }
}
