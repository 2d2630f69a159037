import type { Similarity } from '../base/geometry/similarity';
import type { Matrix } from '../base/image/picture';
import { stopsTable, type Transfer } from '../base/image/transfer';
import type { LightReadings } from '../measures/light/measure';
import { WhiteGauge } from '../measures/light/white';
import { areaOf, withoutBodies } from '../presence/bodies';
import { Differ, WARM } from '../presence/differ';
import { findFigures, type Figure } from '../presence/figures';
import { ShadeTest } from '../presence/shade';
import type { Run } from '../report/types';
import { buildBackground, evenOutAgain, evenOutLight, type Background } from '../scene/background';
import { chooseCurve } from '../scene/curve';
import { LightGauge, slopes, type GaugeReading } from '../scene/gauge';
import { takeSamples } from '../scene/samples';
import { SteadyReader, type Margin, type SteadyPicture } from '../scene/steady-reader';
import type { Pictures } from '../base/image/stack';
import { ZoneField } from '../scene/zones';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, round } = Math;

export interface SceneInput {
  stack: Pictures;
  /** Camera movement against the reference frame, source pixels; null where unknown. */
  poses: readonly (Similarity | null)[];
  /** Source pixels for one small pixel. */
  factor: number;
  fps: number;
  /** The curve that the file names; null when it names none. */
  transfer: Transfer | null;
  matrix: Matrix;
  /** Share of fine detail that the lens has lost in each frame; null where unknown. */
  soft?: readonly (number | null)[];
  /** What the background shows round the reference frame. */
  margin?: Margin;
  /** The frames that are held against the background, which all of them make; all when left out. */
  look?: Run;
  /** How much a frame counts in choosing those that the background is made of; one as much as another when left out. */
  weight?: (frame: number) => number;
  /** How many of those there are at most; as many as serve a whole take when left out. */
  samples?: number;
  /** Told of each frame that is held against the background: it takes as long as decoding where much moves. */
  onFrame?: (frame: number) => void;
}

export interface SceneAnalysis {
  background: Background;
  curve: Transfer;
  light: LightReadings;
  /** What stands in front in each frame; null where the camera's place or the light is not known. */
  figures: (Figure[] | null)[];
  /** Stops of each zone beside the whole, for some frames (every `zoneStep`). */
  zones: Float32Array[];
  zoneStep: number;
}

/** How sure a pixel must be background to say something about the light. */
const FREE = WARM;
/** A cloud's edge runs a little ahead of what its zone knows. */
const FOLLOWED = 3 * WARM;

/**
 * While nobody is in and the light stands still every third frame is looked at: whoever comes stays for three frames,
 * or is taken for a fault of coding; then the frames passed over are looked at after all.
 */
const PASS_OVER = 2;
const QUIET = 4;
/** Frames are passed over while the light differs by less than this from the one before, stops, and this little detail is lost. */
const EVEN = 0.03;
const SOFT = 0.05;

/** Light and background are made of each other so many times at most. */
const ROUNDS = 3;
/** Whoever fills more than this share of the picture may have misled the first reading of its light; by so much it tells, stops. */
const LARGE = 0.25;
const TELLING = 0.02;

/**
 * Learns the background of a whole take, then holds every frame against it: its light, its white, and what stands in
 * front. Null when the take has no frame whose camera position is known.
 */
export function analyseScene(input: SceneInput): SceneAnalysis | null {
  const { stack, fps } = input;
  const reader = new SteadyReader(stack, input.poses, input.factor, input.margin);
  const soft = (f: number) => input.soft?.[f] ?? 0;
  const samples = takeSamples(reader, soft, input.weight, input.samples);
  if (!samples) return null;
  const first = stopsTable(input.transfer ?? 'srgb');
  evenOutLight(samples, first);
  const curve = chooseCurve(samples, input.transfer);
  const stops = stopsTable(curve);
  if (curve !== (input.transfer ?? 'srgb')) evenOutLight(samples, stops);
  let background = buildBackground(samples, reader, stops);
  for (let round = 0; round < ROUNDS && evenOutAgain(samples, background, stops); round++)
    background = buildBackground(samples, reader, stops);
  const free = background.restless.map((r, i) => (r || !background.known[i] ? 0 : 1));
  const gauge = new LightGauge(stops, background.luma, free, background.sigma, 7);
  const differ = new Differ(background, stops);
  const shade = new ShadeTest(background, stops);
  const white = new WhiteGauge(background, stops, input.matrix);
  const zones = new ZoneField(background, slopes(stops), fps, differ);
  const zoneStep = max(1, round(fps / 5));
  const out: SceneAnalysis = {
    background,
    curve,
    light: { stops: [], white: [], share: [] },
    figures: [],
    zones: [],
    zoneStep,
  };
  /** Frames since something was last seen, and those passed over since the last look. */
  let quiet = 0;
  let passed: number[] = [];
  const look = (f: number, picture: SteadyPicture, first: GaugeReading) => {
    let reading = first;
    const find = () => {
      differ.compare(picture, reading.stops, zones, soft(f));
      return (out.figures[f] = findFigures(differ, background, picture, shade, reading.stops));
    };
    let figures = find();
    if (areaOf(figures) > LARGE * differ.strength.length) {
      // Part of what is so large looks like the background in some light: it is read again beside it.
      const beside = gauge.read(
        picture.luma,
        withoutBodies(figures, picture.seen, background.width, differ.strength.length),
      );
      if (beside) reading = beside;
      if (abs(reading.stops - first.stops) > TELLING) figures = find();
    }
    differ.occupy(figures);
    zones.follow(FOLLOWED);
    const common = zones.takeCommon();
    out.light.stops[f] = reading.stops + common;
    if (zones.levels() || common) gauge.setUneven(zones.at);
    out.light.white[f] = white.read(picture, differ.strength, FREE);
  };
  const { start, end } = input.look ?? { start: 0, end: reader.count - 1 };
  for (let f = 0; f < reader.count; f++) {
    input.onFrame?.(f);
    const picture = f < start || f > end ? null : reader.read(f);
    const reading = picture && gauge.read(picture.luma, picture.seen);
    out.light.stops.push(reading?.stops ?? null);
    out.light.share.push(reading?.share ?? null);
    out.light.white.push(null);
    out.figures.push(picture && reading ? [] : null);
    if (!picture || !reading) quiet = 0;
    else if (
      quiet >= QUIET &&
      passed.length < PASS_OVER &&
      f + 1 < reader.count &&
      !zones.levels() &&
      soft(f) < SOFT &&
      abs(reading.stops - (out.light.stops[f - 1] ?? Infinity)) < EVEN
    ) {
      passed.push(f);
    } else {
      look(f, picture, reading);
      quiet = out.figures[f]?.length ? 0 : quiet + 1;
      const own = out.light.white[f];
      // Somebody may have come in while it was not looked.
      if (quiet > 0) for (const k of passed) out.light.white[k] = own;
      else
        for (const k of passed)
          look(k, reader.read(k)!, { stops: out.light.stops[k]!, share: out.light.share[k]!, count: 0 });
      passed = [];
    }
    if (f % zoneStep === 0) out.zones.push(zones.stops.slice());
  }
  for (const k of passed)
    look(k, reader.read(k)!, { stops: out.light.stops[k]!, share: out.light.share[k]!, count: 0 });
  return out;
}
