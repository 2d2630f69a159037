import fc from 'fast-check';
import Papa from 'papaparse';
import { exactRate, MARK_COLUMNS, marksCsv, marksVtt, timecodeOf, type MarkedTake } from './marks-out';

const take = (more: Partial<MarkedTake> = {}): MarkedTake => ({
  name: 'Night Ferry, setup 5, Pass, take 2',
  file: 'pass-2.mp4',
  marks: [
    { frame: 61, name: 'Light <on> & --> off', kind: 'light' },
    { frame: 12, name: '=Clap', kind: 'own' },
  ],
  rate: [25, 1],
  timecode: null,
  ...more,
});

test('marks as WebVTT: cues a frame long, in order, nothing in a name breaks a line or an arrow', () => {
  expect(marksVtt(take())).toBe(
    'WEBVTT\n\n' +
      'NOTE Night Ferry, setup 5, Pass, take 2, pass-2.mp4: frames counted from 0, 25/1 a second\n\n' +
      'frame 12\n00:00:00.480 --> 00:00:00.520\n=Clap\n\n' +
      'frame 61\n00:00:02.440 --> 00:00:02.480\nLight &lt;on&gt; &amp; → off\n',
  );
  expect(marksVtt(take({ marks: [] }))).toMatch(/^WEBVTT\n\nNOTE [^\n]*\n$/);
});

test('marks as CSV: exact seconds, timecode from the file’s own start, no formula for a spreadsheet', () => {
  const rows = Papa.parse<Record<string, string>>(
    marksCsv([take({ rate: [30000, 1001], timecode: '01:00:59;20' })]).trim(),
    { header: true },
  );
  expect(rows.errors).toEqual([]);
  expect(rows.meta.fields).toEqual([...MARK_COLUMNS]);
  // Ten frames on, two numbers are left out at the full minute.
  expect(rows.data[0]).toMatchObject({ frame: '12', seconds: '0.400400', timecode: '01:01:00;04', name: "'=Clap" });
  expect(rows.data[1]).toMatchObject({ frame: '61', kind: 'light', length_frames: '1' });
});

test('a rate is what the file says where that agrees with its times, and what was measured where not', () => {
  expect(exactRate('30000/1001', 29.97)).toEqual([30000, 1001]);
  expect(exactRate('25', null)).toEqual([25, 1]);
  expect(exactRate('90000/1', 24.7)).toEqual([Math.round(24.7 * 1001), 1001]);
  expect(exactRate(null, null)).toBeNull();
  expect(exactRate('0/0', 0)).toBeNull();
});

test('a timecode that cannot be counted on is none', () => {
  expect(timecodeOf({ rate: [25, 1], timecode: 'nonsense' }, 3)).toBeNull();
  expect(timecodeOf({ rate: [1000, 1], timecode: null }, 3)).toBeNull();
  expect(timecodeOf({ rate: [24000, 1001], timecode: '10:00:00:00' }, 25)).toBe('10:00:01:01');
});

test('whatever is marked, each mark comes back from both files at its frame', () => {
  const mark = fc.record({
    frame: fc.integer({ min: 0, max: 500000 }),
    name: fc.string({ minLength: 1, maxLength: 30 }),
    kind: fc.constantFrom('own' as const, 'strikes' as const),
  });
  const rates = fc.constantFrom<[number, number]>([24000, 1001], [25, 1], [60000, 1001], [50, 1], [12, 1]);
  fc.assert(
    fc.property(fc.array(mark, { maxLength: 12 }), rates, (marks, rate) => {
      const own = take({ marks, rate });
      const frames = marks.map((m) => m.frame).sort((a, b) => a - b);
      const vtt = marksVtt(own);
      expect([...vtt.matchAll(/^frame (\d+)$/gm)].map((m) => Number(m[1]))).toEqual(frames);
      const times = [...vtt.matchAll(/^(\d\d+):(\d\d):(\d\d)\.(\d{3}) --> /gm)].map(
        ([, h, m, s, ms]) => Number(h) * 3600 + Number(m) * 60 + Number(s) + Number(ms) / 1000,
      );
      times.forEach((t, k) => expect(Math.round((t * rate[0]) / rate[1])).toBe(frames[k]));
      expect((vtt.match(/-->/g) ?? []).length).toBe(frames.length);
      const { data } = Papa.parse<Record<string, string>>(marksCsv([own]), { header: true, skipEmptyLines: true });
      expect(data.map((r) => Number(r.frame))).toEqual(frames);
    }),
  );
});
