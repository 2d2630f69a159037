import type { SmallSize } from '../../base/image/picture';
import type { Way } from './edges';
import type { SweptFrame } from './sweep';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max } = Math;

/** A camera that went this share of the width before the cover pans, one whose picture grew by so much walks. */
const PANS = 0.03;
const WALKS = 0.05;

/** Does the camera stand, pan, or walk up to something, before the picture is covered? */
export function movementOf(swept: readonly SweptFrame[], size: SmallSize): 'still' | 'panning' | 'approaching' {
  let far = 0,
    grows = 1;
  for (const f of swept) {
    if (!f.sure || f.share > 0.97) continue;
    far = max(far, hypot(f.pose.dx, f.pose.dy));
    grows = max(grows, f.pose.scale);
  }
  if (grows > 1 + WALKS && (grows - 1) * (size.width / 2) > far) return 'approaching';
  return far > PANS * size.width ? 'panning' : 'still';
}

/** A brightness that differs by more than this from the one gone by is another exposure. */
const OTHER_EXPOSURE = 0.02;

/**
 * While the background is hidden nothing tells its brightness; afterwards it is known. Frames after the fullest one go
 * by the next that tells, the others by the last. Null when that changes nothing.
 */
export function gainsWhileHidden(swept: readonly SweptFrame[]): (number | null)[] | null {
  let peak = 0;
  swept.forEach((s, f) => {
    if (s.share > swept[peak].share) peak = f;
  });
  let differs = false;
  const gains = swept.map((s, f) => {
    if (s.sure) return null;
    let k = f;
    while (k >= 0 && k < swept.length && !swept[k].sure) k += f > peak ? 1 : -1;
    const known = swept[k]?.gain ?? null;
    if (known !== null && abs(known - s.gain) > OTHER_EXPOSURE) differs = true;
    return known;
  });
  return differs ? gains : null;
}

/** Where the background lies along the way, with the jumps taken out that going through the take from both ends leaves. */
export function cameraAlong(swept: readonly SweptFrame[], way: Way): number[] {
  const out = [0];
  for (let f = 1; f < swept.length; f++) {
    const a = swept[f - 1].pose,
      b = swept[f].pose;
    const step = way === 90 || way === 270 ? b.dy - a.dy : b.dx - a.dx;
    const usual: number = f > 1 ? out[f - 1] - out[f - 2] : step;
    out.push(out[f - 1] + (abs(step - usual) > 0.15 * swept.length + 20 ? usual : step));
  }
  return out;
}

/** Share of the frames that show much of the background in which it was well seen. */
export function sureShare(swept: readonly SweptFrame[], share: readonly number[]): number {
  let n = 0,
    sure = 0;
  swept.forEach((f, k) => {
    if (share[k] > 0.6) return;
    n++;
    if (f.sure) sure++;
  });
  return n ? sure / n : 0;
}

/** How what lies behind is turned in each frame, degrees; null where it was not seen. */
export function turnsOf(swept: readonly SweptFrame[]): (number | null)[] {
  return swept.map(({ pose, sure }) => (sure ? (pose.rotation * 180) / Math.PI : null));
}
