import type { JoinedPlan } from '../measures/joined/plan-joined';
import { UnusableMedia } from './unusable';
import type { MeasuredTake } from './measured-take';
import type { JoinedWish } from '../measures/joined/joined';
import { handsLine } from '../measures/joined/hands-line';
import { boxMean } from '../base/image/regions';
import { insideOf } from '../base/geometry/outline';
import { kindsIn } from '../presence/kinds';
import { BODY, SHADOW } from '../presence/shade';
import { findCloth } from './cloth';
import { figureAt } from './stills';
import { whoIsIn } from './who-is-in';

export interface PictureSize {
  width: number;
  height: number;
}

/** What lies over or under at each pixel, told from the pictures themselves, at the proof's size. */
export interface JoinedParts {
  /** How strongly the second shows, 0 to 255, in frame `n` of the proof; null where it does everywhere. */
  strength?: (n: number, size: PictureSize) => Uint8Array | null;
  /** A figure laid over the second all the while: red, green, blue, and alpha from 0 to 255. */
  figure?: (size: PictureSize) => { rgb: Uint8Array; alpha: Uint8Array };
}

/** The line of the hands is soft over so many rows of the proof. */
const EDGE_ROWS = 4;
/** A shadow is laid over by so much: rough, as a proof is. */
const SHADE = 0.5;

/**
 * What is told from the pictures for a proof: a figure that is held, one that lies over the other, a cloth. Empty where
 * the wish needs none of these.
 * @throws UnusableMedia when it cannot be told
 */
export async function partsOf(
  wish: JoinedWish,
  plan: JoinedPlan,
  [first, second]: readonly [MeasuredTake, MeasuredTake],
  plate: MeasuredTake | null,
  signal?: AbortSignal,
): Promise<JoinedParts> {
  if (wish.how === 'held') {
    const figure = wish.at === null ? null : await figureAt(first, plate, wish.at, signal);
    if (!figure) throw new UnusableMedia('The frame to be held is not there. Choose another.', 'no-frame');
    const by = 255 / figure.most;
    return {
      figure: (size) => {
        const rgb = new Uint8Array(3 * size.width * size.height),
          alpha = new Uint8Array(size.width * size.height);
        for (let y = 0, i = 0; y < size.height; y++)
          for (let x = 0; x < size.width; x++, i++) {
            const [u, v] = [
              Math.floor(((x + 0.5) * figure.width) / size.width),
              Math.floor(((y + 0.5) * figure.height) / size.height),
            ];
            const from = 4 * (v * figure.width + u);
            for (let c = 0; c < 3; c++) rgb[3 * i + c] = figure.data[from + c] * by;
            alpha[i] = figure.data[from + 3] * by;
          }
        return { rgb, alpha };
      },
    };
  }
  if (wish.how === 'over') {
    const isFirst = wish.front === 'first';
    const who = await whoIsIn(isFirst ? first : second, plate, signal);
    const kinds = new Uint8Array(who.width * who.height);
    const strength = new Float32Array(kinds.length);
    return {
      strength: (n, size) => {
        kindsIn(who, (isFirst ? plan.first : plan.second)[n], kinds);
        for (let i = 0; i < kinds.length; i++) strength[i] = kinds[i] === BODY ? 1 : kinds[i] === SHADOW ? SHADE : 0;
        return laid(strength, who, size, isFirst);
      },
    };
  }
  if (wish.how === 'figure') {
    const who = await whoIsIn(first, plate, signal);
    const within =
      wish.outline &&
      insideOf(
        wish.outline.map(([x, y]): [number, number] => [x / who.factor, y / who.factor]),
        who.width,
        who.height,
      );
    const kinds = new Uint8Array(who.width * who.height);
    const strength = new Float32Array(kinds.length);
    return {
      strength: (n, size) => {
        kindsIn(who, plan.first[n], kinds);
        // What is drawn round is the thing: whoever reaches in from outside holds it.
        for (let i = 0; i < kinds.length; i++)
          strength[i] = within && !within[i] ? 0 : kinds[i] === BODY ? 1 : kinds[i] === SHADOW ? SHADE : 0;
        return laid(strength, who, size, true);
      },
    };
  }
  if (wish.how === 'edge') {
    const found = await findCloth(first, needed(plate), { signal });
    const edges = handsLine(found.path.upper_edge_px);
    const tall = first.analysis.probe.height;
    return {
      strength: (n, { width, height }) => {
        const out = new Uint8Array(width * height);
        const edge = edges[plan.first[n]];
        if (edge === null || edge === undefined || plan.first[n] < (wish.at ?? 0)) return out;
        const row = Math.round((edge * height) / tall);
        for (let y = row; y < height; y++)
          out.fill(Math.min(255, (255 * (y - row + 1)) / EDGE_ROWS), y * width, (y + 1) * width);
        return out;
      },
    };
  }
  if (wish.how !== 'cloth') return {};
  // A mask a frame is kept as runs of pixels.
  const runs: number[][] = [];
  let grid = 1;
  const onMask = (cloth: Uint8Array, width: number, frame: number) => {
    grid = width;
    const own: number[] = [];
    for (let i = 0; i < cloth.length; i++) if (cloth[i] !== (cloth[i - 1] ?? 0)) own.push(i);
    runs[frame] = own;
  };
  await findCloth(first, needed(plate), { onMask, signal });
  const { width, height } = first.analysis.probe;
  const tall = Math.max(1, Math.round((grid * height) / width));
  const mask = new Float32Array(grid * tall);
  return {
    strength: (n, size) => {
      const frame = plan.first[n];
      if (wish.at === null || frame < wish.at) return new Uint8Array(size.width * size.height);
      const own = runs[frame] ?? [];
      mask.fill(0);
      for (let k = 0; k < own.length; k += 2) mask.fill(1, own[k], own[k + 1] ?? mask.length);
      return laid(mask, { width: grid, height: tall }, size, true);
    },
  };
}

/** The empty picture, which cloths and hands are told by. */
function needed(plate: MeasuredTake | null): MeasuredTake {
  if (plate) return plate;
  throw new UnusableMedia('The performer is told by an empty frame. Roll the plate of this setup.', 'plate');
}

/** A mask at the proof's size, its edges soft over two of its pixels: how strongly the second shows, 0 to 255. */
function laid(
  values: Float32Array,
  { width, height }: { width: number; height: number },
  size: PictureSize,
  isFirst: boolean,
): Uint8Array {
  const soft = boxMean(values, width, height, 1, new Float32Array(width * height));
  const out = new Uint8Array(size.width * size.height);
  for (let y = 0, i = 0; y < size.height; y++) {
    const row = Math.min(height - 1, Math.floor(((y + 0.5) * height) / size.height)) * width;
    for (let x = 0; x < size.width; x++, i++) {
      const v = Math.min(1, soft[row + Math.min(width - 1, Math.floor(((x + 0.5) * width) / size.width))]);
      out[i] = Math.round(255 * (isFirst ? 1 - v : v));
    }
  }
  return out;
}
