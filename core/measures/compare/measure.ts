import { invertSimilarity, type Similarity } from '../../base/geometry/similarity';
import type { Matrix, Picture, SmallPicture } from '../../base/image/picture';
import { findRegions } from '../../base/image/regions';
import { largestSteps } from '../../base/image/steps';
import { stopsTable, type Transfer } from '../../base/image/transfer';
import { WhiteGauge } from '../light/white';
import { eachRun } from '../../presence/bodies';
import { Differ, HOT, WARM } from '../../presence/differ';
import { findFigures, type Figure } from '../../presence/figures';
import { ShadeTest } from '../../presence/shade';
import type { Background } from '../../scene/background';
import { LightGauge, slopes } from '../../scene/gauge';
import { PictureStack } from '../../base/image/stack';
import { SteadyReader, type SteadyPicture } from '../../scene/steady-reader';
import { ZoneField, ZONES_ACROSS, ZONES_DOWN } from '../../scene/zones';
import { standsAside } from '../plate/shifted';
import { swayingIn } from '../plate/swaying';
import type { Box, PlateComparison } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, log2, max, min, round } = Math;

export interface CompareInput {
  /** The take's own background, on its reference frame, and the curve it was read with. */
  background: Background;
  curve: Transfer;
  matrix: Matrix;
  /** The plate at the take's measuring size, or a background of the take's own small size. */
  plate: Picture | SmallPlate;
  /** Of a plate that is one picture of a recording: where that recording moves by itself, at the take's small size. */
  restless?: Uint8Array | null;
  /** Where the plate's picture lies in the take's reference frame, source pixels; null when that is not known. */
  offset: Similarity | null;
  /** Source pixels for one small pixel, and the picture's size. */
  factor: number;
  width: number;
  height: number;
}

/** A background in place of a plate, with what of it was ever seen free. */
export interface SmallPlate {
  background: Background;
}

/** What differs in light, and in what stands in the picture, between a plate and a take's background. */
export type PictureGap = Pick<PlateComparison, 'light' | 'moved' | 'intruders'>;

/** Rounds by which the zones' light settles on one picture. */
const ROUNDS = 14;

type Stands = 'plate' | 'take' | 'both';

/** A plate laid on a take's background: how their light differs, and what stands in one of them only. */
export interface LaidOn {
  /** The plate as it lies on the take's background. */
  picture: SteadyPicture;
  /** Take less plate, stops; of the zone where it is the most out of line, with that zone; and of colours. */
  gap: number;
  worst: number;
  zones: Float32Array;
  white: { red: number; blue: number } | null;
  /** Share of the picture that agrees on the light. */
  share: number;
  figures: Figure[];
  /** Which of both each of them stands in, where that is clear; and how much more it looks like standing in the plate, octaves. */
  stands: Stands[];
  leans: number[];
  differ: Differ;
}

/** Lays a plate on a take's background and holds them against each other; null when too little of them agrees. */
export function layOnBackground(input: CompareInput): LaidOn | null {
  const { background, plate, offset, factor } = input;
  const stack = new PictureStack();
  if ('background' in plate) {
    if (plate.background.width !== background.width || plate.background.height !== background.height) return null;
    stack.add(smallPicture(plate.background), { ...background, factor: 1 });
  } else {
    stack.frame(plate);
  }
  const reader = new SteadyReader(
    stack,
    [offset ? invertSimilarity(offset) : { dx: 0, dy: 0, rotation: 0, scale: 1 }],
    factor,
  );
  const picture = reader.read(0)!;
  const stops = stopsTable(input.curve);
  const free = Uint8Array.from(background.restless, (r) => (r ? 0 : 1));
  const gauge = new LightGauge(stops, background.luma, free, background.sigma, 1);
  const reading = gauge.read(picture.luma, picture.seen);
  if (!reading) return null;
  // One still picture has more of its own in it than the mean of many: grain, and edges laid anew.
  const wary: Background = {
    ...background,
    moved: true,
    gradient: steps(background),
    colourNoise: 1.5 * background.colourNoise + 1.5,
    sigma: background.sigma.map((s) => 1.5 * s + 0.4),
    sigmaDown: background.sigmaDown.map((s) => 1.5 * s + 0.4),
  };
  const differ = new Differ(wary, stops);
  const shade = new ShadeTest(background, stops);
  let zones = new ZoneField(background, slopes(stops), 1, differ);
  let light = reading.stops;
  let figures: Figure[] = [];
  // Twice: what stands in one of the two must not count as light of its zone.
  for (let pass = 0; pass < 2; pass++) {
    zones = new ZoneField(background, slopes(stops), 1, differ);
    const known = figures;
    for (let k = 0; k < ROUNDS; k++) {
      differ.compare(picture, light, zones);
      hide(known, differ.strength, background);
      zones.follow(4 * WARM);
      light += zones.takeCommon();
    }
    differ.compare(picture, light, zones);
    figures = findFigures(differ, wary, picture, shade, light);
  }
  const leans = figures.map((f) => leansTo(f, picture.luma, background));
  const moves = 'background' in plate ? plate.background.restless : (input.restless ?? null);
  if (moves?.length === picture.luma.length) {
    const swaying = swayingIn({ background, luma: picture.luma, restless: moves, light, stops });
    for (const { figure, where } of swaying) {
      const lean = where === 'take' ? -SWAYS : SWAYS;
      // Who was found already is told by it where they stand.
      const known = figures.flatMap((f, k) => (coversMuchOf(f, figure) ? [k] : []));
      for (const k of known) leans[k] = lean;
      if (known.length) continue;
      figures = [...figures, figure];
      leans.push(lean);
    }
  }
  const white = new WhiteGauge(background, stops, input.matrix).read(picture, differ.strength, WARM);
  // The take less the plate.
  const gap = -light;
  const even = zones.smoothed();
  let worst = -1;
  even.forEach((s, z) => {
    if (!Number.isNaN(s) && (worst < 0 || abs(gap - s) > abs(gap - even[worst]))) worst = z;
  });
  const stands = leans.map((l): Stands => (l > CLEARLY ? 'plate' : l < -SURELY ? 'take' : 'both'));
  return { picture, gap, worst, zones: even, white, share: reading.share, figures, stands, leans, differ };
}

/** Holds a plate against a take's background, laid on each other; null when too little of them agrees. */
export function comparePictures(input: CompareInput): PictureGap | null {
  const laid = layOnBackground(input);
  if (!laid) return null;
  const { background } = input;
  const { picture, gap, worst, zones: even, white, figures, stands, differ } = laid;
  const sx = input.width / background.width,
    sy = input.height / background.height;
  const box = (f: { left: number; top: number; right: number; bottom: number }): Box => ({
    x: f.left * sx,
    y: f.top * sy,
    width: (f.right - f.left + 1) * sx,
    height: (f.bottom - f.top + 1) * sy,
  });
  const alone = figures.map(
    (f, k) => stands[k] === 'take' && !hasCounterpart(k, figures, stands) && !standsAside(f, picture.luma, background),
  );
  const shaded = figures.map((_, k) => !alone[k] && shades(k, laid, alone, background));
  const intrudes = figures.map((_, k) => stands[k] === 'plate' && !shaded[k] && !hasCounterpart(k, figures, stands));
  const moved = figures.flatMap((f, k) =>
    intrudes[k]
      ? []
      : [
          {
            ...box(f),
            strength: strengthOf(f, differ, background.width),
            only: alone[k] || shaded[k] ? ('take' as const) : null,
          },
        ],
  );
  const intruders = figures.flatMap((f, k) => (intrudes[k] ? [box(f)] : []));
  return {
    light: {
      gap_stops: gap,
      red_stops: white ? -white.red : null,
      blue_stops: white ? -white.blue : null,
      worst_region:
        worst < 0
          ? null
          : {
              x: ((worst % ZONES_ACROSS) * input.width) / ZONES_ACROSS,
              y: (floor(worst / ZONES_ACROSS) * input.height) / ZONES_DOWN,
              width: input.width / ZONES_ACROSS,
              height: input.height / ZONES_DOWN,
              stops: gap - even[worst],
            },
      fade_in_frames: 0,
      uncertainty_stops: 0.005 + 0.02 * (1 - min(1, laid.share)),
    },
    moved: moved.sort((a, b) => b.strength * b.width * b.height - a.strength * a.width * a.height),
    intruders,
  };
}

/** A body's shadow begins within so many small pixels of it. */
const BESIDE = 3;
/** A stop is at most about so many levels, in the middle of the scale. */
const SHADE_LEVELS = 60;
/** Two pictures of one texture agree in its steps by so much at least, where 1 is one and the same. */
const SAME_TEXTURE = 0.5;

/** Whether a figure is the shadow of somebody who stands in the take alone: beside them, and darker there than in the plate. */
function shades(k: number, laid: LaidOn, alone: readonly boolean[], { luma, width }: Background): boolean {
  const { figures, stands, picture, gap } = laid;
  const f = figures[k];
  const owned = figures.some(
    (o, j) =>
      alone[j] &&
      max(f.left - o.right, o.left - f.right) <= BESIDE &&
      max(f.top - o.bottom, o.top - f.bottom) <= BESIDE,
  );
  if (!owned) return false;
  let less = 0,
    n = 0;
  // Steps from each pixel to the next in both: a shadow leaves the texture as it is.
  let both = 0,
    here = 0,
    there = 0;
  eachRun([f], width, (first, last) => {
    for (let i = first; i <= last; i++, n++) {
      less += picture.luma[i] - luma[i];
      if (i === last) continue;
      const [p, q] = [luma[i + 1] / (1 + luma[i]), picture.luma[i + 1] / (1 + picture.luma[i])].map((r) => r - 1);
      both += p * q;
      here += p * p;
      there += q * q;
    }
  });
  // The light of the whole picture is no shadow: where the plate is brighter all over, it must be more so here.
  if (n === 0 || less / n <= max(0, -gap) * SHADE_LEVELS) return false;
  return stands[k] === 'both' || both > SAME_TEXTURE * Math.sqrt(here * there);
}

/** The largest step from each pixel to one beside it, levels. */
function steps({ luma, width, height }: Background): Float32Array {
  return largestSteps(width, height, (a, b) => abs(luma[a] - luma[b]));
}

/** A background as a small picture. */
function smallPicture({ luma, blue, red }: Background): SmallPicture {
  const bytes = (values: Float32Array) => Uint8Array.from(values, (v) => max(0, min(255, round(v))));
  return { luma: bytes(luma), blue: bytes(blue), red: bytes(red) };
}

/** Leaves the pixels of figures, and of their close neighbourhood, out of what the light is read from. */
function hide(figures: readonly Figure[], strength: Float32Array, { width, height }: Background): void {
  for (const f of figures) {
    for (let k = 0; k < f.rows.length; k += 4) {
      for (let y = max(0, f.rows[k] - 3); y <= min(height - 1, f.rows[k] + 3); y++)
        strength.fill(
          Infinity,
          y * width + max(0, f.rows[k + 1] - 3),
          y * width + min(width - 1, f.rows[k + 2] + 3) + 1,
        );
    }
  }
}

/** A picture has a thing in it when the step along the thing's outline stands out this many times more than in the other. */
const CLEARLY = log2(1.15);
/** That a thing stands in the take alone, which is no fault of the plate, must be surer. */
const SURELY = log2(1.4);
/** Steps up to here, levels, are noise; a step larger than that says no more than one that large. */
const NOISE_STEP = 2;
const MOST_STEP = 40;

/**
 * Which picture a thing stands in: the step across its outline stands out there against the texture on both sides of
 * it, and does not in the other, where one surface goes on. Octaves by which it does so more in the plate.
 */
function leansTo(figure: Figure, plate: Uint8Array, { width, height, luma }: Background): number {
  if (!figure.box) return Infinity;
  const inside = new Uint8Array(width * height);
  eachRun([figure], width, (first, last) => inside.fill(1, first, last + 1));
  const there = { across: 0, along: 0 },
    here = { across: 0, along: 0 };
  const step = (a: number, b: number) => min(MOST_STEP, abs(a - b));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!inside[i]) continue;
      for (const [dx, dy] of OUTWARDS) {
        const far = { x: x + (1 + 2 * SPAN) * dx, y: y + (1 + 2 * SPAN) * dy },
          deep = { x: x - SPAN * dx, y: y - SPAN * dy };
        if (
          far.x < 0 ||
          far.y < 0 ||
          far.x >= width ||
          far.y >= height ||
          deep.x < 0 ||
          deep.y < 0 ||
          deep.x >= width ||
          deep.y >= height
        )
          continue;
        const d = dy * width + dx,
          o = i + (1 + SPAN) * d;
        // The outline is known to a pixel or two: a span that long lies between the two sides that are held against each other.
        if (inside[i + d] || inside[i + 2 * d] || inside[o] || !inside[deep.y * width + deep.x]) continue;
        const a = i - d;
        const inner =
          deep.x - dx >= 0 && deep.y - dy >= 0 && deep.x - dx < width && deep.y - dy < height
            ? i - (1 + SPAN) * d
            : i - SPAN * d;
        for (const [sums, p] of [
          [there, plate],
          [here, luma],
        ] as const) {
          sums.across += step(p[a], p[o]);
          sums.along += NOISE_STEP + 0.5 * (step(p[a], p[inner]) + step(p[o], p[i + (1 + 2 * SPAN) * d]));
        }
      }
    }
  }
  if (there.along === 0 || there.across === 0 || here.across === 0) return 0;
  return log2(there.across / there.along) - log2(here.across / here.along);
}

/** Small pixels between two spots whose difference is a step. */
const SPAN = 3;
const OUTWARDS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** Whether the one's box covers at least half of the other's, and is not much larger. */
function coversMuchOf(one: Figure, other: Figure): boolean {
  const area = (f: Pick<Figure, 'left' | 'right' | 'top' | 'bottom'>) =>
    max(0, f.right - f.left + 1) * max(0, f.bottom - f.top + 1);
  const both = area({
    left: max(one.left, other.left),
    right: min(one.right, other.right),
    top: max(one.top, other.top),
    bottom: min(one.bottom, other.bottom),
  });
  return both >= 0.5 * area(other) && both >= 0.3 * area(one);
}

/** Somebody who sways in one picture only stands in it as surely as that, octaves. */
const SWAYS = 1;

/** Less body than this for its shadow, and it is light that differs. */
const BODY = 0.5;

/** A thing that moved is missed at one place and new at another close by; somebody in the plate is new only. */
export function hasCounterpart(k: number, figures: readonly Figure[], stands: readonly Stands[]): boolean {
  const a = figures[k];
  // A change of light alone is no thing.
  const size = (f: Figure) => (f.body < BODY * f.shadow ? 0 : f.body + f.shadow);
  return figures.some(
    (b, j) =>
      j !== k &&
      stands[j] !== stands[k] &&
      size(b) > 0.3 * size(a) &&
      size(b) < 3.3 * size(a) &&
      abs(b.left + b.right - a.left - a.right) / 2 < 2.5 * (a.right - a.left + 10) &&
      abs(b.top + b.bottom - a.top - a.bottom) / 2 < 1.5 * (a.bottom - a.top + 10),
  );
}

/** How much a thing differs, 0 to 1: mean difference over its pixels of 100 levels. */
function strengthOf(figure: Figure, differ: Differ, width: number): number {
  let sum = 0,
    n = 0;
  for (let k = 0; k < figure.rows.length; k += 4) {
    for (let x = figure.rows[k + 1]; x <= figure.rows[k + 2]; x++, n++)
      sum += abs(differ.difference[figure.rows[k] * width + x]);
  }
  return n ? min(1, sum / n / 100) : 0;
}

/** Boxes round everything that was somebody at some time, for a plate that is a recording. */
export function whoWasIn(
  figures: readonly (readonly Figure[] | null)[],
  width: number,
  height: number,
  scaleX: number,
  scaleY: number,
): Box[] {
  const mask = new Uint8Array(width * height);
  for (const all of figures) eachRun(all ?? [], width, (first, last) => mask.fill(1, first, last + 1));
  return findRegions(mask, width, height, HOT).map((r) => ({
    x: r.left * scaleX,
    y: r.top * scaleY,
    width: (r.right - r.left + 1) * scaleX,
    height: (r.bottom - r.top + 1) * scaleY,
  }));
}
