import fc from 'fast-check';
import { NO_NOTES } from '../plan/types';
import { findTrick, TRICKS } from '../tricks/library/library';
import { NO_WISHES } from '../tricks/types';
import { writeSunCalendar } from './calendar';
import { planImport, type ShotSetup } from './shot-list';
import { CSV_COLUMNS, readShotListCsv, writeShotListCsv } from './shot-list-csv';

const setup = (more: Partial<ShotSetup> = {}): ShotSetup => ({
  number: 1,
  name: 'Kiosk',
  place: '',
  notes: '',
  camera: { ...NO_NOTES },
  parts: [],
  tricks: [],
  ...more,
});
const plate = { name: 'Plate', what: 'Empty', seconds: 5, optional: false, tricks: ['Double'] };

const word = fc
  .string({ minLength: 1, maxLength: 30 })
  .map((s) => s.trim())
  .filter((s) => s !== '' && !/[\0]/.test(s));
const sensible = fc.record({
  number: fc.constant(1),
  name: word,
  place: fc.oneof(fc.constant(''), word),
  notes: fc.oneof(fc.constant(''), word),
  camera: fc.record({
    camera: fc.oneof(fc.constant(''), word),
    lens: fc.oneof(fc.constant(''), word),
    focal_mm: fc.option(fc.integer({ min: 1, max: 900 })),
    width: fc.option(fc.integer({ min: 16, max: 8000 })),
    height: fc.option(fc.integer({ min: 16, max: 8000 })),
    fps: fc.option(fc.constantFrom(25, 29.97, 120)),
    shutter_s: fc.option(fc.constantFrom(0.02, 0.01)),
    iso: fc.option(fc.integer({ min: 50, max: 25600 })),
    white_k: fc.option(fc.integer({ min: 2000, max: 9000 })),
    focus_m: fc.option(fc.double({ min: 0.1, max: 50, noNaN: true })),
    height_m: fc.option(fc.double({ min: 0, max: 3, noNaN: true })),
    tilt_deg: fc.option(fc.integer({ min: -90, max: 90 })),
  }),
  parts: fc.uniqueArray(
    fc.record({
      name: word,
      what: fc.oneof(fc.constant(''), word),
      seconds: fc.integer({ min: 1, max: 600 }),
      optional: fc.boolean(),
      tricks: fc.constant([] as string[]),
    }),
    { maxLength: 5, selector: (p) => p.name.toLowerCase() },
  ),
  tricks: fc.constant([] as ShotSetup['tricks']),
});

test('a plan goes through CSV and back unchanged, whatever it says', () => {
  fc.assert(
    fc.property(sensible, (s) => {
      const { setups, errors } = readShotListCsv(writeShotListCsv([s]), []);
      expect(errors).toEqual([]);
      expect(setups).toEqual([s]);
      expect(planImport([s], setups)).toEqual([]);
    }),
  );
});

test('errors come by line, in sentences, and good lines are still read', () => {
  const head = 'setup,setup_name,fps,part,seconds,optional,tricks\r\n';
  const { setups, errors } = readShotListCsv(
    `${head}1,Kiosk,25,Plate,5,no,Double\r\nx,,,A,,,\r\n1,Kiosk,30,Pass ` +
      `A,0,maybe,Juggling\r\n1,,,plate,,,\r\n\r\n2,Quay,fast,Pass,10,yes,\r\n`,
    [],
  );
  expect(errors.map((e) => e.line)).toEqual([3, 4, 4, 5, 7]);
  expect(errors[0].text).toContain('"x" is no setup number');
  expect(errors[1].text).toContain('"30" here, "25" on an earlier line of setup 1');
  expect(errors[2].text).toContain('"0" is no length');
  expect(errors[3].text).toContain('has the part "plate" twice');
  expect(errors[4].text).toContain('"fast" is not a number');
  expect(setups[0].parts.map((p) => p.name)).toEqual(['Plate']);
  expect(readShotListCsv(`${head}1,K,,P,,,Juggling\r\n`, []).errors[0].text).toContain(
    'neither the library nor the plan',
  );
  expect(readShotListCsv('a,b\n1,2', []).errors[0].text).toContain('"setup" is missing');
  expect(readShotListCsv('setup;part;seconds\n3;Plate;2,5\n', [])).toMatchObject({
    errors: [],
    setups: [{ number: 3, parts: [{ seconds: 2.5 }] }],
  });
  expect(readShotListCsv('', []).errors.length).toBeGreaterThan(0);
});

test('cells are guarded against being taken for formulas', () => {
  const csv = writeShotListCsv([setup({ name: '=HYPERLINK("x")', parts: [plate] })]);
  expect(csv).toContain("'=HYPERLINK");
  expect(csv.split('\r\n')[0]).toBe(CSV_COLUMNS.join(','));
  expect(readShotListCsv(csv, []).setups[0].name).toBe('=HYPERLINK("x")');
});

test('the preview names what is new and what changes, and removes nothing', () => {
  const now = [setup({ parts: [plate, { ...plate, name: 'Pass A' }], camera: { ...NO_NOTES, fps: 25 } })];
  const wanted = [
    setup({
      name: 'Kiosk, night',
      parts: [
        { ...plate, seconds: 8 },
        { ...plate, name: 'Pass B' },
      ],
      camera: { ...NO_NOTES, fps: 50 },
    }),
    setup({ number: 4, name: 'Quay' }),
  ];
  expect(planImport(now, wanted).map((c) => c.text)).toEqual([
    'setup 1, name: Kiosk becomes Kiosk, night',
    'setup 1, fps: 25 becomes 50',
    'setup 1, Plate, seconds: 5 becomes 8',
    'setup 1: new part Pass B',
    'new setup 4: Quay',
  ]);
  expect(planImport(now, now)).toEqual([]);
});

test('a trick that is only named changes nothing where it stands; a whole definition does', () => {
  const definition = findTrick('double')!;
  const mine = { name: 'Double', definition: { ...definition, summary: 'Adjusted.' }, wishes: NO_WISHES, parts: {} };
  const now = [setup({ tricks: [mine] })];
  const named = readShotListCsv('setup,part,tricks\n1,Plate,Double\n', []).setups;
  expect(planImport(now, named).map((c) => c.kind)).not.toContain('change-trick');
  expect(planImport([setup()], named).map((c) => c.kind)).toContain('add-trick');
  expect(planImport(now, [setup({ tricks: [{ ...mine, definition }] })]).map((c) => c.kind)).toEqual(['change-trick']);
  // A trick somebody composed is found by its name in the plan.
  const own = { ...mine, name: 'Gulls' };
  expect(readShotListCsv('setup,part,tricks\n2,Plate,gulls\n', [own]).setups[0].tricks[0]).toMatchObject({
    name: 'Gulls',
    namedOnly: true,
  });
  expect(TRICKS.length).toBe(20);
});

test('daylight as a calendar: six events a day, at the minute, escaped', () => {
  const text = writeSunCalendar(
    {
      shoot: 'Night Ferry',
      place: 'Quay; north, side',
      latitude: 59.4,
      longitude: 10.5,
      zone: 'Europe/Oslo',
      days: ['2027-10-05', '2027-10-06'],
    },
    '2027-01-01T00:00:00Z',
  );
  expect(text).toMatch(/^BEGIN:VCALENDAR\r\n/);
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(12);
  expect(text).toContain('Quay\\; north\\, side');
  expect(text).toMatch(/DTSTART:20271005T0[45]\d{2}00Z/);
  expect(text.split('\r\n').every((l) => new TextEncoder().encode(l).length <= 75)).toBe(true);
});
