import Papa from 'papaparse';
import { NO_NOTES, type CameraNotes } from '../plan/types';
import { TRICKS } from '../tricks/library/library';
import { NO_WISHES } from '../tricks/types';
import { guard, unguard } from './cells';
import { CAMERA_FIELDS, type ShotPart, type ShotSetup, type ShotTrick } from './shot-list';

/** The columns, in order; one line for each part of each setup. */
export const CSV_COLUMNS = [
  'setup',
  'setup_name',
  'place',
  'notes',
  ...CAMERA_FIELDS,
  'part',
  'what',
  'seconds',
  'optional',
  'tricks',
] as const;
type Column = (typeof CSV_COLUMNS)[number];

/** What a line cannot be read for. */
export interface LineError {
  line: number;
  text: string;
}

const BOUNDS: Partial<Record<keyof CameraNotes, [number, number]>> = {
  focal_mm: [1, 5000],
  width: [16, 16384],
  height: [16, 16384],
  fps: [1, 1000],
  shutter_s: [0.00001, 60],
  iso: [1, 1e7],
  white_k: [1000, 40000],
  focus_m: [0.01, 100000],
  height_m: [-100, 10000],
  tilt_deg: [-180, 180],
};

/** The plan as CSV (RFC 4180), UTF-8, one line a part; a setup without parts has one line. */
export function writeShotListCsv(setups: readonly ShotSetup[]): string {
  const lines = setups.flatMap((s) => {
    const head = {
      setup: s.number,
      setup_name: guard(s.name),
      place: guard(s.place),
      notes: guard(s.notes),
      ...Object.fromEntries(
        CAMERA_FIELDS.map((f) => [
          f,
          typeof s.camera[f] === 'string' ? guard(s.camera[f] as string) : (s.camera[f] ?? ''),
        ]),
      ),
    };
    const parts: (ShotPart | null)[] = s.parts.length ? s.parts : [null];
    return parts.map((p) => ({
      ...head,
      part: p ? guard(p.name) : '',
      what: p ? guard(p.what) : '',
      seconds: p ? p.seconds : '',
      optional: p ? (p.optional ? 'yes' : 'no') : '',
      tricks: p ? guard(p.tricks.join('; ')) : '',
    }));
  });
  return Papa.unparse({ fields: [...CSV_COLUMNS], data: lines }, { newline: '\r\n' }) + '\r\n';
}

/**
 * Reads a shot list from CSV. Lines of one setup number belong together; its own fields may stand on its first line only.
 * @param known tricks of the plan, which may be named beside those of the library
 * @returns the setups that could be read and, by line, what could not
 */
export function readShotListCsv(
  text: string,
  known: readonly ShotTrick[],
): { setups: ShotSetup[]; errors: LineError[] } {
  const errors: LineError[] = [];
  const plain = text.replace(/^\uFEFF/, '');
  const parsed = Papa.parse<string[]>(plain, { delimiter: separatorOf(plain), skipEmptyLines: false });
  const [header, ...body] = parsed.data;
  const columns = (header ?? []).map((h) => h.trim().toLowerCase());
  for (const must of ['setup', 'part'] as const)
    if (!columns.includes(must))
      errors.push({
        line: 1,
        text: `The column "${must}" is missing. The first line must name the columns: ${CSV_COLUMNS.slice(0, 3).join(', ')} …`,
      });
  const odd = columns.find((c) => c && !(CSV_COLUMNS as readonly string[]).includes(c));
  if (odd)
    errors.push({ line: 1, text: `"${odd}" is no column of a shot list. Known are: ${CSV_COLUMNS.join(', ')}.` });
  if (errors.length) return { setups: [], errors };
  for (const e of parsed.errors)
    if (e.type === 'Quotes')
      errors.push({ line: (e.row ?? 0) + 1, text: 'A quotation mark is opened and not closed.' });

  const setups = new Map<number, ShotSetup>();
  const given = new Map<number, Map<string, string>>();
  body.forEach((cells, i) => {
    const line = i + 2;
    if (cells.every((c) => c.trim() === '')) return;
    const cell = (c: Column) => {
      const at = columns.indexOf(c);
      return at < 0 ? '' : unguard((cells[at] ?? '').trim());
    };
    const fail = (message: string) => errors.push({ line, text: message });
    const number = Number(cell('setup'));
    if (!Number.isInteger(number) || number < 1 || number > 9999) {
      fail(`"${cell('setup')}" is no setup number. Write a whole number from 1.`);
      return;
    }
    let setup = setups.get(number);
    if (!setup) {
      setup = {
        number,
        name: cell('setup_name') || `Setup ${number}`,
        place: '',
        notes: '',
        camera: { ...NO_NOTES },
        parts: [],
        tricks: [],
      };
      setups.set(number, setup);
      given.set(number, new Map());
    }
    readSetupCells(setup, given.get(number)!, cell, fail);
    const name = cell('part');
    if (!name) return;
    if (name.length > 120) return void fail('The part’s name is longer than 120 characters.');
    if (setup.parts.some((p) => p.name.toLowerCase() === name.toLowerCase()))
      return void fail(`Setup ${number} has the part "${name}" twice.`);
    const seconds = cell('seconds') === '' ? 10 : Number(cell('seconds').replace(',', '.'));
    if (!(seconds > 0 && seconds <= 3600))
      return void fail(`seconds: "${cell('seconds')}" is no length. Write above 0 and up to 3600.`);
    const optional = /^(yes|true|1)$/i.test(cell('optional'));
    if (!optional && !/^(no|false|0|)$/i.test(cell('optional')))
      return void fail(`optional: "${cell('optional')}" is neither yes nor no.`);
    const tricks = cell('tricks')
      .split(';')
      .map((t) => t.trim())
      .filter(Boolean);
    for (const trick of tricks) addTrick(setup, trick, known, fail);
    setup.parts.push({ name, what: cell('what').slice(0, 500), seconds, optional, tricks });
  });
  return {
    setups: [...setups.values()].sort((a, b) => a.number - b.number),
    errors: errors.sort((a, b) => a.line - b.line),
  };
}

/** What stands between the columns: some spreadsheets write semicolons or tabs. Told from the first line, which has only names. */
function separatorOf(text: string): string {
  const first = text.split(/\r?\n/, 1)[0];
  return [',', ';', '\t'].reduce((a, b) => (first.split(b).length > first.split(a).length ? b : a));
}

/** Reads what a line says of its setup; a second, different value is an error. */
function readSetupCells(
  setup: ShotSetup,
  given: Map<string, string>,
  cell: (c: Column) => string,
  fail: (text: string) => void,
): void {
  for (const column of ['setup_name', 'place', 'notes', ...CAMERA_FIELDS] as const) {
    const text = cell(column);
    if (text === '') continue;
    const before = given.get(column);
    if (before !== undefined && before !== text) {
      fail(
        `${column}: "${text}" here, "${before}" on an earlier line of setup ${setup.number}. A setup has one of them.`,
      );
      continue;
    }
    given.set(column, text);
    if (column === 'setup_name') setup.name = text.slice(0, 120);
    else if (column === 'place') setup.place = text.slice(0, 200);
    else if (column === 'notes') setup.notes = text.slice(0, 2000);
    else if (column === 'camera' || column === 'lens') setup.camera[column] = text.slice(0, 120);
    else {
      const value = Number(text.replace(',', '.'));
      const [least, most] = BOUNDS[column] ?? [-Infinity, Infinity];
      if (!(value >= least && value <= most)) fail(`${column}: "${text}" is not a number from ${least} to ${most}.`);
      else setup.camera[column] = value;
    }
  }
}

function addTrick(setup: ShotSetup, name: string, known: readonly ShotTrick[], fail: (text: string) => void): void {
  if (setup.tricks.some((t) => t.name.toLowerCase() === name.toLowerCase())) return;
  const same = (t: { name: string }) => t.name.toLowerCase() === name.toLowerCase();
  const own = known.find(same);
  const trick = TRICKS.find(same);
  if (own) setup.tricks.push({ ...own, parts: {}, namedOnly: true });
  else if (trick)
    setup.tricks.push({ name: trick.name, definition: trick, wishes: { ...NO_WISHES }, parts: {}, namedOnly: true });
  else
    fail(
      `tricks: "${name}" is in neither the library nor the plan. Check the spelling, or compose it in the app first.`,
    );
}
