import { judgeHide } from '../core/measures/hide/judge';
import type { HideFound } from '../core/report/hide-types';
import { hideFound } from '../core/testing/hide-found';
import { parseBox, parsePixels, UsageError } from './arguments';
import { hide, hideText } from './hide';
import { matte, matteText } from './matte';
import { zone, zoneText } from './zone';

const told = { delivery: undefined, say: () => undefined, print: () => undefined };
const size = { width: 1280, height: 720 };
const found = hideFound();
const text = (more: Partial<HideFound>) => {
  const all = { ...found, ...more };
  return hideText({
    file: 'a.mp4',
    against: 'p.mp4',
    ...all,
    ...judgeHide(all, { size, delivery: size, plate: true }),
  });
};

test('what is read out of somebody who hides says when, behind what, and along which line', () => {
  const lines = [
    '  nothing shows in frames 60 to 90',
    '  the plate may stand alone from frame 60',
    '  behind what stands 160 x 500 px at (560, 100)',
    '  split through (640, 0) (640, 720); the take stays left of it, 70 px to spare',
  ];
  expect(text({})).toContain(lines.join('\n'));
  expect(text({})).toMatch(/Hide: HOLDS/);
  const spill = [{ frame: 41, what: 'shadow' as const, x: 0, y: 0, width: 90, height: 20 }];
  const crosses = text({
    split: { ...found.split!, fixed: false, margin_px: 0 },
    spill,
    spill_frames: [{ start: 30, end: 89 }],
  });
  expect(crosses).toMatch(/RESHOOT\n {2}Their shadow crosses/);
  expect(crosses).toMatch(/what crosses: frames 30 to 89; worst at frame 41, 90 x 20 px of shadow/);
  // Nothing is printed as if it were known.
  expect(text({ known_share: 0.1 })).not.toMatch(/split|behind/);
});

test('what is read out of a zone and of a matte', () => {
  const zoneReport = {
    file: 'a.mp4',
    verdict: 'reshoot' as const,
    reasons: [],
    deciding: [],
    entered_runs: [{ start: 3, end: 9 }],
    first_frame: 3,
    closest_px: 0,
    closest_frame: 3,
    outside: [],
    entered: [{ start: 3, end: 9, what: 'body' as const, share: 0.25, frame: 6 }],
    pulled: null,
    changes: [{ start: 20, end: 24, stops: -0.2 }],
    edge: { readable_share: 0.6, weakest: { x_px: 1, y_px: 2 }, step_over_grain: 0.7, lift_stops: 1.25 },
    known_share: 1,
    unjudged: null,
    path: { share: [], gap_px: [] },
  };
  const lines = [
    '  somebody in frames 3 to 9, 25.0 % of it at frame 6',
    '  light in frames 20 to 24: -0.20 stop',
    '  its edge can be read along 60 % of its length; lit 1.3 stops more, along most of it',
  ];
  expect(zoneText(zoneReport)).toContain(lines.join('\n'));
  const matteReport = { take: 'a.mp4', frames: 75, width: 640, height: 360, edge_error_px: 1.44, file: 'm.mkv' };
  const read = matteText({ ...matteReport, unsure_runs: [{ start: 4, end: 6 }] }).split('\n');
  expect(read).toEqual([
    'a.mp4: matte of 75 frames, 640 x 360 px',
    '  its edge lies within 1.4 px or so',
    '  look at frames 4 to 6: there it is unsure',
    '  written to m.mkv',
  ]);
  expect(matteText({ ...matteReport, edge_error_px: null, unsure_runs: [], file: null })).toMatch(/nobody is in$/);
});

test('what cannot be understood says what to type instead', async () => {
  await expect(hide(['a.mp4'], {}, told)).rejects.toThrow('Use: umbrastat hide TAKE --plate FILE.');
  await expect(zone(['a.mp4'], {}, told)).rejects.toThrow('Use: umbrastat zone TAKE --box x,y,width,height.');
  await expect(matte(['a.mp4', 'b.mp4'], {}, told)).rejects.toThrow('matte wants one take, 2 were given.');
  await expect(matte(['a.mp4'], { out: 'a.gif' }, told)).rejects.toThrow('ends in .mkv, .mp4 or .png');
  expect(parseBox('10, 20.5,30,40')).toEqual({ x: 10, y: 20.5, width: 30, height: 40 });
  for (const wrong of ['', '1,2,3', '1,2,0,4', '1,2,3,4,5', 'a,b,c,d'])
    expect(() => parseBox(wrong)).toThrow(UsageError);
  expect([parsePixels('--feather', undefined), parsePixels('--feather', '2.5')]).toEqual([undefined, 2.5]);
  for (const wrong of ['', '-1', 'soft', '5000']) expect(() => parsePixels('--feather', wrong)).toThrow(UsageError);
});
