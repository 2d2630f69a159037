import type { Delivery } from '../core/take/cover';
import { mkdir, mkdtemp, readdir, realpath, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import Joi from 'joi';
import { findTrick, ownTrick } from '../core/tricks/library/library';
import type { Trick } from '../core/tricks/types';
import { ALL_MEASURES } from '../core/measures';
import { packPlain, type PlainMeasure } from '../packs/plain';
import { version } from '../package.json';
import { parseBox, parsePurpose, UsageError } from './arguments';

export interface PlainValues {
  pack?: string;
  plate?: string;
  at?: string;
  'at-a'?: string;
  'at-b'?: string;
  count?: string;
  box?: string;
  for?: string;
  recordings?: boolean;
  mattes?: boolean;
}

interface Size {
  width: number;
  height: number;
}

/** What a command’s files are in a trick, in the order in which it names them, and what is measured of them. */
interface Plain {
  trick: Trick;
  parts: string[];
  plate?: string;
  measures: (values: PlainValues) => { key: string; of: string[]; wish?: object | ((size: Size) => object) }[];
}

/** The corners of a box in pixels, as shares of the picture. */
function cornersOf(box: string, { width: w, height: h }: Size): [number, number][] {
  const { x, y, width, height } = parseBox(box);
  const [left, right] = [x / w, (x + width) / w].map((share) => Math.max(0, Math.min(1, share)));
  const [top, bottom] = [y / h, (y + height) / h].map((share) => Math.max(0, Math.min(1, share)));
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}

const number = (text: string | undefined) => (text === undefined ? null : Number(text));
const whole = (key: string, parts: string[], measures: Plain['measures'], plate = 'plate'): Plain => {
  return { trick: findTrick(key)!, parts, plate, measures };
};
const PLAIN: Record<string, Plain> = {
  take: { trick: ownTrick('Take'), parts: ['pass'], measures: () => [] },
  plate: { trick: ownTrick('Plate'), parts: ['plate'], measures: () => [] },
  beats: { trick: ownTrick('Beats'), parts: ['pass'], measures: () => [{ key: 'beats', of: ['pass'] }] },
  compare: {
    trick: ownTrick('Comparison'),
    parts: ['pass', 'plate'],
    measures: () => [{ key: 'compare', of: ['pass', 'plate'] }],
  },
  cover: whole('passing-wipe', ['out'], () => [{ key: 'cover', of: ['out'] }]),
  cut: whole('passing-wipe', ['out', 'in'], () => [
    { key: 'cover', of: ['out'] },
    { key: 'cut', of: ['out', 'in'] },
  ]),
  pair: whole('double', ['pass-a', 'pass-b'], () => [{ key: 'pair', of: ['pass-a', 'pass-b'] }]),
  hide: whole('slip-behind', ['pass'], ({ at }) => [{ key: 'hide', of: ['pass'], wish: { at: number(at) } }]),
  cloth: whole('cloth-drop', ['pass'], () => [{ key: 'cloth', of: ['pass'] }]),
  stills: whole('held-moment', ['fall'], ({ count }) => [
    { key: 'stills', of: ['fall'], wish: count === undefined ? {} : { count: Number(count) } },
  ]),
  spot: whole('mid-air-vanish', ['jump', 'prop'], (v) => [
    { key: 'spot', of: ['jump', 'prop'], wish: { at_a: number(v['at-a']), at_b: number(v['at-b']) } },
  ]),
  zone: {
    trick: ownTrick('Zone'),
    parts: ['pass'],
    plate: 'plate',
    measures: ({ box }) => [{ key: 'zone', of: ['pass'], wish: (size) => ({ zone: cornersOf(box!, size) }) }],
  },
  figure: {
    trick: ownTrick('Figure'),
    parts: ['pass'],
    plate: 'plate',
    measures: ({ box }) => [
      { key: 'figure', of: ['pass'], wish: (size) => ({ zone: box === undefined ? null : cornersOf(box, size) }) },
    ],
  },
  meet: whole('staged-impact', ['react', 'vehicle'], () => [{ key: 'meet', of: ['react', 'vehicle'] }]),
};

/** What may be said of a command besides, so that the pack says the same as the report. */
const CARRIED: Record<string, string[]> = {
  hide: ['at'],
  stills: ['count'],
  spot: ['at-a', 'at-b'],
  zone: ['box'],
  figure: ['box'],
};

/** @throws UsageError where what is asked for cannot be packed, before anything is measured */
export async function needPlainPack(
  command: string | undefined,
  files: readonly string[],
  values: PlainValues,
): Promise<void> {
  const known = PLAIN[command ?? ''];
  if (!known) {
    const names = Object.keys(PLAIN);
    throw new UsageError(`--pack goes with ${names.slice(0, -1).join(', ')} and ${names.at(-1)}.`);
  }
  if (files.length > known.parts.length)
    throw new UsageError(
      `With --pack ${command} takes ${known.parts.length === 1 ? 'one file' : 'two files'}, ${files.length} were given.`,
    );
  const carried = new Set([
    'pack',
    'plate',
    'delivery',
    'json',
    'gate',
    'for',
    'recordings',
    'mattes',
    ...(CARRIED[command!] ?? []),
  ]);
  const left = Object.keys(values).find((option) => !carried.has(option));
  if (left) throw new UsageError(`--${left} does not go along into a pack. Leave out --${left}, or --pack.`);
  const there = await readdir(values.pack!).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return [];
    throw new UsageError(`--pack ${values.pack} is no folder. Name one that is empty, or not there yet.`);
  });
  if (there.length)
    throw new UsageError(`--pack ${values.pack} is not empty. Name a folder that is empty, or not there yet.`);
}

/** Writes what a masking artist needs of plain files into a folder; what it could not write it takes away again. */
export async function plainPack(
  command: string,
  files: readonly string[],
  values: PlainValues,
  { delivery, say }: { delivery: Delivery | undefined; say: (text: string) => void },
): Promise<string> {
  const { trick, parts, plate, measures } = PLAIN[command];
  const given = new Map(files.map((path, i) => [parts[i], path]));
  if (plate && values.plate !== undefined) given.set(plate, values.plate);
  const own: Trick = {
    ...trick,
    name: files.map((f) => basename(f)).join(' and '),
    summary: `Of plain files, by what “umbrastat ${command}” measures.`,
    parts: trick.parts.filter((p) => given.has(p.key)).map((p) => ({ ...p, optional: false })),
  };
  const asked = measures(values).map(({ key, of, wish = {} }): PlainMeasure => {
    const measure = ALL_MEASURES.find((m) => m.key === key)!;
    const wished = (size: Size) => (typeof wish === 'function' ? (wish as (size: Size) => object)(size) : wish);
    return { measure, of, wish: (size) => measure.wish(Joi).validate(wished(size)).value as object };
  });
  const root = resolve(values.pack!);
  const wasThere = await stat(root).then(
    () => true,
    () => false,
  );
  const work = await mkdtemp(join(tmpdir(), 'umbrastat-pack-'));
  await mkdir(root, { recursive: true });
  try {
    await packPlain({
      trick: own,
      files: given,
      measures: asked,
      recordings: values.recordings ?? false,
      mattes: values.mattes ?? false,
      purpose: command === 'take' ? parsePurpose(values.for) : undefined,
      delivery,
      root: await realpath(root),
      work,
      version,
      say,
    });
  } catch (error) {
    for (const name of await readdir(root)) await rm(join(root, name), { recursive: true, force: true });
    if (!wasThere) await rm(root, { recursive: true, force: true });
    throw error;
  } finally {
    await rm(work, { recursive: true, force: true });
  }
  return root;
}
