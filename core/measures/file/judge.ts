import type { Reason, Verdict, VerdictWord } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { rateName } from '../../judge/rates';
import { listRuns } from '../../judge/runs';
import type { MediaSummary } from '../../report/summaries';
import { byWorst } from '../../judge/verdicts';

/**
 * What is wrong with a file whatever it is for: it breaks off, holds several shots, its rate wanders, pictures repeat
 * or are missing. Null when nothing is.
 */
export function judgeFile(media: MediaSummary): Verdict | null {
  const reasons: (Reason & { word: VerdictWord })[] = [];
  const add = (word: VerdictWord, reason: Omit<Reason, 'limit'> & { limit?: number | null }) =>
    reasons.push({ limit: null, ...reason, word });
  const broken = brokenOff(media);
  // Of what is not there nothing else is said.
  if (broken) return { verdict: 'unjudged', reasons: [broken], deciding: [] };
  if (media.broken_frames.length)
    add('reshoot', {
      code: 'broken-frames',
      text: `Pictures are broken in frames ${listRuns(media.broken_frames)}.`,
      frames: media.broken_frames,
      value: media.broken_frames.reduce((n, r) => n + r.end - r.start + 1, 0),
      fix: 'Copy it from the card again; if they stay broken, roll it again or cut round them.',
    });
  const rate = media.measured_fps;
  if (rate !== null && media.real_fps !== null && media.real_fps < LIMITS.rate.distinct_share * rate)
    add('reshoot', {
      code: 'repeats',
      text: `It holds only ${media.real_fps.toFixed(2)} distinct pictures a second in a file of ${rateName(rate)}: frames are repeated.`,
      frames: [],
      value: media.real_fps,
      limit: rate,
      fix: 'Set the camera to record at a fixed rate without conversion and roll it again.',
    });
  if (media.variable_rate && rate !== null)
    add('workable', {
      code: 'wandering-rate',
      text: `The rate wanders, ${rate.toFixed(2)} fps on average.`,
      frames: [],
      value: rate,
      fix: 'Convert it to a steady rate before the edit; better, set a fixed rate in the camera and roll it again.',
    });
  else if (media.missing_count > 0) {
    const [first, count] = [media.first_gap_after ?? 0, media.missing_count];
    add('workable', {
      code: 'gaps',
      text: `${count === 1 ? 'One picture is' : `${count} pictures are`} missing, the first after frame ${first}.`,
      frames: [{ start: first, end: first + 1 }],
      value: count,
      fix: 'Use the frames beside the gap, or roll it again on a faster card.',
    });
  }
  if (media.cuts.length) {
    add('workable', {
      code: 'cuts',
      text: `The file holds ${media.cuts.length + 1} shots: ${shotsBegin(media)}.`,
      frames: media.cuts.map((f) => ({ start: f, end: f })),
      value: media.cuts.length,
      fix: 'Use the shot that was measured, or give each shot as a file of its own.',
    });
  }
  if (reasons.length === 0) return null;
  reasons.sort((a, b) => byWorst(a.word, b.word));
  return {
    verdict: reasons[0].word,
    reasons: reasons.map(({ code, text, frames, value, limit, fix }) => ({ code, text, frames, value, limit, fix })),
    deciding: [],
  };
}

/** At which frames a file's further shots begin. */
export function shotsBegin({ cuts, stops = [] }: Pick<MediaSummary, 'cuts' | 'stops'>): string {
  const listed = (frames: readonly number[]) =>
    `${frames.slice(0, 3).join(', ')}${frames.length > 3 ? ' and more' : ''}`;
  const others = cuts.filter((f) => !stops.includes(f));
  return [
    ...(others.length ? [`a cut at frame ${listed(others)}`] : []),
    ...(stops.length ? [`the camera was stopped before frame ${listed(stops)}`] : []),
  ].join('; ');
}

/** Why nothing can be said of the whole of a file; null when it is whole. */
export function brokenOff(media: MediaSummary): Reason | null {
  if (media.complete) return null;
  const of = media.declared_frames === null ? '' : ` of ${media.declared_frames}`;
  return {
    code: 'breaks-off',
    text: `The file breaks off at frame ${media.frame_count}${of}.`,
    frames: [{ start: Math.max(0, media.frame_count - 1), end: Math.max(0, media.frame_count - 1) }],
    value: media.frame_count,
    limit: media.declared_frames,
    fix: 'Copy it from the card again.',
  };
}
