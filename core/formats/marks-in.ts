import Papa from 'papaparse';
import { WebVTTParser, type VttNode } from 'webvtt-parser';
import type { Mark } from '../plan/marks';
import { fromTimecode } from '../calculators/timecode';
import { unguard } from './cells';
import { countedAt, countFromTimecode, type MarkedTake } from './marks-out';
import type { LineError } from './shot-list-csv';

/** The take whose marks are taken in. */
export type MarksFor = Pick<MarkedTake, 'name' | 'file' | 'rate' | 'timecode'> & { frameCount: number };

/** A mark as a file has it, with the line it stands on. */
export interface ReadMark {
  line: number;
  frame: number;
  name: string;
}

/** What taking marks in changes. Nothing is removed. */
export type MarkChange = { text: string; frame: number; name: string } & (
  { kind: 'add-mark' } | { kind: 'move-mark'; id: string }
);

const LONGEST_NAME = 80;

/** Reads marks of a take from WebVTT or CSV, by what the text is. Lines that cannot be read are told, not passed over. */
export function readMarks(text: string, take: MarksFor): { marks: ReadMark[]; errors: LineError[] } {
  const plain = text.replace(/^\uFEFF/, '');
  const read = /^WEBVTT/.test(plain) ? readVtt(plain, take) : readCsv(plain, take);
  const errors = [...read.errors];
  const marks = read.marks.filter(({ line, frame, name }) => {
    const why = faultOf(frame, name, take);
    if (why) errors.push({ line, text: why });
    return !why;
  });
  if (marks.length + errors.length === 0) errors.push({ line: 1, text: 'There is no mark in this file.' });
  return { marks, errors: errors.sort((a, b) => a.line - b.line) };
}

function faultOf(frame: number, name: string, { frameCount }: MarksFor): string | null {
  if (!name) return 'A mark has no name.';
  if (name.length > LONGEST_NAME) return `A mark’s name is longer than ${LONGEST_NAME} letters.`;
  if (frame < 0 || frame >= frameCount)
    return `Frame ${frame} is not in the take: it has frames 0 to ${frameCount - 1}.`;
  return null;
}

/** What cues write otherwise. */
const ENTITIES = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&nbsp;': ' ', '&lrm;': '', '&rlm;': '' };

const textOf = (nodes: readonly VttNode[]): string => nodes.map((n) => n.value ?? textOf(n.children ?? [])).join('');

function readVtt(text: string, { rate: [over, under] }: MarksFor) {
  const { cues, errors: all } = new WebVTTParser(ENTITIES).parse(text);
  // A lone ampersand is taken as it stands.
  const errors = all.filter((e) => e.message !== 'Incorrect escape.');
  // The parser tells no lines of cues: they are where their times are.
  const lines = text.split(/\r\n|\r|\n/).flatMap((line, n) => (line.includes('-->') ? [n + 1] : []));
  const marks = cues.map((cue, n): ReadMark => {
    const frame = Math.round((cue.startTime * over) / under);
    // Times are to a thousandth: where the cue says its frame, and its time agrees, that counts.
    const said = /^frame (\d+)$/.exec(cue.id);
    const own = said ? Number(said[1]) : frame;
    const name = textOf(cue.tree.children).replace(/\s+/g, ' ').trim();
    return { line: lines[n] ?? 1, frame: Math.abs(own - frame) <= 1 ? own : frame, name };
  });
  return { marks, errors: errors.map((e): LineError => ({ line: e.line, text: `This is no WebVTT: ${e.message}` })) };
}

function readCsv(text: string, take: MarksFor) {
  const { data, errors: broken } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: false });
  const errors: LineError[] = broken.map((e) => ({
    line: (e.row ?? 0) + 1,
    text: 'This line is no CSV: a quote is open.',
  }));
  const columns = (data[0] ?? []).map((c) => c.trim().toLowerCase());
  const at = (name: string) => columns.indexOf(name);
  if (at('name') < 0 || !['frame', 'timecode', 'seconds'].some((c) => at(c) >= 0))
    return {
      marks: [],
      errors: [{ line: 1, text: 'The first line must name the columns: name, and frame, timecode or seconds.' }],
    };
  const marks = data.slice(1).flatMap((cells, n): ReadMark[] => {
    const cell = (name: string) => unguard((cells[at(name)] ?? '').trim());
    if (cells.every((c) => c.trim() === '') || !isOf(take, cell('take'), cell('file'))) return [];
    const frame = frameOf(cell, take);
    if (typeof frame === 'number') return [{ line: n + 2, frame, name: cell('name') }];
    errors.push({ line: n + 2, text: frame });
    return [];
  });
  return { marks, errors };
}

/** Whether a line speaks of this take: by its name or its file, or of no take at all. */
const isOf = ({ name, file }: MarksFor, take: string, of: string) => (!take && !of) || take === name || of === file;

/** The frame of a line, or why it has none. */
function frameOf(cell: (name: string) => string, { rate, timecode }: MarksFor): number | string {
  const [frame, code, seconds] = ['frame', 'timecode', 'seconds'].map(cell);
  if (frame) return /^\d{1,8}$/.test(frame) ? Number(frame) : `frame: "${frame}" is no frame. Count them from 0.`;
  if (code) {
    const counted = countedAt(rate, timecode);
    if (!counted) return 'timecode: this rate has none. Give frames.';
    try {
      return fromTimecode(code, counted) - (countFromTimecode(rate, timecode) ?? 0);
    } catch (error) {
      return `timecode: ${(error as Error).message}`;
    }
  }
  const value = Number(seconds.replace(',', '.'));
  if (seconds && Number.isFinite(value)) return Math.round((value * rate[0]) / rate[1]);
  return 'This line has neither frame, timecode nor seconds.';
}

/** What marks that were read change in those of a take: what has the same name is moved, the rest is added. */
export function planMarks(now: readonly Mark[], read: readonly ReadMark[]): MarkChange[] {
  const open = [...now];
  const take = (fits: (m: Mark) => boolean) => {
    const at = open.findIndex(fits);
    return at < 0 ? null : open.splice(at, 1)[0];
  };
  // What stands where it stood is matched first: of two with one name only the one that moved is moved.
  const rest = read.filter((r) => !take((m) => m.name === r.name && m.frame === r.frame));
  return rest.map(({ frame, name }): MarkChange => {
    const same = take((m) => m.name === name);
    if (!same) return { kind: 'add-mark', text: `${name} at frame ${frame} is new`, frame, name };
    const text = `${name} moves from frame ${same.frame} to ${frame}`;
    return { kind: 'move-mark', id: same.id, text, frame, name };
  });
}
