import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import Joi from 'joi';
import type { TakeFacts } from '../core/judge/take';
import { ALL_MEASURES, type AnyMeasure } from '../core/measures';
import type { Feed, FedTake } from '../media/feed';
import { FEEDS } from '../media/feeds';
import { keptPath } from '../media/kept-files';
import type { Delivery } from '../media/measure-take';
import { UsageError } from './arguments';
import { reasonLines } from './text-report';

/** Measures besides those of the app, with their feeds. */
export interface KnownMeasures {
  measures?: readonly AnyMeasure[];
  feeds?: Record<string, Feed<never>>;
}

interface Asked {
  /** The wish as JSON. */
  wish?: string;
  gate?: boolean;
  delivery?: Delivery;
  say: (text: string) => void;
  print: (report: object, text: string) => void;
  known: KnownMeasures;
}

/** Makes any measure of plain files by its description: what it needs of them is measured first. Gives the exit code. */
export async function measureFiles(key: string, files: readonly string[], asked: Asked): Promise<number> {
  const measures = [...ALL_MEASURES, ...(asked.known.measures ?? [])];
  const feeds: Record<string, Feed<never>> = { ...FEEDS, ...asked.known.feeds };
  const measure = measures.find((m) => m.key === key);
  if (!measure) {
    const names = measures.map((m) => m.key);
    throw new UsageError(
      `"${key}" is not a check. Use: umbrastat ${names.slice(0, -1).join(', ')} or ${names.at(-1)}.`,
    );
  }
  if (files.length !== measure.takes) {
    const wanted = measure.takes === 1 ? 'one file' : 'two files';
    throw new UsageError(`${key} wants ${wanted}, ${files.length} were given.`);
  }
  const root = await mkdtemp(join(tmpdir(), 'umbrastat-measure-'));
  const signal = new AbortController().signal;
  try {
    const make = async (m: AnyMeasure, takes: FedTake[], wish: object): Promise<object> => {
      const task = {
        takes,
        plate: null,
        wish: wish as never,
        delivery: deliveryOf(asked.delivery, takes),
        root,
        id: 'one',
      };
      const subject = { recording: takes[0].hash, take: takes[0].id, itself: 'one' };
      await mkdir(join(root, m.files.folder), { recursive: true });
      return feeds[m.key](task, {
        signal,
        progress: (done, total, doing) => asked.say(doing || (total ? `frame ${done} of ${total} ` : `frame ${done} `)),
        fresh: (name) => keptPath(root, m.files, subject, name),
      });
    };
    const takes: FedTake[] = [];
    for (const [n, path] of files.entries()) {
      const take: FedTake = { id: `take-${n}`, path, hash: `file-${n}`, name: basename(path), facts: null, known: {} };
      for (const need of [...measure.needs, ...measure.uses] as string[]) {
        const other = measures.find((m) => m.key === need);
        if (other?.takes !== 1) continue;
        take.known[need] = await make(other, [take], other.wish(Joi).validate({}).value as object);
        if (need === 'take') take.facts = take.known[need] as TakeFacts;
      }
      takes.push(take);
    }
    const facts = takes.flatMap((t) => t.facts ?? []);
    const wish = readWish(measure, asked.wish, facts);
    const result = await make(measure, takes, wish);
    const by = { delivery: deliveryOf(asked.delivery, takes), takes: facts.map((f) => ({ facts: f, shutterS: null })) };
    const verdict = measure.judge?.(result, by) ?? null;
    const lines = [`${files.map((f) => basename(f)).join(' against ')}`];
    if (verdict) lines.push(`${key}: ${verdict.verdict.toUpperCase()}`, ...reasonLines(verdict));
    asked.print({ files: files.map((f) => basename(f)), ...result, ...verdict }, lines.join('\n'));
    return asked.gate && verdict?.verdict === 'reshoot' ? 1 : 0;
  } finally {
    await rm(root, { recursive: true, force: true });
  }
}

/** What the edit is finished at: as given, else as the first file is. */
function deliveryOf(given: Delivery | undefined, [first]: readonly FedTake[]) {
  const { width = 1920, height = 1080, measured_fps: fps = 25 } = first.facts?.media ?? {};
  return { width: given?.width ?? width, height: given?.height ?? height, fps: given?.fps ?? fps ?? 25 };
}

function readWish(measure: AnyMeasure, text: string | undefined, facts: TakeFacts[]): object {
  let given: unknown = {};
  try {
    given = JSON.parse(text ?? '{}');
  } catch {
    throw new UsageError(`--wish ${text} is not JSON.`);
  }
  const checked = measure.wish(Joi).validate(given);
  const wish = checked.value as object;
  const wrong = checked.error?.message ?? (facts.length === measure.takes ? measure.misfit?.(wish, facts) : null);
  if (wrong) throw new UsageError(`--wish: ${wrong}`);
  return wish;
}
