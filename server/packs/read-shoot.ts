import type Joi from 'joi';
import { visit, printParseErrorCode, type JSONPath } from 'jsonc-parser';
import type { MessagePort } from 'node:worker_threads';
import { shootFile } from '../../api/shoot-file-schemas';
import type { TakenInPack } from '../../api/packs';
import { faultsOfShoot, LISTS, type FileFault, type ListName, type ShootFile } from '../../core/packs/shoot-file';

const MOST_ERRORS = 50;
/** Nothing in a shoot lies deeper than some ten levels. */
const MOST_DEPTH = 64;
/** Records of all lists together: a season's shoot has some thousands. */
const MOST_RECORDS = 100_000;

/** The shoot of a pack as it was read, or what is wrong with it, by line. */
export type ReadShoot = { file: ShootFile } | { errors: TakenInPack['errors'] };

/** Reads the shoot of a pack. Takes memory of some twenty times the text: do it in a thread that is held to a limit. */
export function readShootText(text: string): ReadShoot {
  if (!text.trim()) return { errors: [{ line: 1, text: 'There is nothing in it.' }] };
  const deep = tooDeepAt(text);
  if (deep !== null)
    return { errors: [{ line: deep, text: `Lists lie in lists more than ${MOST_DEPTH} deep here. Take that out.` }] };
  let json: unknown;
  try {
    json = JSON.parse(text) as unknown;
  } catch {
    return { errors: mistakesIn(text) };
  }
  const records = countOf(json);
  if (records > MOST_RECORDS)
    return { errors: [{ line: 1, text: `It holds ${records} records; up to ${MOST_RECORDS} are taken in.` }] };
  const checked = shootFile.validate(json, { abortEarly: true });
  const said = (faults: FileFault[]) => ({ errors: asErrors(text, faults.slice(0, MOST_ERRORS)) });
  if (checked.error) {
    const faults = faultsOfRecords(json);
    return said(faults.length ? faults : checked.error.details.map((d) => ({ at: d.path, text: d.message })));
  }
  const faults = faultsOfShoot(checked.value);
  return faults.length ? said(faults) : { file: checked.value };
}

/** The line on which brackets lie too deep in each other; null where they nowhere do. */
function tooDeepAt(text: string): number | null {
  let depth = 0;
  let line = 1;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 10) line++;
    else if (c === 34) {
      for (i++; i < text.length && text.charCodeAt(i) !== 34; i++) if (text.charCodeAt(i) === 92) i++;
    } else if (c === 91 || c === 123) {
      if (++depth > MOST_DEPTH) return line;
    } else if (c === 93 || c === 125) depth--;
  }
  return null;
}

const listIn = (json: unknown, list: ListName): unknown[] => {
  const found = (json as Record<string, unknown> | null)?.[list];
  return Array.isArray(found) ? found : [];
};

const countOf = (json: unknown): number => LISTS.reduce((sum, list) => sum + listIn(json, list).length, 0);

/** What is wrong with single records, the first of them: found one record at a time, as a list has many. */
function faultsOfRecords(json: unknown): FileFault[] {
  const faults: FileFault[] = [];
  for (const list of LISTS) {
    const schema = shootFile.extract(list);
    for (const [i, record] of listIn(json, list).entries()) {
      const { error }: Joi.ValidationResult = schema.validate([record], { abortEarly: false });
      for (const { path, message } of error?.details ?? [])
        faults.push({ at: [list, i, ...path.slice(1)], text: message });
      if (faults.length >= MOST_ERRORS) return faults;
    }
  }
  return faults;
}

const nameOf = (at: JSONPath) => JSON.stringify(at);

/** Faults with the lines they stand on. What is missing stands on no line: what it is missing from does. */
function asErrors(text: string, faults: readonly FileFault[]): TakenInPack['errors'] {
  const lines = new Map<string, number>();
  const wanted = new Set(faults.flatMap(({ at }) => at.map((_, n) => nameOf(at.slice(0, n + 1)))));
  // Only where something that is wanted may lie its path is worked out in full.
  const deepest = Math.max(...faults.map(({ at }) => at.length));
  const note = (line: number, path: () => JSONPath, depth: number) => {
    if (depth > deepest) return;
    const name = nameOf(path());
    if (wanted.has(name) && !lines.has(name)) lines.set(name, line + 1);
  };
  let depth = 0;
  visit(text, {
    onObjectBegin: (_offset, _length, line, _column, path) => note(line, path, depth++),
    onArrayBegin: (_offset, _length, line, _column, path) => note(line, path, depth++),
    onObjectEnd: () => void depth--,
    onArrayEnd: () => void depth--,
    onLiteralValue: (_value, _offset, _length, line, _column, path) => note(line, path, depth),
  });
  return faults.map(({ at, text: said }) => {
    let line = 1;
    for (let n = at.length; n > 0 && line === 1; n--) line = lines.get(nameOf(at.slice(0, n))) ?? 1;
    return { line, text: `${at.join(' › ')}: ${said}` };
  });
}

class Enough extends Error {}

/** Where the text is no JSON: the first mistakes, by line. */
function mistakesIn(text: string): TakenInPack['errors'] {
  const found: TakenInPack['errors'] = [];
  try {
    visit(
      text,
      {
        onError: (code, _offset, _length, line) => {
          const said = printParseErrorCode(code);
          found.push({ line: line + 1, text: `The JSON breaks off or has a mistake here (${said}).` });
          if (found.length >= MOST_ERRORS) throw new Enough();
        },
      },
      { disallowComments: true },
    );
  } catch (error) {
    if (!(error instanceof Enough)) throw error;
  }
  return found.length ? found : [{ line: 1, text: 'The JSON breaks off or has a mistake.' }];
}

/** The same as a thread's work. */
export default function readInThread({ text, port }: { text: string; port: MessagePort }): ReadShoot {
  port.close();
  return readShootText(text);
}
