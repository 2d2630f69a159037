import { NO_NOTES } from '../../core/plan/types';
import { readShootText, type ReadShoot } from './read-shoot';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const setup = (n: number, more: object = {}) => ({
  ...{ id: id(n), number: n, name: `Setup ${n}`, notes: '', scene: 'kiosk', place: '', camera: NO_NOTES },
  ...{ position: n, archived: false, ...more },
});
const LISTS = 'parts tricks takes marks measures looks ticks sums sensors'.split(' ');
const file = (more: object = {}) => ({
  format: 'umbrastat-shoot',
  version: 1,
  shoot: {
    ...{ id: id(0), name: 'Night Ferry', place: 'Quay', delivery_width: 1280, delivery_height: 720, delivery_fps: 25 },
    ...{ latitude: null, longitude: null, time_zone: 'Europe/Berlin', days: [], demo: false },
  },
  setups: [setup(1), setup(2)],
  ...Object.fromEntries(LISTS.map((list) => [list, []])),
  ...more,
});
const asText = (more: object = {}) => JSON.stringify(file(more), null, 1);
const errorsOf = (read: ReadShoot) => ('errors' in read ? read.errors : []);
const lineOf = (text: string, word: string) => text.split('\n').findIndex((l) => l.includes(word)) + 1;

test('a sound shoot is read', () => {
  expect(readShootText(asText())).toMatchObject({ file: { setups: [{ number: 1 }, { number: 2 }] } });
});

test('each fault is named by the line on which it stands, or on which stands what lacks something', () => {
  const { name, ...nameless } = setup(3);
  expect(name).toBe('Setup 3');
  const text = asText({ setups: [setup(1), setup(2, { number: -7 }), nameless] });
  expect(errorsOf(readShootText(text))).toEqual([
    { line: lineOf(text, '-7'), text: expect.stringContaining('setups › 1 › number') },
    { line: lineOf(text, id(3)) - 1, text: expect.stringContaining('setups › 2 › name') },
  ]);
  const twice = asText({ setups: [setup(1), setup(1)] });
  expect(errorsOf(readShootText(twice))[0].text).toMatch(/setups › 1: It stands in this file twice/);
  expect(errorsOf(readShootText(asText({ format: 'other' })))[0].text).toMatch(/^format: /);
  expect(errorsOf(readShootText(asText({ takes: 5 })))[0].text).toMatch(/^takes: /);
});

test('what is no JSON is told by its line, and every cut of a shoot is told', () => {
  const text = asText();
  const broken = text.replace('"Night Ferry"', 'Night Ferry');
  expect(errorsOf(readShootText(broken))[0].line).toBe(lineOf(broken, 'Night Ferry'));
  for (let end = 0; end < text.length; end += 97)
    expect(errorsOf(readShootText(text.slice(0, end))).length).toBeGreaterThan(0);
  for (const wrong of ['', ' ', '[]', '7', 'null', '"x"', '{}'])
    expect(errorsOf(readShootText(wrong)).length).toBeGreaterThan(0);
});

test('as deep as no shoot is: refused by its line, whatever brackets stand in texts', () => {
  const deep = '\n'.repeat(4) + '['.repeat(200_000);
  expect(errorsOf(readShootText(deep))).toEqual([{ line: 5, text: expect.stringContaining('64 deep') }]);
  const odd = asText({ setups: [setup(1, { notes: `\\"${'[{'.repeat(100)}` })] });
  expect(readShootText(odd)).toHaveProperty('file');
});

test('very many records, wrong or not, end in few errors', () => {
  const rows = (count: number) => Array.from({ length: count }, () => ({ id: 1 }));
  expect(errorsOf(readShootText(asText({ ticks: rows(60_000) })))).toHaveLength(50);
  const many = errorsOf(readShootText(asText({ ticks: rows(60_000), marks: rows(60_000) })));
  expect(many).toEqual([{ line: 1, text: expect.stringContaining('120002 records') }]);
});
