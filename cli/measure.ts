import type { Delivery } from '../core/take/cover';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import Joi from 'joi';
import type { TakeFacts } from '../core/report/summaries';
import { ALL_MEASURES, type AnyMeasure } from '../core/measures';
import type { FedTake } from '../media/feeds/feed';
import { PlainMeasures, type KnownMeasures } from '../media/feeds/plain-measures';
import { UsageError } from './arguments';
import { reasonLines } from './text-report';

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
  try {
    const plain = new PlainMeasures(root, asked.delivery, asked.say, asked.known);
    const takes: FedTake[] = [];
    for (const [n, path] of files.entries()) takes.push(await plain.fed(path, `take-${n}`, [measure]));
    const facts = takes.flatMap((t) => t.facts ?? []);
    const wish = readWish(measure, asked.wish, facts);
    const result = await plain.make(measure, takes, wish);
    const by = { delivery: plain.deliveryOf(takes), takes: facts.map((f) => ({ facts: f, shutterS: null })) };
    const verdict = measure.judge?.(result, by) ?? null;
    const lines = [`${files.map((f) => basename(f)).join(' against ')}`];
    if (verdict) lines.push(`${key}: ${verdict.verdict.toUpperCase()}`, ...reasonLines(verdict));
    asked.print({ files: files.map((f) => basename(f)), ...result, ...verdict }, lines.join('\n'));
    return asked.gate && verdict?.verdict === 'reshoot' ? 1 : 0;
  } finally {
    await rm(root, { recursive: true, force: true });
  }
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
