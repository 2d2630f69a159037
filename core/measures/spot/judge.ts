import type { Finding } from '../../judge/measure';
import type { SpotFound } from '../../report/moment-types';
import type { Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { said, type Found } from '../../judge/two-pictures';

const BY_EYE = 'Lay both frames over each other, mixed half and half, and look.';

/** Centimetres that a pixel of the take is at what the lens is focused on, and how far that is. */
export interface AtDistance {
  cm_per_px: number;
  distance_m: number;
}

/**
 * What a pixel is at a distance, as a lens draws it. Null where something is not noted.
 * @param widthPx of the take's picture, which shows the sensor's whole width
 */
export function atDistance(
  focalMm: number | null,
  distanceM: number | null,
  sensorMm: number | null,
  widthPx: number,
): AtDistance | null {
  if (!focalMm || !distanceM || !sensorMm) return null;
  return { cm_per_px: (100 * distanceM * sensorMm) / focalMm / widthPx, distance_m: distanceM };
}

/**
 * Does B's thing start where A's ended?
 * @param scale delivery pixels for one of the takes' @param limit delivery pixels @param at what a pixel is on set
 */
export function judgeSpot(
  s: SpotFound,
  scale: number,
  limit: number = LIMITS.spot.usual_px,
  at: AtDistance | null = null,
): Verdict {
  const found = reasonOf(s, scale, limit, at);
  const off = offOf(s);
  return {
    verdict: found.word,
    reasons: [found.reason],
    deciding: off === null ? [] : [{ name: 'apart', value: off * scale, unit: 'px', limit, frame: s.at_a }],
  };
}

/** The same as one requirement of a trick. */
export function judgeSameSpot(s: SpotFound, scale: number, limit: number): Finding {
  const { word, reason } = reasonOf(s, scale, limit);
  return { verdict: word, text: reason.text.replace(/\.$/, ''), fix: reason.fix };
}

/** How much larger the one is than the other, octaves: what is larger has the larger outline and the larger box. */
function sizeApart({ size_ratio: ratio, a, b }: SpotFound): number {
  const byArea = Math.log2(ratio ?? 1);
  if (!a || !b) return Math.abs(byArea);
  const byBox = Math.log2(Math.sqrt((b.width * b.height) / (a.width * a.height)));
  return byArea * byBox <= 0 ? 0 : Math.min(Math.abs(byArea), Math.abs(byBox));
}

const offOf = ({ dx_px: dx, dy_px: dy }: SpotFound) => (dx === null || dy === null ? null : Math.hypot(dx, dy));

/** "14 px to the left and 20 px higher": the way somebody must move something by so much. */
export function wayOf(dx: number, dy: number, at: AtDistance | null = null): string {
  const far = (px: number) => {
    const cm = at && Math.abs(px) * at.cm_per_px;
    return `${Math.abs(px).toFixed(0)} px${cm ? ` (about ${cm < 10 ? cm.toFixed(1) : cm.toFixed(0)} cm)` : ''}`;
  };
  const parts = [
    Math.abs(dx) < 1 ? '' : `${far(dx)} to the ${dx > 0 ? 'right' : 'left'}`,
    Math.abs(dy) < 1 ? '' : `${far(dy)} ${dy > 0 ? 'lower' : 'higher'}`,
  ].filter(Boolean);
  return parts.join(' and ') || 'where it is';
}

function reasonOf(s: SpotFound, scale: number, limit: number, at: AtDistance | null = null): Found {
  const off = offOf(s);
  if (s.unjudged || off === null || s.size_ratio === null) {
    const none = [s.a ? '' : 'first', s.b ? '' : 'second'].filter(Boolean).join(' and the ');
    return said('unjudged', 'not-seen', s.unjudged ?? `Nothing is seen whole in the ${none} take at its frame.`, {
      fix: s.unjudged
        ? BY_EYE
        : 'Choose frames in which it is in; what lies there from first to last is told by a plate.',
    });
  }
  const { size_ratio: ratio, best } = s;
  const lies = `At frame ${s.at_b} of the second it lies ${wayOf(s.dx_px!, s.dy_px!)} of frame ${s.at_a} of the first`;
  const size = sizeApart(s);
  const sized =
    size > LIMITS.spot.size_octaves
      ? `, ${(100 * Math.abs(ratio - 1)).toFixed(0)} % ${ratio > 1 ? 'larger' : 'smaller'}`
      : '';
  const seen = off * scale;
  const more = { frames: s.at_a === null ? [] : [{ start: s.at_a, end: s.at_a }], value: seen, limit };
  const sure = Math.max(0, seen - 2 * (s.uncertainty_px ?? 0) * scale);
  if (sure <= limit && !sized)
    return said('holds', 'same-spot', off < 1 ? 'The two lie on the same spot.' : `${lies}.`, more);
  const near = best ? Math.hypot(best.dx_px, best.dy_px) : off;
  const nearer =
    best && near < off / 2
      ? ` Frames ${best.at_a} and ${best.at_b} lie nearest: ${near.toFixed(0)} px apart. Cut there, or`
      : '';
  const word = sure > LIMITS.spot.far * limit || size > LIMITS.spot.size_far ? 'reshoot' : 'workable';
  const far = at ? `, at ${at.distance_m} m,` : '';
  const move = `move it ${wayOf(-s.dx_px!, -s.dy_px!, at)}${far} and roll the second again`;
  if (sure <= limit)
    return said(word, 'size', `${lies}${sized}.`, {
      ...more,
      fix:
        `Bring it ${ratio > 1 ? 'farther from' : 'nearer to'} the lens and roll the second again, ` +
        `or scale it to ${(100 / ratio).toFixed(0)} % in the edit.`,
    });
  return said(word, 'elsewhere', `${lies}${sized}.`, {
    ...more,
    fix: nearer ? `${nearer.trim()} ${move}.` : `${move.charAt(0).toUpperCase()}${move.slice(1)}.`,
  });
}
