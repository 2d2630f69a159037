import fc from 'fast-check';
import type { Mark } from '../plan/marks';
import { planMarks, readMarks, type MarksFor } from './marks-in';
import { marksCsv, marksVtt } from './marks-out';

const take: MarksFor = {
  ...{ name: 'Night Ferry, setup 5, Pass, take 2', file: 'a.mov', rate: [30000, 1001], timecode: '01:00:00;00' },
  frameCount: 2000,
};
const mark = (frame: number, name: string): Mark => ({ id: `${name} ${frame}`, frame, name, kind: 'own', found: null });

test('marks that were written are read back, to the frame and by their names', () => {
  // Text of cues keeps no more than one space in a row, and none at its ends.
  const name = fc
    .string({ minLength: 1, maxLength: 20, unit: fc.constantFrom(...'aZ 9<>&"\'=,;-ü影') })
    .map((n) => n.replace(/-->/g, '').replace(/\s+/g, ' ').trim() || 'x');
  const one = fc.record({ frame: fc.nat(1999), name });
  fc.assert(
    fc.property(fc.uniqueArray(one, { maxLength: 6, minLength: 1, selector: (m) => m.frame }), (rows) => {
      const marks = rows.map((r) => mark(r.frame, r.name)).sort((a, b) => a.frame - b.frame);
      const kept = marks.map((m) => ({ frame: m.frame, name: m.name }));
      for (const text of [marksCsv([{ ...take, marks }]), marksVtt({ ...take, marks })]) {
        const read = readMarks(text, take);
        expect([text, read.errors]).toEqual([text, []]);
        expect([text, read.marks.map((m) => ({ frame: m.frame, name: m.name }))]).toEqual([text, kept]);
        expect(planMarks(marks, read.marks)).toEqual([]);
      }
    }),
  );
});

test('a table of one’s own may say frames, timecodes or seconds; other takes’ lines are passed over', () => {
  const csv = [
    'Take;Name;Frame;Timecode;Seconds',
    ';Hit;12;;',
    `${take.name};Late;;01:00:01;00;`,
    ';Slow;;;2,002',
    'Another, take 1;Not here;3;;',
  ];
  const text = csv.map((l) => l.replace('01:00:01;00', '"01:00:01;00"')).join('\n');
  expect(readMarks(text, take).marks).toEqual([
    { line: 2, frame: 12, name: 'Hit' },
    { line: 3, frame: 30, name: 'Late' },
    { line: 4, frame: 60, name: 'Slow' },
  ]);
});

test('what cannot be read is told by its line', () => {
  const errors = (text: string) => readMarks(text, take).errors.map((e) => `${e.line}: ${e.text}`);
  expect(errors('name,frame\nHit,soon\n,4\nFar,2000')).toEqual([
    '2: frame: "soon" is no frame. Count them from 0.',
    '3: A mark has no name.',
    '4: Frame 2000 is not in the take: it has frames 0 to 1999.',
  ]);
  expect(errors('who,when\na,b')).toEqual([expect.stringContaining('must name the columns')]);
  expect(errors('WEBVTT\n\n00:00.000 -> 00:01.000\nHit').length).toBeGreaterThan(0);
  expect(errors('name,frame')).toEqual(['1: There is no mark in this file.']);
});

test('of one name the one that moved is moved, the rest is added; nothing is removed', () => {
  const now = [mark(10, 'Tap'), mark(20, 'Tap'), mark(5, 'Up')];
  const read = [10, 24, 90].map((frame, n) => ({ line: n, frame, name: 'Tap' }));
  expect(planMarks(now, read).map((c) => c.text)).toEqual(['Tap moves from frame 20 to 24', 'Tap at frame 90 is new']);
});
