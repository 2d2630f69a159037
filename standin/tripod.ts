import type { Similarity } from '../core/base/geometry/similarity';
import { seededNormal, seededRandom } from '../core/base/numeric/random';
import type { CameraSettings } from './settings';

/**
 * Where the picture lies in each frame, against the first one, in source pixels: the truth of a stand-in take.
 * Amounts are for a picture 1280 px wide and grow with it.
 */
export function tripodPath(settings: CameraSettings): Similarity[] {
  const { tripod, seconds, fps, width, seed } = settings;
  const count = Math.round(seconds * fps);
  const unit = width / 1280;
  const random = seededRandom(seed * 7919 + 1);
  const vary = () => 0.85 + 0.3 * random();
  const degree = Math.PI / 180;
  const frames: Similarity[] = [];
  const put = (dx: number, dy: number, rotation = 0, scale = 1) =>
    frames.push({ dx: dx * unit, dy: dy * unit, rotation, scale });
  switch (tripod) {
    case 'still':
      for (let f = 0; f < count; f++) put(0, 0);
      break;
    case 'nudged': {
      // Against where it stood before this take.
      const far = 7 * vary();
      for (let f = 0; f < count; f++) put(far, -0.4 * far);
      break;
    }
    case 'drift': {
      const far = 9 * vary();
      for (let f = 0; f < count; f++) put((far * f) / (count - 1), (-0.3 * far * f) / (count - 1));
      break;
    }
    case 'knock': {
      const at = Math.round(count * 0.45);
      const peak = 62 * vary();
      for (let f = 0; f < count; f++) {
        if (f < at) {
          put(0, 0);
          continue;
        }
        const t = (f - at) / fps;
        const ring = Math.exp(-t / 0.16);
        put(
          14 + peak * ring * Math.cos(t * 24),
          -5 + 0.4 * peak * ring * Math.sin(t * 19),
          (0.1 + 0.4 * ring * Math.cos(t * 21)) * degree,
        );
      }
      break;
    }
    case 'handheld': {
      // Breath, heartbeat and tremor of a standing person: slow sways of several periods and a little noise.
      const normal = seededNormal(seed * 104729 + 3);
      const waves = Array.from({ length: 4 }, (_, i) => ({
        period: (5 / (i + 1) ** 1.3) * vary(),
        size: 34 / (i + 1) ** 1.4,
        px: random() * 6.28,
        py: random() * 6.28,
      }));
      const sway = (t: number, key: 'px' | 'py') =>
        waves.reduce((s, w) => s + w.size * (Math.sin((6.28 * t) / w.period + w[key]) - Math.sin(w[key])), 0);
      for (let f = 0; f < count; f++) {
        const t = f / fps;
        const tremor = f === 0 ? 0 : 0.6;
        put(
          sway(t, 'px') + tremor * normal(),
          0.6 * sway(t, 'py') + tremor * normal(),
          0.3 * degree * Math.sin(t * 1.7),
          1 + 0.004 * Math.sin(t * 1.1),
        );
      }
      break;
    }
    case 'breathing': {
      const size = 0.006 * vary();
      for (let f = 0; f < count; f++) put(0, 0, 0, 1 + size * Math.sin((6.28 * f) / fps / 3.2));
      break;
    }
  }
  return frames;
}
