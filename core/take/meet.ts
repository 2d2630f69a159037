import type { Against, MeasuredTake } from './measured-take';
import { measureMeet } from '../measures/meet/measure';
import { smearOf } from '../movers/smear';
import { paceAt, type Placed } from '../movers/track';
import { median } from '../base/numeric/quantile';
import { kindsIn, maskOf } from '../presence/kinds';
import { runsOf } from '../presence/measure';
import { BODY } from '../presence/shade';
import type { MeetFound } from '../report/moment-types';
import { behindFrame, eachFull, emptyPicture, grainOf, laidOnFrame, lumaOf } from './full-frames';
import { twoTracks, type TwoTracks } from './two-tracks';

export interface MeetOptions {
  /** Where the vehicle is to arrive, source pixels. */
  at?: { x: number; y: number };
  /** The vehicle's speed in the edit, per cent of real. */
  ratePct?: number;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** A step that is this many times as long as what is smeared shows as separate pictures; twice, and what reading costs. */
const STROBES = 2.15;
/** A smear is measured from 10 to 90 %. */
const READ = 0.8;
/** In so many frames it is looked at how far the vehicle is smeared. */
const LOOKS = 5;

/** Lays a performer who reacts and a vehicle that passes together. @throws UnusableMedia when a file cannot be used */
export async function findMeet(
  a: MeasuredTake,
  b: MeasuredTake,
  plate: Against | null,
  { at, ratePct, signal, onProgress }: MeetOptions = {},
): Promise<MeetFound> {
  onProgress?.('outlining who is in');
  const tracks = await twoTracks(a, b, plate, signal);
  const { width, height } = a.analysis.probe;
  const { step_px: step, ...sums } = measureMeet({
    ...{ a: tracks.a, b: tracks.b, width, height, fpsA: a.analysis.fps, fpsB: b.analysis.fps },
    at: at ?? null,
    ratePct: ratePct ?? null,
  });
  const cannot = tracks.place ? null : 'The two could not be laid on each other: they show too little in common.';
  onProgress?.('looking at how far it is smeared');
  const smeared = step === null ? null : await smearOfVehicle(b, tracks, plate, signal);
  const rate = sums.rate_pct;
  return {
    ...sums,
    strobes: smeared === null || step === null || rate === null ? null : (step * rate) / 100 > STROBES * smeared,
    overlap_runs: sums.slide_frames === null || rate === null ? [] : overlaps(tracks, sums.slide_frames, rate, a, b),
    unjudged: a.analysis.unjudged ?? b.analysis.unjudged ?? cannot,
  };
}

/** How long the vehicle's edges are drawn by its way, source pixels; null where they do not tell. */
async function smearOfVehicle(
  b: MeasuredTake,
  { b: track, whoB }: TwoTracks,
  plate: Against | null,
  signal?: AbortSignal,
): Promise<number | null> {
  const whole = track.flatMap((p: Placed | null | undefined, f) => (p && paceAt(track, f) ? [f] : []));
  const frames = [
    ...new Set(Array.from({ length: LOOKS }, (_, k) => whole[Math.floor(((k + 0.5) * whole.length) / LOOKS)])),
  ];
  if (whole.length === 0) return null;
  const empty = await emptyPicture(b, plate, signal);
  if (!empty) return null;
  const emptyLuma = lumaOf(empty);
  const kinds = new Uint8Array(whoB.width * whoB.height);
  const found: number[] = [];
  const { width, height } = b.analysis.probe;
  await eachFull(
    b,
    frames,
    (picture, frame) => {
      kindsIn(whoB, frame, kinds);
      const luma = lumaOf(picture);
      const behind = behindFrame(emptyLuma, luma, b, frame);
      const { blur } = smearOf({
        ...{ picture: luma, behind, width, height, maskWidth: whoB.width, factor: whoB.factor },
        mask: maskOf(laidOnFrame(kinds, whoB, b, frame), BODY),
        pace: paceAt(track, frame),
        noise: grainOf(luma, behind),
      });
      if (blur !== null) found.push(blur / READ);
    },
    signal,
  );
  return found.length ? median(found) : null;
}

/** Frames of the performer's take in which the two bodies lie over each other, once they are laid together. */
function overlaps({ whoA, whoB }: TwoTracks, slide: number, ratePct: number, a: MeasuredTake, b: MeasuredTake) {
  const one = new Uint8Array(whoA.width * whoA.height),
    two = new Uint8Array(whoB.width * whoB.height);
  const pace = ((b.analysis.fps / a.analysis.fps) * ratePct) / 100;
  return runsOf(
    whoA.frames.map((_, f) => {
      const n = Math.round((f - slide) * pace);
      if (n < 0 || n >= whoB.frames.length || !kindsIn(whoA, f, one) || !kindsIn(whoB, n, two)) return false;
      for (let i = 0; i < one.length; i++) if (one[i] === BODY && two[i] === BODY) return true;
      return false;
    }),
  );
}
