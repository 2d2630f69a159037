import fc from 'fast-check';
import { fileName, FreshNames } from './file-names';

test('names are plain, and say what they said', () => {
  expect(fileName('Night Ferry')).toBe('night-ferry');
  expect(fileName('Pass A (Double), take 2')).toBe('pass-a-double-take-2');
  expect(fileName('Übersicht am Fluß')).toBe('ubersicht-am-fluss');
  expect(fileName('../../etc/passwd')).toBe('etc-passwd');
  expect(fileName('CON')).toBe('con-x');
  expect(fileName('影')).toBe('unnamed');
});

test('whatever is typed, every file system takes the name', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (text) => {
      const name = fileName(text);
      expect(name).toMatch(/^[a-z0-9]+(-[a-z0-9]+)*$/);
      expect(name.length).toBeLessThanOrEqual(62);
    }),
  );
});

test('no name is given twice', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('Take', 'take', 'take 2', 'ta-ke', '2', ''), { maxLength: 20 }), (all) => {
      const names = new FreshNames();
      const given = all.map((text) => names.of(text, '.png'));
      expect(new Set(given).size).toBe(given.length);
    }),
  );
});
