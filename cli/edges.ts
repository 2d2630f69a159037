import { readFile } from 'node:fs/promises';
import Joi from 'joi';
import { edgesToSet, type HandCover } from '../core/measures/cover/by-hand';
import { COVER } from '../core/measures/cover/description';
import { UsageError } from './arguments';

/** Edges set by hand, from a JSON file. @throws UsageError */
export async function readEdges(path: string): Promise<HandCover> {
  let raw: unknown;
  try {
    raw = JSON.parse(await readFile(path, 'utf8'));
  } catch {
    throw new UsageError(
      `--edges ${path} cannot be read as JSON. Give a file like ` +
        `{"kind":"passing","way":0,"keys":[{"frame":12,"edge":"lead","from":0.1,"to":0.12}]}.`,
    );
  }
  const edges = COVER.wish(Joi).validate({ hand: raw });
  if (edges.error) throw new UsageError(`--edges ${path}: ${edges.error.message}. Correct it and try again.`);
  const { hand } = edges.value;
  const known = hand && edgesToSet(hand.kind);
  if (!hand || !known || hand.keys.some((k) => !known.includes(k.edge)))
    throw new UsageError(
      `--edges ${path}: for this kind set ${known?.join(', ') ?? 'edges'}. Correct it and try again.`,
    );
  return hand;
}
