import { stopsTable, type Transfer } from '../base/image/transfer';
import { addressOf as at, Kernels } from '../base/kernels/kernels';
import { relight, slopes } from '../scene/gauge';
import { BIN_LEVELS, BINS, SIDE, smoothed } from './colour-bins';
import { colourGain, type FineBackground, type SteadyFine } from './fine-background';
import type { PixelBox } from '../base/image/regions';
import { BODY, SHADOW } from './shade';
import type { Swaying } from './swaying';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { exp, log, PI } = Math;

/**
 * Who is in, pixel by pixel: background, background in shadow, or somebody.
 *
 * Each pixel's light and colours are as likely as background as its noise has it (a normal of three dimensions), and where
 * something sways near it, leaves or water, also as often as such colours are seen there (Sheikh & Shah 2005, "Bayesian
 * modeling of dynamic scenes", whose background may lie a little beside its place); as
 * somebody, as often as such colours are seen of whoever is in this take, or by any colour alike; as shadow, where it has
 * lost as much light as what is shadow close by, in all colours alike, or some part of that, as at a shadow's rim.
 * Neighbours are of one kind unless the picture changes there in a way that the background does not (Sun, Zhang, Tang &
 * Shum 2006, "Background cut"); a shadow's border has no such excuse, for it fades. Probabilities are settled by the mean
 * field (Zhang 1992; Krähenbühl & Koltun 2011 say how it is derived). Along somebody's border a pixel is a mixture of
 * what lies behind, which is known, and of them, and is theirs from a half on (as in Smith & Blinn 1996).
 */
const MODEL = {
  /** Neighbours share about half of their noise, by coding and scaling: so much of what a pixel says is news. */
  tempered: 0.5,
  /** Nats against somebody, and against shadow, at any pixel looked at: one in some fifty is. */
  odds: 4,
  /** Nats for what the small pictures, which see more of texture at once, said: somebody rather than shadow, or the other way. */
  hint: 1,
  /** Nats between neighbours of two kinds; the share left of it where the picture changes; from how many standard deviations on it does. */
  agree: 3,
  least: 0.1,
  contrast: 4,
  /** A shadow takes so much light at least, strays by so much, and takes so much on the mean, stops; so much of it is rim. */
  slight: 0.06,
  uneven: 0.08,
  depth: 0.8,
  rim: 0.4,
  /** It is even within so many fine pixels. */
  even: 4,
  /** Rounds of the mean field, and in how many of them shadows are weighed anew. */
  rounds: 5,
  weighed: 3,
  /** Chance that a colour of somebody is none of those seen of them elsewhere. */
  anyColour: 0.3,
  /** Fewer pixels say nothing of somebody's colours; each says so if it is theirs at least that likely. */
  leastPixels: 200,
  sure: 0.9,
  /** Border: fine pixels to both sides, how far off pixels well inside are looked for, and what a pixel's way costs, variances. */
  border: 4,
  reach: 6,
  distance: 0.1,
  /** Somebody who differs by less, in variances, from what lies behind stays as they were. */
  unlike: 16,
} as const;

/** Variance that a bin's width adds to a colour difference, levels squared. */
const BIN_NOISE = 4 ** 2 / 12;
/**
 * Colours of anything: as strong as the background's own, or, for one in ten, any that pictures have (colour differences
 * fill about so many levels each way from none).
 */
const STRANGE = 0.1;
const COLOUR_RANGE = 90;

function room(width: number, height: number, swaying: Swaying | null) {
  const pixels = width * height;
  const floats = ['floats', pixels] as const,
    bytes = ['bytes', pixels] as const,
    totals = ['doubles', (width + 1) * (height + 1)] as const;
  return Kernels.with({
    ...{ luma: bytes, blue: bytes, red: bytes, seen: bytes, inside: bytes, kind: bytes, depth: bytes, out: bytes },
    ...{ backLuma: floats, backBlue: floats, backRed: floats, backStops: floats, sharpness: floats },
    ...{ spread: floats, colourSharpness: floats, colourSpread: floats, evenness: floats },
    ...{ light: floats, lightBlue: floats, lightRed: floats, over: floats, across: floats, down: floats },
    ...{ asBack: floats, asBody: floats, asShade: floats, back: floats, body: floats, shade: floats },
    ...{ sums: totals, weights: totals, lit: totals },
    ...{ table: ['floats', 256] as const, stops: ['floats', 256] as const, slopes: ['floats', 256] as const },
    ...{
      pieces: bytes,
      list: ['words', pixels] as const,
      densities: ['floats', BINS] as const,
      bins: ['words', BINS] as const,
      swaying: ['floats', swaying?.share.length ?? 0] as const,
      swayingPlace: ['words', swaying?.place.length ?? 0] as const,
      swayingDensities: ['floats', swaying?.densities.length ?? 0] as const,
    },
  });
}

/** Nats of a normal of three dimensions at its middle, whose spreads are 1. */
const NORMAL = 1.5 * log(2 * PI);

/** Added to a kind that a pixel is said to be. */
export const HINT = 1;

/** Labels pictures of one take, whose background is known. */
export class Labeller {
  private readonly room: ReturnType<typeof room>;
  private readonly addresses: Record<keyof ReturnType<typeof room>['arrays'], number>;
  private readonly stops: Float32Array;
  /** How densely colours of anything at all lie, bin by bin: per level of luma and of both colour differences. */
  private readonly any: Float64Array;
  private readonly sways: boolean;
  private counted = 0;
  private last: PixelBox | null = null;

  constructor(
    { luma, blue, red, sigma, colourSigma, colourNoise, swaying }: FineBackground,
    private readonly width: number,
    height: number,
    curve: Transfer,
  ) {
    this.stops = stopsTable(curve);
    this.room = room(width, height, swaying);
    const { arrays: a } = this.room;
    this.addresses = Object.fromEntries(Object.entries(a).map(([name, array]) => [name, at(array)])) as Record<
      keyof typeof a,
      number
    >;
    a.backLuma.set(luma);
    a.backBlue.set(blue);
    a.backRed.set(red);
    a.stops.set(this.stops);
    a.slopes.set(slopes(this.stops));
    this.any = anyColours(blue, red, colourNoise);
    a.densities.set(this.any.map(log));
    if (swaying) {
      a.swaying.set(swaying.share);
      a.swayingPlace.set(swaying.place);
      a.swayingDensities.set(swaying.densities);
    }
    this.sways = swaying !== null;
    for (let i = 0; i < luma.length; i++) {
      const v = Math.max(0, Math.min(254.99, luma[i])),
        k = Math.floor(v);
      a.backStops[i] = this.stops[k] + (v - k) * (this.stops[k + 1] - this.stops[k]);
      a.sharpness[i] = 1 / sigma[i];
      a.colourSharpness[i] = 1 / colourSigma[i];
      a.colourSpread[i] = 2 * log(colourSigma[i]) + NORMAL;
      a.spread[i] = log(sigma[i]) + a.colourSpread[i];
      // How well the light of a shadow is known there: as its noise has it, and unevenness.
      const noise = a.slopes[Math.min(255, Math.max(1, Math.floor(luma[i] + 0.5)))] * sigma[i];
      a.evenness[i] = 1 / (noise * noise + MODEL.uneven ** 2);
    }
  }

  /** Of the part that is labelled next: 0 for background, 1 for what is looked at, `HINT` + kind where that is said. */
  get inside(): Uint8Array {
    return this.room.arrays.inside;
  }

  /**
   * Kinds of the pixels of a part (both ends included): 0 background, 1 somebody, 2 shadow; valid until the next call.
   * @param light stops of the picture over the background
   */
  label(picture: SteadyFine, light: number, part: PixelBox): Uint8Array {
    const {
      width,
      addresses,
      room: { kernels, arrays: a },
    } = this;
    const { run } = kernels;
    a.table.set(relight(this.stops, -light));
    // Only what the part needs of the picture is taken.
    const [from, to] = [part.top * width, (part.bottom + 1) * width];
    for (const name of ['luma', 'blue', 'red'] as const) a[name].set(picture[name].subarray(from, to), from);
    if (picture.seen) a.seen.set(picture.seen.subarray(from, to), from);
    const all = { ...addresses, ...MODEL, ...part, width };
    run.weighPixels({
      ...all,
      seen: picture.seen ? addresses.seen : 0,
      swaying: this.sways ? addresses.swaying : 0,
      gain: colourGain(a.table),
    });
    run.weighBorders(all);
    run.firstLabels(all);
    for (let round = 0; round < MODEL.rounds; round++) {
      if (round < MODEL.weighed) run.weighShade({ ...all, reach: MODEL.even });
      run.settleLabels({ ...all, backwards: round & 1 });
    }
    run.pickLabels(all);
    // What one pixel after the other cannot settle: whether a whole piece is somebody dark, or their shadow.
    run.movePieces({ ...all, from: SHADOW, to: BODY, asFrom: addresses.asShade, asTo: addresses.asBody });
    run.movePieces({ ...all, from: BODY, to: SHADOW, asFrom: addresses.asBody, asTo: addresses.asShade });
    run.depthsOfBody({ ...all, most: MODEL.border + 1 });
    run.partOfPixels({ ...all, rim: MODEL.border });
    this.last = part;
    return a.out;
  }

  /** Light of a pixel that was labelled last, stops over the background. */
  get over(): Float32Array {
    return this.room.arrays.over;
  }

  /** Takes in the colours of whoever was surely somebody in what was labelled last. */
  collect(): void {
    const { room, addresses, width, last } = this;
    if (last) this.counted += room.kernels.run.countColours({ ...addresses, ...MODEL, ...last, width });
  }

  /** From now on somebody looks as what was collected, which begins anew. */
  learn(): void {
    const { densities, bins } = this.room.arrays;
    const { counted } = this;
    if (counted >= MODEL.leastPixels) {
      const smooth = smoothed(bins);
      for (let k = 0; k < BINS; k++)
        densities[k] = log(
          MODEL.anyColour * this.any[k] + ((1 - MODEL.anyColour) * smooth[k]) / (counted * BIN_LEVELS),
        );
    }
    bins.fill(0);
    this.counted = 0;
  }
}

function anyColours(blue: Float32Array, red: Float32Array, noise: number): Float64Array {
  let sum = 0;
  for (let i = 0; i < blue.length; i++) sum += blue[i] ** 2 + red[i] ** 2;
  const variance = sum / (2 * blue.length) + noise ** 2 + BIN_NOISE;
  const usual = (1 - STRANGE) / (256 * 2 * PI * variance),
    strange = STRANGE / (256 * COLOUR_RANGE ** 2);
  return Float64Array.from({ length: BINS }, (_, k) => {
    const b = 4 * ((k >> 5) & (SIDE - 1)) + 2 - 64,
      r = 4 * (k & (SIDE - 1)) + 2 - 64;
    return usual * exp(-(b * b + r * r) / (2 * variance)) + strange;
  });
}
