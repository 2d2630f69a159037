import type { TakeAnalysis } from '../core/take/analysis';
import { median } from '../core/base/numeric/quantile';
import type { Similarity } from '../core/base/geometry/similarity';
import type { Outline } from '../core/presence/fine-background';
import type { Judged } from './clip';
import type { Truth } from './compose';

/** Frames in which less than this share of the picture is somebody say nothing of their outline. */
const LEAST_SHARE = 0.004;
/** A clip is whole right when its masks overlap by so much in the median, with nobody called in where nobody is. */
const OVERLAP = 0.85;

/** Overlap and edges of who is in, frame by frame, at the truth's size. */
export function masksOf(analysis: TakeAnalysis, truth: Truth): Judged {
  const { width, height } = truth;
  const told = new Uint8Array(width * height);
  const [bodies, shadows, edges]: [number[], number[], number[]] = [[], [], []];
  let [ghosts, missed] = [0, 0];
  truth.frames.forEach((inFrame, f) => {
    const pose = analysis.poses[f];
    // Outlines lie on the reference frame, and so must the truth.
    const real = pose ? laidBack(inFrame, pose, analysis.probe.width / width, width, height) : inFrame;
    const known = drawn(analysis, f, width, height, told);
    const count = (of: Uint8Array, kind: number) => of.reduce((n, v) => n + Number(v === kind), 0);
    const size = count(real, 255);
    if (!known) missed++;
    else if (size >= LEAST_SHARE * real.length) {
      bodies.push(overlap(told, real, 255));
      edges.push(2 * edgeOff(told, real, width));
      if (count(real, 128) >= LEAST_SHARE * real.length) shadows.push(overlap(told, real, 128));
    } else if (size === 0 && count(told, 255) > LEAST_SHARE * real.length) ghosts++;
  });
  const body = bodies.length ? median(bodies) : 0;
  const right = body >= OVERLAP && ghosts === 0 && missed === 0;
  const wrong = right
    ? ''
    : `overlap ${body.toFixed(2)}, somebody in ${ghosts} empty frames, ${missed} frames not told`;
  return {
    right,
    wrong,
    overlap: body,
    edge_px: edges.length ? median(edges) : undefined,
    shadow: shadows.length ? median(shadows) : undefined,
  };
}

/** The truth of a frame as it lies on the reference frame. @param factor source pixels for one of its pixels */
function laidBack(
  truth: Uint8Array,
  { dx, dy, rotation, scale }: Similarity,
  factor: number,
  width: number,
  height: number,
): Uint8Array {
  const out = new Uint8Array(truth.length);
  const [c, s] = [scale * Math.cos(rotation), scale * Math.sin(rotation)];
  const [mx, my] = [(width - 1) / 2, (height - 1) / 2];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const u = Math.round(c * (x - mx) - s * (y - my) + mx + dx / factor),
        v = Math.round(s * (x - mx) + c * (y - my) + my + dy / factor);
      if (u >= 0 && v >= 0 && u < width && v < height) out[y * width + x] = truth[v * width + u];
    }
  return out;
}

/** Draws what is told of a frame; false where nothing is. */
function drawn(
  { fine, figures, probe, factor }: TakeAnalysis,
  f: number,
  width: number,
  height: number,
  out: Uint8Array,
): boolean {
  out.fill(0);
  const all: readonly Outline[] | null | undefined = fine ? fine.frames[f] : figures[f];
  if (!all) return false;
  const step = ((fine ? fine.factor : factor) * width) / probe.width;
  for (const { rows } of all)
    for (let r = 0; r < rows.length; r += 4) {
      const [y0, y1] = [Math.round(rows[r] * step), Math.round((rows[r] + 1) * step)];
      const [x0, x1] = [Math.round(rows[r + 1] * step), Math.round((rows[r + 2] + 1) * step)];
      for (let y = Math.max(0, y0); y < Math.min(height, y1); y++)
        out.fill(rows[r + 3] === 1 ? 255 : 128, y * width + Math.max(0, x0), y * width + Math.min(width, x1));
    }
  return true;
}

function overlap(a: Uint8Array, b: Uint8Array, kind: number): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i] === kind, b[i] === kind];
    if (p && q) both++;
    if (p || q) either++;
  }
  return either ? both / either : 1;
}

/** The area between two outlines over the length of the true one: the mean way from one to the other, pixels. */
function edgeOff(told: Uint8Array, real: Uint8Array, width: number): number {
  let [apart, rim] = [0, 0];
  for (let i = width; i < real.length - width; i++) {
    const inside = real[i] === 255;
    if (inside !== (told[i] === 255)) apart++;
    if (inside && [i - 1, i + 1, i - width, i + width].some((k) => real[k] !== 255)) rim++;
  }
  return rim ? apart / rim : 0;
}
