import fc from 'fast-check';
import type { Assembly, Cue, Rate } from './assembly';
import { readTimeline } from '../testing/otio-reader';
import { otioTimeline, type TimelineMedia } from './otio';

const RATES: Rate[] = [
  [24000, 1001],
  [25, 1],
  [30000, 1001],
  [50, 1],
];
const perS = ([over, under]: Rate) => over / under;

/** Media of some length and rate, some with a timecode of their own. */
const media = fc.record({
  rate: fc.constantFrom(...RATES),
  frames: fc.integer({ min: 20, max: 400 }),
  first: fc.constantFrom(0, 90_000, 86_399),
});
/** Pieces one after the other, with gaps, each of one of two takes. */
const pieces = fc.array(
  fc.record({
    take: fc.constantFrom('a', 'b'),
    gap: fc.integer({ min: 0, max: 30 }),
    frames: fc.integer({ min: 1, max: 60 }),
    from: fc.integer({ min: 0, max: 15 }),
    speed: fc.constantFrom(0, 0.4, 1, 2),
  }),
  { minLength: 1, maxLength: 4 },
);

test('read by the documented schema alone, every layer shows in every frame just what it was said to', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...RATES),
      media,
      media,
      fc.array(pieces, { minLength: 1, maxLength: 3 }),
      (rate, a, b, all) => {
        const shown = new Map<string, TimelineMedia>([
          ['a', { ...a, label: 'Pass A, take 1', path: '../recordings/s1 pass ä.mp4' }],
          ['b', { ...b, label: 'Plate', path: '../recordings/plate.mov' }],
        ]);
        const layers = all.map((own, n) => {
          let at = 0;
          return {
            name: `layer ${n}`,
            mask: null,
            pieces: own.map(({ gap, ...piece }) => {
              const start = at + gap;
              at = start + piece.frames;
              return { ...piece, start };
            }),
          };
        });
        const frames = Math.max(...layers.map((l) => l.pieces.at(-1)!.start + l.pieces.at(-1)!.frames));
        const cues: Cue[] = [{ take: 'a', frame: 10, name: 'Hit', kind: 'beat' }];
        const assembly: Assembly = { rate, frames, layers, cut: null };
        const tracks = readTimeline(otioTimeline({ name: 'Night Ferry', assembly, media: shown, cues, about: {} }));
        expect(tracks.map((t) => t.name)).toEqual(layers.map((l) => l.name));
        layers.forEach((layer, n) => {
          const last = layer.pieces.at(-1)!;
          expect(tracks[n].seconds * perS(rate)).toBeCloseTo(last.start + last.frames, 6);
          for (let f = 0; f < last.start + last.frames; f++) {
            const piece = layer.pieces.find((p) => f >= p.start && f < p.start + p.frames);
            const found = tracks[n].at(f / perS(rate));
            if (!piece) {
              expect([f, found]).toEqual([f, null]);
              continue;
            }
            const { path, rate: own } = shown.get(piece.take)!;
            expect(decodeURIComponent(found!.url)).toBe(path);
            const wanted = piece.from + ((f - piece.start) * piece.speed * perS(own)) / perS(rate);
            expect(Math.abs(found!.frame - wanted)).toBeLessThan(1e-4);
          }
          for (const mark of tracks[n].markers)
            expect([mark.name, Math.round(mark.frame * 1e4) / 1e4]).toEqual(['Hit', 10]);
        });
      },
    ),
    { numRuns: 60 },
  );
});

test('rates that are no whole number are said as the fraction they are, too', () => {
  const plate: TimelineMedia = { label: 'Plate', path: 'plate.mov', rate: [24000, 1001], frames: 48, first: 0 };
  const piece = { take: 'p', start: 0, frames: 48, from: 0, speed: 1 };
  const assembly: Assembly = {
    rate: [24000, 1001],
    frames: 48,
    layers: [{ name: 'Plate', pieces: [piece], mask: null }],
    cut: null,
  };
  const text = otioTimeline({ name: 'x', assembly, media: new Map([['p', plate]]), cues: [], about: {} });
  expect(text).toContain('"rate": "24000/1001"');
  expect(readTimeline(text)[0].seconds).toBeCloseTo((48 * 1001) / 24000, 9);
  expect(() => readTimeline(text.replace('Clip.2', 'Clip.9'))).toThrow(/allowed types/);
});
