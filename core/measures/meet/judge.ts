import type { MeetFound } from '../../report/moment-types';
import type { Verdict } from '../../report/types';
import { said, type Found } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

/** Can a vehicle be made to hit a performer whom it never met? */
export function judgeMeet(m: MeetFound): Verdict {
  const reasons = reasonsOf(m).sort((x, y) => byWorst(x.word, y.word));
  return { verdict: reasons[0].word, reasons: reasons.map((r) => r.reason), deciding: [] };
}

/** Between the two ways, degrees. */
function apartOf({ a_direction_deg: a, b_direction_deg: b }: MeetFound): number {
  const d = Math.abs((a ?? 0) - (b ?? 0)) % 360;
  return Math.round(d > 180 ? 360 - d : d);
}

function reasonsOf(m: MeetFound): Found[] {
  const { a_frame: a, b_frame: b, slide_frames: slide } = m;
  if (m.unjudged || a === null || b === null || slide === null) {
    const text =
      m.unjudged ??
      (a === null
        ? 'No frame was found in which the performer reacts.'
        : 'What comes never reaches the performer’s place.');
    return [said('unjudged', 'not-seen', text, { fix: 'Mark the frame by eye, or give the place with --at.' })];
  }
  const frames = [{ start: a, end: a }];
  const out: Found[] = [];
  if (m.opposed === false)
    out.push(
      said(
        'reshoot',
        'same-way',
        `The performer moves ${apartOf(m)}° off the vehicle’s way, not against it: nobody sees a blow in that.`,
        {
          frames,
          value: apartOf(m),
          limit: 120,
          fix: 'Turn against what comes first, then give way: roll the reaction again.',
        },
      ),
    );
  else if (m.opposed === null)
    out.push(
      said('unjudged', 'way-not-told', 'The way the performer moves after it cannot be told.', {
        frames,
        fix: 'Look at the half second after the frame by eye.',
      }),
    );
  if (m.strobes)
    out.push(
      said(
        'workable',
        'strobes',
        `At ${m.rate_pct!.toFixed(0)} % the vehicle strobes: it steps farther than it is smeared.`,
        {
          value: m.rate_pct,
          fix: 'Smear it along its way in the edit, or drive faster, or shoot it with a longer shutter.',
        },
      ),
    );
  const later = slide === 0 ? 'together' : `${Math.abs(slide)} frames ${slide > 0 ? 'later' : 'earlier'}`;
  out.push(
    said(
      'holds',
      'meets',
      `Frame ${a} is the last before they react, and the vehicle is there at its frame ${b}: at ${m.rate_pct!.toFixed(0)} % ` +
        `let it start ${later}.`,
      { frames, value: slide },
    ),
  );
  return out;
}
