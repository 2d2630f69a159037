import type { JoinedWish } from '../measures/joined/joined';
import { JOINING_WAYS, type LayerMask } from '../measures/joined/joining-ways';
import type { Run } from '../report/types';

/** Pictures a second as a fraction: 24000 over 1001. */
export type Rate = readonly [number, number];

/** A take that is laid into a timeline. */
export interface LaidTake {
  id: string;
  label: string;
  frames: number;
  rate: Rate;
  /** Its longest run without anybody; null where there is none, or it is not known. */
  clear: Run | null;
}

/** A stretch of a take in a layer. */
export interface Piece {
  take: string;
  /** Its first frame in the timeline, and how many frames of the timeline it lasts. */
  start: number;
  frames: number;
  /** The take's frame that is shown first. */
  from: number;
  /** 1 as it was shot; 0 holds that frame. */
  speed: number;
}

export interface Layer {
  name: string;
  pieces: Piece[];
  mask: LayerMask | null;
}

/** A frame of a take to look at in the finished trick. */
export interface Cue {
  take: string;
  frame: number;
  name: string;
  kind: 'cut' | 'beat' | 'worst' | 'key';
}

/** A trick as it is finished: layers from the lowest up, on one count of frames. */
export interface Assembly {
  rate: Rate;
  frames: number;
  layers: Layer[];
  /** The frame of the timeline at which one take gives way to another; null where none does. */
  cut: number | null;
}

const seconds = (rate: Rate) => rate[1] / rate[0];

/** Frames of a take that so many frames of a timeline show at a speed. */
export function taken({ frames, speed }: Piece, own: Rate, timeline: Rate): number {
  return (frames * speed * seconds(timeline)) / seconds(own);
}

/** Frames of a timeline that what is left of a take lasts from one of its frames on. */
function lasts(take: LaidTake, timeline: Rate, from = 0, speed = 1): number {
  return Math.max(0, Math.floor(((take.frames - from) * seconds(take.rate)) / seconds(timeline) / speed + 1e-6));
}

/** The empty picture under everything: as it was shot where it is long enough, else one frame of it held. */
function below(plate: LaidTake, frames: number, rate: Rate): Layer {
  const run = plate.clear ?? { start: 0, end: plate.frames - 1 };
  const long = lasts({ ...plate, frames: run.end + 1 }, rate, run.start) >= frames;
  const piece = long ? { from: run.start, speed: 1 } : { from: Math.floor((run.start + run.end) / 2), speed: 0 };
  return { name: plate.label, pieces: [{ take: plate.id, start: 0, frames, ...piece }], mask: null };
}

/** How two takes are joined. */
export type JoinedAs = Pick<JoinedWish, 'how' | 'slide' | 'at' | 'rate_pct' | 'front'>;

/**
 * Lays two takes of one setup, and the empty picture, as a trick joins them.
 * @returns null where the frame on which it turns is not known
 */
export function assembleJoined(
  first: LaidTake,
  second: LaidTake,
  plate: LaidTake | null,
  { how, slide, at, rate_pct: pct, front }: JoinedAs,
): Assembly | null {
  const { rate } = first;
  const { mask, layers: ways } = JOINING_WAYS[how];
  const finished = (layers: Layer[], cut: number | null): Assembly => {
    const frames = Math.max(...layers.flatMap((l) => l.pieces.map((p) => p.start + p.frames)));
    const all = plate && plate.id !== second.id ? [below(plate, frames, rate), ...layers] : layers;
    return { rate, frames, layers: all, cut };
  };
  const whole = (take: LaidTake, start: number, speed = 1): Piece => {
    return { take: take.id, start, frames: lasts(take, rate, 0, speed), from: 0, speed };
  };
  if (ways.lie === 'held') {
    if (at === null) return null;
    const under = whole(second, 0);
    const held = { take: first.id, start: 0, frames: under.frames, from: at, speed: 0 };
    return finished(
      [
        { name: second.label, pieces: [under], mask: null },
        { name: `${first.label}, frame ${at} held`, pieces: [held], mask },
      ],
      null,
    );
  }
  const turns = ways.lie === 'over-empty';
  if (turns || plate?.id === second.id) {
    if (turns && at === null) return null;
    const shown = ways.lie === 'over-empty' && ways.until === 'turn' ? at! : first.frames;
    const above: Piece = { take: first.id, start: 0, frames: shown, from: 0, speed: 1 };
    const layers = above.frames > 0 ? [{ name: first.label, pieces: [above], mask }] : [];
    return finished([below(second, first.frames, rate), ...layers], turns ? at : null);
  }
  if (ways.lie === 'follows') {
    if (at === null) return null;
    const from = Math.round(((at - slide) * seconds(rate)) / seconds(second.rate));
    if (from < 0 || from >= second.frames) return null;
    const follows = { take: second.id, start: at, frames: lasts(second, rate, from), from, speed: 1 };
    const layer = {
      name: `${first.label}, then ${second.label}`,
      pieces: [{ take: first.id, start: 0, frames: at, from: 0, speed: 1 }, follows],
      mask,
    };
    return finished([layer], at);
  }
  // Whichever starts first starts the timeline.
  const late = Math.max(0, -slide);
  const isFront = ways.upper === 'front';
  const layers = [
    { name: first.label, pieces: [whole(first, late)] },
    { name: second.label, pieces: [whole(second, Math.max(0, slide), isFront ? pct / 100 : 1)] },
  ];
  if (ways.upper === 'first' || (isFront && front === 'first')) layers.reverse();
  // Of two performers over an empty picture both are cut out.
  const masked = layers.map((layer, i) => ({ ...layer, mask: i === 1 || (isFront && plate) ? mask : null }));
  return finished(masked, null);
}

/** How the second side of a wipe begins under the first. */
export interface WipeCut {
  /** The out side's frame under which the in side begins, and from which on only that is seen; null to its end. */
  from: number;
  done: number | null;
  /** The in side's frame that lies there, and its speed, per cent of real. */
  in_start: number;
  speed_pct: number;
}

/** Lays the in side of a wipe under the out side. */
export function assembleWipe(out: LaidTake, into: LaidTake, { from, done, in_start, speed_pct }: WipeCut): Assembly {
  const { rate } = out;
  const speed = speed_pct / 100;
  const under = { take: into.id, start: from, frames: lasts(into, rate, in_start, speed), from: in_start, speed };
  const over = { take: out.id, start: 0, frames: Math.min(out.frames, done ?? out.frames), from: 0, speed: 1 };
  return {
    rate,
    frames: Math.max(over.frames, under.start + under.frames),
    layers: [
      { name: into.label, pieces: [under], mask: null },
      { name: out.label, pieces: [over], mask: 'cover' },
    ],
    cut: from,
  };
}

/** One take by itself, over the empty picture where there is one. */
export function assembleAlone(take: LaidTake, plate: LaidTake | null): Assembly {
  const { rate, frames } = take;
  const own: Layer = {
    name: take.label,
    pieces: [{ take: take.id, start: 0, frames, from: 0, speed: 1 }],
    mask: plate ? 'figure' : null,
  };
  return { rate, frames, layers: plate ? [below(plate, frames, rate), own] : [own], cut: null };
}

/** The whole slowed, or hastened: 40 is slow motion. Pieces that met still meet. */
export function atSpeed(all: Assembly, pct: number): Assembly {
  const share = pct / 100;
  const stretched = (frame: number) => Math.round(frame / share);
  return {
    ...all,
    frames: stretched(all.frames),
    cut: all.cut === null ? null : stretched(all.cut),
    layers: all.layers.map((layer) => ({
      ...layer,
      pieces: layer.pieces.map((p) => {
        const start = stretched(p.start);
        return { ...p, start, frames: stretched(p.start + p.frames) - start, speed: p.speed * share };
      }),
    })),
  };
}
