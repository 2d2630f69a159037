import fc from 'fast-check';
import { coverSummary } from '../../testing/cover-summary';
import { judgeCover, wayInWords, type CoverSummary } from './judge';
import { LIMITS } from '../../judge/limits';

const WIDTH = 1920;
const FRAMES = 75;

/** One that leaves a strip of the picture open. */
const short = (more: Partial<CoverSummary> = {}) =>
  coverSummary({
    first_full_frame: null,
    last_full_frame: null,
    peak_cover_share: 0.93,
    reaches: { top: false, bottom: true, left: true, right: true },
    missed: [{ where: 'top', share: 0.07, frames: { start: 48, end: 58 } }],
    ...more,
  });

const judge = (c: CoverSummary, frames = FRAMES) => judgeCover(c, WIDTH, frames);
const codes = (c: CoverSummary, frames = FRAMES) => judge(c, frames).reasons.map((r) => r.code);

test('one that covers everything and leaves holds, and says in which frames', () => {
  const v = judge(coverSummary());
  expect(v.verdict).toBe('holds');
  expect(v.reasons).toEqual([
    {
      code: 'covers',
      text: 'The object covers everything in frames 31 to 41 and has left after frame 66.',
      frames: [{ start: 31, end: 41 }],
      value: 1,
      limit: 1,
      fix: null,
    },
  ]);
  expect(v.deciding).toEqual([{ name: 'covered', value: 100, unit: '%', limit: 100, frame: 36 }]);
});

test('one that was in the picture from the start says so', () => {
  expect(judge(coverSummary({ free_ends: 'end' })).reasons[0].text).toMatch(
    /in the picture from the first frame on\.$/,
  );
});

test('too short a take is not judged', () => {
  expect(judge(coverSummary(), 2)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'too-short' }] });
  expect(judge(coverSummary(), 0).reasons[0].frames).toEqual([]);
});

test('what stays open is said with where and when, and what to do about it', () => {
  const v = judge(short());
  expect(v.verdict).toBe('reshoot');
  expect(v.reasons[0]).toMatchObject({ code: 'misses', frames: [{ start: 48, end: 58 }], value: 0.93 });
  expect(v.reasons[0].text).toBe('The object covers 93 % of the picture at most; open: 7 % top.');
  expect(v.reasons[0].fix).toBe('Bring the object closer to the lens, or use a taller one, and roll again.');
});

test.each([
  ['approaching', 'Go on until it fills the picture and roll again.'],
  ['closing', 'Let it close all the way and roll again.'],
  ['panning', 'Bring the object closer to the lens, or use a taller one, and roll again.'],
] as const)('the advice for one that is %s is its own', (kind, fix) => {
  expect(judge(short({ kind })).reasons[0].fix).toBe(fix);
});

test('a punch-in is workable where the recording is large enough, and named where it is not', () => {
  const punch = { scale: 1.12, centre_x_px: 960, centre_y_px: 600, allowed: true };
  const allowed = judge(short({ punch_in: punch }));
  expect(allowed.verdict).toBe('workable');
  expect(allowed.reasons[0].fix).toMatch(/^Punch in to 112 % about frame 36;/);
  expect(allowed.deciding).toContainEqual({
    name: 'punch-in',
    value: 112.00000000000001,
    unit: '%',
    limit: null,
    frame: 36,
  });
  const not = judge(short({ punch_in: { ...punch, allowed: false } }));
  expect(not.verdict).toBe('reshoot');
  expect(not.reasons[0].fix).toMatch(/A punch-in to 112 % would hide it, but the recording has not the size/);
});

test('what hardly misses is never rounded up to all of it', () => {
  expect(judge(short({ peak_cover_share: 0.997 })).reasons[0].text).toContain('99.7 %');
  expect(
    judge(short({ missed: [{ where: 'top right', share: 0.0004, frames: { start: 5, end: 6 } }] })).reasons[0].text,
  ).toContain('open: 1 % top right');
});

test('one that stays in the picture is a reshoot, and each kind hears its own advice', () => {
  const passing = judge(coverSummary({ leave_frame: null }));
  expect(passing).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'stays' }] });
  expect(passing.reasons[0].fix).toMatch(/pass right out of the picture/);
  expect(judge(coverSummary({ leave_frame: null, kind: 'panning' })).reasons[0].fix).toMatch(/^Pan on/);
  // What closes or is walked up to is not meant to leave.
  expect(judge(coverSummary({ leave_frame: null, kind: 'closing' })).verdict).toBe('holds');
  expect(judge(coverSummary({ leave_frame: null, kind: 'approaching' })).verdict).toBe('holds');
});

test('nothing that covers is a reshoot; in a pan it cannot be told', () => {
  const none = { peak_cover_share: LIMITS.cover.tried_share - 0.01 };
  expect(judge(short(none))).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'no-cover' }] });
  expect(judge(short({ ...none, kind: 'panning' }))).toMatchObject({
    verdict: 'unjudged',
    reasons: [{ code: 'no-parallax' }],
  });
  // By hand a person said where the edge is: then it is known that it does not cover.
  expect(codes(short({ ...none, kind: 'panning', by_hand: { keys: 3, confirmed_share: 0.9 } }))).toEqual(['no-cover']);
});

describe('numbers that cannot be trusted are not judged by', () => {
  const { cover: bounds } = LIMITS;
  test.each<[string, Partial<CoverSummary>, string]>([
    ['the background is not seen', { sure_share: bounds.sure_share - 0.01 }, 'no-background'],
    ['neither end is free', { free_ends: 'neither' }, 'not-free'],
    ['a pan begins in front of it', { free_ends: 'end', kind: 'panning' }, 'not-free'],
    ['the picture changes too often', { changes_per_pixel: bounds.changes + 0.1 }, 'restless'],
    ['it changes all at once', { largest_jump_share: bounds.jump_share + 0.01 }, 'jump'],
  ])('%s', (_, more, code) => {
    const v = judge(coverSummary(more));
    expect(v.verdict).toBe('unjudged');
    expect(v.reasons.map((r) => r.code)).toEqual([code]);
    expect(v.reasons[0].fix).toBeTruthy();
    // Edges set by hand need none of that.
    expect(judge(coverSummary({ ...more, by_hand: { keys: 4, confirmed_share: 1 } })).verdict).toBe('holds');
  });

  test('what is open looks like the object; where all is covered that does not matter', () => {
    expect(codes(short({ alike_share: bounds.alike_share + 0.1 }))).toEqual(['alike']);
    expect(codes(short({ alike_share: bounds.alike_share - 0.1 }))).toEqual(['misses']);
    expect(codes(coverSummary({ alike_share: 0.9 }))).toEqual(['covers']);
  });

  test('without a background and with nothing that covers, no edges are spoken of', () => {
    const text = judge(short({ sure_share: 0.1, peak_cover_share: 0.1 })).reasons[0].text;
    expect(text).toBe('What lies behind could not be followed, so what covers it cannot be told.');
  });
});

describe('an edge is workable when', () => {
  const { cover: bounds } = LIMITS;
  test.each<[string, Partial<CoverSummary['edge']>, string, number]>([
    ['its pace is uneven', { speed_spread: bounds.uneven_share + 0.01 }, 'uneven', bounds.uneven_share + 0.01],
    ['it is soft', { softness_px: bounds.soft_share * WIDTH + 1 }, 'soft', bounds.soft_share * WIDTH + 1],
    ['it bends', { bend_px: bounds.bend_share * WIDTH + 1 }, 'bent', bounds.bend_share * WIDTH + 1],
  ])('%s', (_, edge, code, value) => {
    const v = judge(coverSummary({}, edge));
    expect(v.verdict).toBe('workable');
    expect(v.reasons).toHaveLength(1);
    expect(v.reasons[0]).toMatchObject({ code, value });
  });

  test.each<[string, Partial<CoverSummary['edge']>]>([
    ['uneven', { speed_spread: bounds.uneven_share }],
    ['soft', { softness_px: bounds.soft_share * WIDTH }],
    ['bent', { bend_px: bounds.bend_share * WIDTH }],
    ['not measured at all', { speed_spread: null, softness_px: null, bend_px: null }],
  ])('and not while it is just not %s', (_, edge) => {
    expect(judge(coverSummary({}, edge)).verdict).toBe('holds');
  });

  test('a bend that measuring error explains is none', () => {
    const bend_px = bounds.bend_share * WIDTH + 3;
    expect(codes(coverSummary({}, { bend_px, bend_error_px: 4 }))).toEqual(['covers']);
    expect(codes(coverSummary({}, { bend_px, bend_error_px: 1 }))).toEqual(['bent']);
  });

  test('a bend is the lens’s or its own', () => {
    const bent = (lens_k1: number | null) => judge(coverSummary({}, { bend_px: 40, lens_k1 })).reasons[0].fix;
    expect(bent(-0.05)).toMatch(/barrel of 5\.0 % at the corners \(k1 -0\.050\)/);
    expect(bent(0.02)).toMatch(/pincushion of 2\.0 %/);
    expect(bent(null)).toMatch(/mask it with a curve/);
  });

  test('a door that slows down as it closes is not uneven', () => {
    expect(codes(coverSummary({ kind: 'closing' }, { speed_spread: 0.9 }))).toEqual(['covers']);
  });

  test('a walk up to it sways or rolls', () => {
    const walk = { off_centre_px: 10, sway_px: 5, roll_deg: 0.5, speed_spread: 0.2 };
    const approach = (more: Partial<typeof walk>) =>
      coverSummary({ kind: 'approaching', approach: { ...walk, ...more } });
    expect(codes(approach({}))).toEqual(['covers']);
    expect(codes(approach({ sway_px: bounds.sway_share * WIDTH + 1 }))).toEqual(['sway']);
    expect(codes(approach({ roll_deg: bounds.roll_deg + 0.1 }))).toEqual(['roll']);
    expect(codes(approach({ roll_deg: 9, sway_px: 400 }))).toEqual(['sway', 'roll']);
  });
});

test('the worst reason comes first and gives its word, and the others stay', () => {
  const v = judge(coverSummary({ leave_frame: null }, { speed_spread: 0.8, softness_px: 900 }));
  expect(v.verdict).toBe('reshoot');
  expect(v.reasons.map((r) => r.code)).toEqual(['stays', 'uneven', 'soft']);
});

test('more cover never makes a worse verdict', () => {
  const rank = { reshoot: 0, unjudged: 1, workable: 2, holds: 3 };
  const share = fc.double({ min: 0, max: 0.999, noNaN: true });
  fc.assert(
    fc.property(share, share, (a, b) => {
      const [less, more] = [Math.min(a, b), Math.max(a, b)].map((s) => judge(short({ peak_cover_share: s })).verdict);
      expect(rank[less]).toBeLessThanOrEqual(rank[more]);
    }),
  );
});

test('every reason but a good one says what to do', () => {
  const odd = fc.record({
    peak_cover_share: fc.double({ min: 0, max: 1, noNaN: true }),
    sure_share: fc.double({ min: 0, max: 1, noNaN: true }),
    changes_per_pixel: fc.double({ min: 0, max: 9, noNaN: true }),
    leave_frame: fc.option(fc.integer({ min: 60, max: 74 })),
    free_ends: fc.constantFrom('both', 'start', 'end', 'neither'),
    kind: fc.constantFrom('passing', 'panning', 'approaching', 'closing'),
  });
  fc.assert(
    fc.property(odd, fc.boolean(), (more, full) => {
      const v = judge(full ? coverSummary({ ...more, peak_cover_share: 1 }) : short(more));
      for (const r of v.reasons) if (r.code !== 'covers') expect(r.fix).toBeTruthy();
      expect(v.reasons.length).toBeGreaterThan(0);
      for (const d of v.deciding) expect(Number.isFinite(d.value)).toBe(true);
    }),
  );
});

test.each([
  [0, 'to the right'],
  [44, 'to the right'],
  [46, 'down'],
  [180, 'to the left'],
  [-90, 'up'],
  [359, 'to the right'],
  [720 + 270, 'up'],
])('%d degrees is %s', (degrees, words) => {
  expect(wayInWords(degrees)).toBe(words);
});
