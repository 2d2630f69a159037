import fc from 'fast-check';
import { editDecisionList, reelName } from './edl';
import { otioTimeline } from './otio';
import { assembleAlone, assembleJoined, assembleWipe, atSpeed, type LaidTake } from './assembly';

const RATE = [25, 1] as const;
const take = (id: string, frames: number, more: Partial<LaidTake> = {}): LaidTake => ({
  ...{ id, label: id, frames, rate: RATE, clear: null },
  ...more,
});
const [A, B, PLATE] = [take('a', 100), take('b', 80), take('plate', 50, { clear: { start: 0, end: 49 } })];
const as = (more: object) => ({ how: 'line', slide: 0, at: null, rate_pct: 100, front: 'first', ...more }) as never;

test('two passes lie over the plate, the second as much later as it was slid', () => {
  const made = assembleJoined(A, B, PLATE, as({ slide: 12 }))!;
  expect(made.layers.map((l) => [l.name, l.mask])).toEqual([
    ['plate', null],
    ['a', null],
    ['b', 'seam'],
  ]);
  expect(made.layers[2].pieces).toEqual([{ take: 'b', start: 12, frames: 80, from: 0, speed: 1 }]);
  // The plate is too short for 100 frames: one of its clear frames is held.
  expect(made.layers[0].pieces).toEqual([{ take: 'plate', start: 0, frames: 100, from: 24, speed: 0 }]);
  const earlier = assembleJoined(A, B, null, as({ slide: -7 }))!;
  expect(earlier.layers.map((l) => l.pieces[0].start)).toEqual([7, 0]);
});

test('the plate stands alone from the switch frame on; a cut goes on with the frame that meets it', () => {
  const switched = assembleJoined(A, PLATE, PLATE, as({ how: 'switch', at: 60 }))!;
  expect(switched.layers.map((l) => l.pieces[0].frames)).toEqual([100, 60]);
  expect(switched.cut).toBe(60);
  const cut = assembleJoined(A, B, PLATE, as({ how: 'cut', at: 70, slide: 64 }))!;
  expect(cut.layers[1].pieces).toEqual([
    { take: 'a', start: 0, frames: 70, from: 0, speed: 1 },
    { take: 'b', start: 70, frames: 74, from: 6, speed: 1 },
  ]);
  expect(assembleJoined(A, B, PLATE, as({ how: 'cut' }))).toBeNull();
  expect(assembleJoined(A, PLATE, PLATE, as({ how: 'switch' }))).toBeNull();
});

test('a held frame lasts as long as whoever walks round it; who is in front lies above', () => {
  const held = assembleJoined(A, B, PLATE, as({ how: 'held', at: 33 }))!;
  expect(held.layers.at(-1)!.pieces).toEqual([{ take: 'a', start: 0, frames: 80, from: 33, speed: 0 }]);
  const over = (front: string) =>
    assembleJoined(A, B, null, as({ how: 'over', front, slide: 5, rate_pct: 160 }))!.layers.map((l) => l.name);
  expect([over('first'), over('second')]).toEqual([
    ['b', 'a'],
    ['a', 'b'],
  ]);
});

test('the in side of a wipe lies under the out side from its frame on, at the speed it was given', () => {
  const made = assembleWipe(A, B, { from: 40, done: 66, in_start: 10, speed_pct: 50 });
  expect(made.layers.map((l) => l.pieces[0])).toEqual([
    { take: 'b', start: 40, frames: 140, from: 10, speed: 0.5 },
    { take: 'a', start: 0, frames: 66, from: 0, speed: 1 },
  ]);
  expect([made.frames, made.cut]).toEqual([180, 40]);
});

test('slowed, pieces that met still meet', () => {
  fc.assert(
    fc.property(fc.integer({ min: 10, max: 400 }), fc.integer({ min: 1, max: 99 }), (pct, at) => {
      const made = atSpeed(assembleJoined(A, B, null, as({ how: 'cut', at, slide: at }))!, pct);
      const [first, second] = made.layers[0].pieces;
      expect(first.start + first.frames).toBe(second.start);
      expect(made.cut).toBe(second.start);
      expect(second.start + second.frames).toBe(made.frames);
    }),
  );
});

describe('as files', () => {
  const film: LaidTake = take('film', 120, { rate: [24000, 1001] });
  const media = new Map([
    ['film', { label: 'Film', path: '../recordings/a b.mov', rate: [24000, 1001] as const, frames: 120, first: 86400 }],
    ['a', { label: 'A', path: '../recordings/a.mov', rate: RATE, frames: 100, first: 0 }],
    ['b', { label: 'B', path: '../recordings/b.mov', rate: RATE, frames: 80, first: 0 }],
  ]);
  const timeline = (assembly: ReturnType<typeof assembleAlone>, cues: object[] = []) =>
    JSON.parse(otioTimeline({ name: 'T', assembly, media, cues: cues as never, about: {} }));

  test('a timeline counts in the take’s own exact rate, from its own timecode', () => {
    const t = timeline(assembleAlone(film, null), [{ take: 'film', frame: 30, name: 'Hit', kind: 'beat' }]);
    const [clip] = t.tracks.children[0].children;
    expect(clip.source_range.start_time).toEqual({ OTIO_SCHEMA: 'RationalTime.1', rate: 24000 / 1001, value: 86400 });
    expect(clip.source_range.duration.value).toBe(120);
    expect(clip.markers[0].marked_range.start_time.value).toBe(86430);
    expect(clip.media_references.DEFAULT_MEDIA.target_url).toBe('../recordings/a%20b.mov');
    expect(t.metadata.umbrastat.rate).toBe('24000/1001');
  });

  test('what is later has a gap before it, what is held or retimed says so', () => {
    const t = timeline(assembleWipe(A, B, { from: 40, done: 66, in_start: 10, speed_pct: 50 }));
    const [gap, clip] = t.tracks.children[0].children;
    expect([gap.OTIO_SCHEMA, gap.source_range.duration.value]).toEqual(['Gap.1', 40]);
    expect(clip.effects[0]).toMatchObject({ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 0.5 });
    const held = timeline(assembleJoined(A, B, null, as({ how: 'held', at: 33 }))!);
    expect(held.tracks.children[1].children[0].effects[0]).toMatchObject({
      OTIO_SCHEMA: 'FreezeFrame.1',
      time_scalar: 0,
    });
  });

  const reels = new Map([
    ['film', { reel: 'S01P1T01', file: 'film.mov', rate: [30000, 1001] as const, first: 0 }],
    ['a', { reel: 'S01P2T01', file: 'a.mov', rate: RATE, first: 90000 }],
    ['b', { reel: 'S01P3T01', file: 'b.mov', rate: RATE, first: 0 }],
  ]);

  test('a list has an event for each piece, to the frame, and what its reel is', () => {
    const cut = assembleJoined(A, B, null, as({ how: 'cut', at: 70, slide: 64 }))!;
    const list = editDecisionList({ title: 'Nächte', layer: cut.layers[0], rate: RATE, drop: false, reels })!;
    expect(list.split('\r\n')).toEqual([
      'TITLE: Nachte',
      'FCM: NON-DROP FRAME',
      '',
      '001  S01P2T01 V     C        01:00:00:00 01:00:02:20 01:00:00:00 01:00:02:20',
      '* FROM CLIP NAME: a.mov',
      '002  S01P3T01 V     C        00:00:00:06 00:00:03:05 01:00:02:20 01:00:05:19',
      '* FROM CLIP NAME: b.mov',
      '',
    ]);
  });

  test('a drop-frame list begins on the hour and drops its numbers', () => {
    const long = take('film', 2000, { rate: [30000, 1001] });
    const rate = [30000, 1001] as const;
    const [layer] = assembleAlone(long, null).layers;
    const list = editDecisionList({ title: 'Drop', layer, rate, drop: true, reels })!;
    expect(list).toContain('FCM: DROP FRAME');
    // Frame 2000: a minute and 6 s 20 f later, two numbers of the minute left out.
    expect(list).toContain('00:00:00;00 00:01:06;22 01:00:00;00 01:01:06;22');
    expect(editDecisionList({ title: 'Fast', layer, rate: [240, 1], drop: false, reels })).toBeNull();
  });

  test('a reel is named as lists allow', () => {
    fc.assert(
      fc.property(fc.nat(500), fc.nat(500), fc.nat(500), (setup, part, n) => {
        expect(reelName({ setup, part, take: n })).toMatch(/^[A-Z0-9]{8}$/);
      }),
    );
  });
});
