import { TRICKS } from '../tricks/library/library';
import { planImport, type ShotSetup } from './shot-list';
import { CSV_COLUMNS, readShotListCsv } from './shot-list-csv';

/** Reads one line with some cells. */
function line(cells: Partial<Record<(typeof CSV_COLUMNS)[number], string>>) {
  const given = { setup: '1', part: 'Plate', ...cells };
  const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  const head = Object.keys(given).join(',');
  const row = Object.values(given).map(quoted).join(',');
  return readShotListCsv(`${head}\r\n${row}\r\n`, []);
}
const errors = (cells: Parameters<typeof line>[0]) => line(cells).errors.map((e) => e.text);
const setup = (cells: Parameters<typeof line>[0]): ShotSetup => line(cells).setups[0];

describe('setup numbers', () => {
  test.each(['1', '12', '9999', ' 7 '])('%j is one', (number) => {
    expect(errors({ setup: number })).toEqual([]);
    expect(setup({ setup: number }).number).toBe(Number(number));
  });
  test.each(['', '0', '-1', '1.5', '10000', 'one', 'NaN', '1e9'])('%j is none', (number) => {
    expect(errors({ setup: number })).toEqual([`"${number}" is no setup number. Write a whole number from 1.`]);
    expect(line({ setup: number }).setups).toEqual([]);
  });
});

describe('numbers of the camera', () => {
  test.each([
    ['focal_mm', '35', 35],
    ['focal_mm', '35,5', 35.5],
    ['width', '3840', 3840],
    ['fps', '29.97', 29.97],
    ['shutter_s', '0.02', 0.02],
    ['iso', '800', 800],
    ['white_k', '5600', 5600],
    ['focus_m', '2.4', 2.4],
    ['height_m', '-1.5', -1.5],
    ['tilt_deg', '-12', -12],
  ] as const)('%s %s', (column, text, value) => {
    expect(errors({ [column]: text })).toEqual([]);
    expect(setup({ [column]: text }).camera[column]).toBe(value);
  });

  test.each([
    ['focal_mm', '0', 1, 5000],
    ['width', '8', 16, 16384],
    ['height', 'tall', 16, 16384],
    ['fps', '2000', 1, 1000],
    ['shutter_s', '1/50', 0.00001, 60],
    ['iso', '0', 1, 1e7],
    ['white_k', '500', 1000, 40000],
    ['focus_m', '0', 0.01, 100000],
    ['height_m', '20000', -100, 10000],
    ['tilt_deg', '270', -180, 180],
  ] as const)('%s %s is refused with its range, and the rest of the line is read', (column, text, least, most) => {
    expect(errors({ [column]: text })).toEqual([`${column}: "${text}" is not a number from ${least} to ${most}.`]);
    expect(setup({ [column]: text }).parts.map((p) => p.name)).toEqual(['Plate']);
    expect(setup({ [column]: text }).camera[column]).toBeNull();
  });

  test('an empty cell is not noted', () => {
    const { camera } = setup({ focal_mm: '', fps: '', lens: '' });
    expect([camera.focal_mm, camera.fps, camera.lens]).toEqual([null, null, '']);
  });
});

describe('parts', () => {
  test.each([
    ['yes', true],
    ['YES', true],
    ['true', true],
    ['1', true],
    ['no', false],
    ['false', false],
    ['0', false],
    ['', false],
  ])('optional %j', (text, optional) => {
    expect(errors({ optional: text })).toEqual([]);
    expect(setup({ optional: text }).parts[0].optional).toBe(optional);
  });

  test.each([
    ['', 10],
    ['2.5', 2.5],
    ['2,5', 2.5],
    ['3600', 3600],
  ])('seconds %j', (text, seconds) => {
    expect(setup({ seconds: text }).parts[0].seconds).toBe(seconds);
  });

  test.each(['0', '-5', '3601', 'long'])('seconds %j are refused, and the part is left out', (seconds) => {
    expect(errors({ seconds })).toEqual([`seconds: "${seconds}" is no length. Write above 0 and up to 3600.`]);
    expect(setup({ seconds }).parts).toEqual([]);
  });

  test('names of more than 120 characters are refused', () => {
    expect(errors({ part: 'x'.repeat(120) })).toEqual([]);
    expect(errors({ part: 'x'.repeat(121) })).toEqual(['The part’s name is longer than 120 characters.']);
  });

  test('a line without a part is a setup without one', () => {
    expect(setup({ part: '', setup_name: 'Quay' })).toMatchObject({ name: 'Quay', parts: [] });
  });

  test('each trick of the library is known by its name, in any case, several on a line', () => {
    for (const { name } of TRICKS)
      expect(setup({ tricks: name.toUpperCase() }).tricks.map((t) => t.name)).toEqual([name]);
    const two = TRICKS.slice(0, 2).map((t) => t.name);
    expect(setup({ tricks: ` ${two.join(' ; ')};; ` }).tricks.map((t) => t.name)).toEqual(two);
    expect(errors({ tricks: 'Levitation' })[0]).toContain('"Levitation" is in neither the library nor the plan');
  });
});

describe('the file as a whole', () => {
  const NAMES = 'setup,setup_name,part,what';
  test.each([
    ['commas', `${NAMES}\n1,Kiosk,Plate,Empty\n`],
    ['semicolons', `${NAMES.replaceAll(',', ';')}\n1;Kiosk;Plate;Empty\n`],
    ['tabs', `${NAMES.replaceAll(',', '\t')}\n1\tKiosk\tPlate\tEmpty\n`],
    ['a mark at the start', `\uFEFF${NAMES}\n1,Kiosk,Plate,Empty\n`],
    ['lines as another system ends them', `${NAMES}\r\n1,Kiosk,Plate,Empty\r\n\r\n`],
    ['columns in another order and case', 'WHAT,Part,setup_name,Setup\nEmpty,Plate,Kiosk,1\n'],
    ['no end of the last line', `${NAMES}\n1,Kiosk,Plate,Empty`],
  ])('%s', (_, text) => {
    const { setups, errors: wrong } = readShotListCsv(text, []);
    expect(wrong).toEqual([]);
    expect(setups).toHaveLength(1);
    expect(setups[0]).toMatchObject({ number: 1, name: 'Kiosk', parts: [{ name: 'Plate', what: 'Empty' }] });
  });

  test('commas, quotes and new lines inside quotes belong to the cell', () => {
    expect(setup({ what: 'Empty, "clean"\nand still' }).parts[0].what).toBe('Empty, "clean"\nand still');
  });

  test('a quotation mark that is never closed is said', () => {
    const { errors: wrong } = readShotListCsv(`${NAMES}\n1,"Kiosk,Plate,Empty\n`, []);
    expect(wrong.map((e) => e.text)).toContain('A quotation mark is opened and not closed.');
  });

  test('columns that are none are named, with those that there are', () => {
    const { errors: wrong, setups } = readShotListCsv('setup,part,colour\n1,Plate,red\n', []);
    expect(wrong).toHaveLength(1);
    expect(wrong[0]).toMatchObject({ line: 1 });
    expect(wrong[0].text).toContain('"colour" is no column of a shot list. Known are: setup, ');
    expect(setups).toEqual([]);
  });

  test('setups come sorted by their number, whatever the order of lines', () => {
    const { setups } = readShotListCsv('setup,part\n3,Plate\n1,Plate\n2,Plate\n1,Pass\n', []);
    expect(setups.map((s) => [s.number, s.parts.length])).toEqual([
      [1, 2],
      [2, 1],
      [3, 1],
    ]);
  });
});

describe('what taking it in would change', () => {
  const now = () => setup({ setup_name: 'Kiosk', fps: '25', what: 'Empty', seconds: '5' });
  const texts = (cells: Parameters<typeof line>[0]) => planImport([now()], [setup(cells)]).map((c) => c.text);

  test.each([
    ['nothing', {}, []],
    ['another name', { setup_name: 'Quay' }, ['setup 1, name: Kiosk becomes Quay']],
    ['another rate', { fps: '50' }, ['setup 1, fps: 25 becomes 50']],
    ['a lens', { lens: '35 mm' }, ['setup 1, lens: nothing becomes 35 mm']],
    ['another length', { seconds: '8' }, ['setup 1, Plate, seconds: 5 becomes 8']],
    ['a part that may be left out', { optional: 'yes' }, ['setup 1, Plate, optional: false becomes true']],
    ['a new part', { part: 'Pass A' }, ['setup 1: new part Pass A']],
    ['a trick', { tricks: TRICKS[0].name }, [`setup 1: new trick ${TRICKS[0].name}`]],
  ])('%s', (_, cells, changes) => {
    expect(texts({ setup_name: 'Kiosk', fps: '25', what: 'Empty', seconds: '5', ...cells })).toEqual(changes);
  });

  test('a setup that is not there is new, with its parts', () => {
    const changes = planImport([now()], [setup({ setup: '2', setup_name: 'Quay' })]);
    expect(changes.map((c) => c.text)).toEqual(['new setup 2: Quay', 'setup 2: new part Plate']);
  });
});
