import type { BeatKind } from '../../core/report/moment-types';
import { findBeats } from '../../core/take/beats';
import { baseOf, move } from '../base';
import { allOf, keptTake, NEAR, offsAre, type ScoreClip } from '../clip';
import type { ClipRecipe } from '../compose';
import { paintFigure, type Pose } from '../subjects';

/** Something that happens in a clip: the frame, and what a measure may call it. */
interface TrueBeat {
  frame: number;
  kinds: readonly BeatKind[];
}

type Gesture = [
  name: string,
  at: (share: (s: number) => number) => TrueBeat[],
  pose: (at: number, s: (x: number) => number) => Partial<Pose>,
];
const STRIKE: readonly BeatKind[] = ['strikes', 'stops', 'turns'];
const REST: readonly BeatKind[] = ['stops', 'strikes'];
const START: readonly BeatKind[] = ['starts'];
/** Gestures, with the moments that count as shares of the clip. */
const GESTURES: readonly Gesture[] = [
  [
    'hands that clap',
    (s) => [{ frame: s(0.5), kinds: STRIKE }],
    (at, s) => ({
      arms: arms(1.5 - 1.45 * move(at, s(0.4), s(0.5), true) + 0.5 * move(at, s(0.5), s(0.62))),
      elbows: 0.2,
    }),
  ],
  [
    'arms that close',
    (s) => [
      { frame: s(0.35), kinds: START },
      { frame: s(0.6), kinds: REST },
    ],
    (at, s) => ({ arms: arms(1.8 - 1.6 * move(at, s(0.35), s(0.6), true)) }),
  ],
  [
    'a foot that stamps',
    (s) => [{ frame: s(0.5), kinds: STRIKE }],
    (at, s) => ({ foot: 0.16 * (move(at, s(0.25), s(0.42)) - move(at, s(0.44), s(0.5), true)) }),
  ],
  [
    'two taps alike',
    (s) => [
      { frame: s(0.4), kinds: STRIKE },
      { frame: s(0.7), kinds: STRIKE },
    ],
    (at, s) => ({ arms: [0.15, 0.4 + 0.9 * tap(at, s(0.25), s(0.4)) + 0.9 * tap(at, s(0.55), s(0.7))] }),
  ],
  [
    'an arm that falls',
    (s) => [{ frame: s(0.55), kinds: STRIKE }],
    (at, s) => ({ arms: [0.15, 2.6 - 2.4 * move(at, s(0.43), s(0.55), true)] }),
  ],
  [
    'who starts to walk',
    (s) => [{ frame: s(0.45), kinds: START }],
    (at, s) => ({ x: 0.25 * Math.max(0, (at - s(0.45)) / s(0.55)) }),
  ],
  [
    'who stops at once',
    (s) => [{ frame: s(0.5), kinds: REST }],
    (at, s) => ({ x: -0.3 + 0.3 * Math.min(1, at / s(0.5)) }),
  ],
  [
    'who turns back',
    (s) => [{ frame: s(0.5), kinds: ['turns', 'strikes'] }],
    (at, s) => ({ x: 0.2 * (1 - Math.abs(at - s(0.5)) / s(0.5)) }),
  ],
];
const arms = (a: number): [number, number] => [a, a];
const tap = (at: number, from: number, to: number) =>
  at <= to ? move(at, from, (from + to) / 2) - move(at, (from + to) / 2, to, true) : 0;

/** Somebody does something before a wall: what happens, and when. */
export async function gesture(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth, trousers, look } = await baseOf(k, sealed, 1);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.2 * fps);
  const [what, beatsAt, poseAt] = GESTURES[(k + (sealed ? 3 : 0)) % GESTURES.length];
  const s = (share: number) => Math.round(share * frames);
  const name = `${what}, ${look} clothes`;
  const all: ClipRecipe = {
    ...recipe,
    frames,
    paint: (ctx, at) => {
      const { x = 0, ...pose } = poseAt(at, s);
      const standing = { x: width * (0.5 + x), ground: 0.92 * height, height: 0.72 * height };
      paintFigure(ctx, { ...standing, ...pose }, cloth, trousers);
    },
  };
  const judge = async () => {
    const { beats } = await findBeats(await keptTake('gestures', name, all));
    const real = beatsAt(s);
    const off = real.map(({ frame, kinds }) =>
      nearest(
        beats.filter((b) => kinds.includes(b.kind)).map((b) => b.frame),
        frame,
      ),
    );
    const extra = beats.filter((b) => real.every((t) => Math.abs(t.frame - b.frame) > NEAR)).length;
    return allOf(offsAre(off, beats.map((b) => `${b.kind} ${b.frame}`).join(', ') || 'none'), { extra });
  };
  return { name, judge };
}

/** How far the nearest of some frames lies from one; null where none is near at all. */
function nearest(frames: number[], frame: number): number | null {
  const offs = frames.map((f) => f - frame).filter((o) => Math.abs(o) <= 8);
  return offs.length ? offs.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a)) : null;
}
