import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { fadeInFrames } from '../measures/plate/judge';
import { clothFrame, measureCloth, type ClothFrame } from '../measures/cloth/measure';
import { alike, apartBy, binOf, Look, ratios } from '../measures/cloth/cloth-look';
import { median } from '../base/numeric/quantile';
import { kindsIn, maskOf } from '../presence/kinds';
import { BODY } from '../presence/shade';
import type { ClothFound } from '../report/moment-types';
import { whoIsIn, type WhoIsIn } from './who-is-in';

export interface ClothOptions {
  /** A place on the cloth in one frame, source pixels. */
  look?: { x: number; y: number; frame: number };
  /** Given where the cloth is in each frame, 1 for it, on a grid so wide. */
  onMask?: (cloth: Uint8Array, width: number, frame: number) => void;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** The cloth is held up while as much is in as this share of the most. */
const UP = 0.85;
/** The performer is alone while no more than this share of that is. */
const ALONE = 0.65;
/** What is in grows by so much at least where a cloth comes up. */
const GROWS = 1.35;

/** Tells a cloth from its performer, and what it hides. @throws UnusableMedia when a file cannot be used */
export async function findCloth(
  take: MeasuredTake,
  plate: Against,
  { look, onMask, signal, onProgress }: ClothOptions = {},
): Promise<ClothFound> {
  const { analysis, name } = take;
  const count = analysis.poses.length;
  if (look && look.frame >= count)
    throw new UnusableMedia(`"${name}" has frames 0 to ${count - 1}; ${look.frame} is none of them.`, 'frame');
  onProgress?.('outlining who is in');
  const who = await whoIsIn(take, plate, signal);
  onProgress?.('telling the cloth from the performer');
  const looks = who.laid?.offset ? await learn(take, who, look ?? null, signal) : null;
  const frames: (ClothFrame | null)[] = [];
  const likes = new Float32Array(who.width * who.height).fill(-1);
  if (who.laid?.offset)
    await eachColour(
      take,
      who,
      (rgb, body) => {
        if (looks)
          for (let i = 0; i < likes.length; i++)
            if (body[i]) likes[i] = looks.ratio[binOf(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2])];
        const [before, last] = [frames.at(-2)?.box, frames.at(-1)?.box];
        const moved = before && last ? Math.abs(last.y - before.y) : 0;
        const keep = onMask && ((mask: Uint8Array) => onMask(mask, who.width, frames.length));
        frames.push(clothFrame(body, likes, who.width, who.height, moved, keep));
      },
      signal,
    );
  const { width, height, factor } = who;
  const sums = measureCloth({ frames, width, height, factor, fps: analysis.fps, cloth: looks !== null });
  // The light from the switch on, against the plate's.
  const after = (analysis.scene?.light.stops.slice(sums.switch_frame ?? 0) ?? []).filter((s) => s !== null);
  const gap = after.length ? median(after) + (who.apart?.gap ?? 0) : 0;
  return {
    ...sums,
    fade_in_frames: fadeInFrames(gap, gap),
    told_apart: looks?.told ?? null,
    unjudged: who.laid?.offset
      ? analysis.unjudged
      : 'Take and plate could not be laid on each other: they show too little in common.',
  };
}

/** Calls `use` with every frame in small colour, and where it shows somebody or something that is in. */
async function eachColour(
  take: MeasuredTake,
  who: WhoIsIn,
  use: (rgb: Uint8Array, body: Uint8Array, frame: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  const { width, height } = who;
  const { poses } = take.analysis;
  const kinds = new Uint8Array(width * height),
    body = new Uint8Array(width * height);
  let f = 0;
  for await (const rgb of take.source.colour({ width, height, from: 0, to: poses.length - 1 }, signal)) {
    kindsIn(who, f, kinds);
    use(rgb, maskOf(kinds, BODY, body), f++);
  }
}

/** What the cloth looks like, and what the performer does; null where there is no cloth. */
async function learn(take: MeasuredTake, who: WhoIsIn, look: ClothOptions['look'] | null, signal?: AbortSignal) {
  const areas: number[] = [];
  await eachColour(take, who, (_, body) => areas.push(body.reduce((n, b) => n + b, 0)), signal);
  const most = Math.max(0, ...areas);
  if (most === 0) return null;
  const up = areas.map((a) => a >= UP * most);
  const first = up.indexOf(true);
  // A part of the cloth that lies there already is no harm: most of what is seen then is the performer's.
  const alone = areas.map((a, f) => f < first && a > 0.05 * most && a <= ALONE * most);
  const cloth = new Look(),
    performer = new Look();
  if (look) {
    const at = { x: Math.floor(look.x / who.factor), y: Math.floor(look.y / who.factor) };
    let seed: number[] | null = null;
    await eachColour(
      take,
      who,
      (rgb, _, f) => {
        if (f === look.frame && at.x < who.width && at.y < who.height) seed = meanAround(rgb, who, at);
      },
      signal,
    );
    if (!seed)
      throw new UnusableMedia(`The place given with --look lies outside the picture of "${take.name}".`, 'look');
    await eachColour(
      take,
      who,
      (rgb, body) => {
        for (let i = 0; i < body.length; i += 2)
          if (body[i]) {
            const c = [rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]] as const;
            (alike(c, seed!) ? cloth : performer).add(...c);
          }
      },
      signal,
    );
  } else {
    if (!alone.includes(true)) return null;
    const usual = areas.filter((_, f) => alone[f]).reduce((a, b) => Math.max(a, b), 0);
    if (most < GROWS * usual) return null;
    await eachColour(
      take,
      who,
      (rgb, body, f) => {
        if (!up[f] && !alone[f]) return;
        const into = up[f] ? cloth : performer;
        for (let i = 0; i < body.length; i += 2) if (body[i]) into.add(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]);
      },
      signal,
    );
  }
  if (cloth.total === 0 || performer.total === 0) return null;
  const [a, b] = [cloth.spread(), performer.spread()];
  return { ratio: ratios(a, b), told: apartBy(a, b) };
}

function meanAround(rgb: Uint8Array, { width, height }: WhoIsIn, { x, y }: { x: number; y: number }): number[] {
  const sum = [0, 0, 0];
  let n = 0;
  for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++)
    for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++, n++)
      for (let c = 0; c < 3; c++) sum[c] += rgb[3 * (v * width + u) + c];
  return sum.map((s) => s / n);
}
