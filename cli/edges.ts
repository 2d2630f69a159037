import { readFile } from 'node:fs/promises';
import Joi from 'joi';
import { edgesToSet, type HandCover } from '../core/cover/by-hand';
import { UsageError } from './arguments';

const place = Joi.number().min(-3).max(4).required();
const EDGES = Joi.object<HandCover>({
  kind: Joi.string().valid('passing', 'panning', 'approaching', 'closing').required(),
  way: Joi.number().valid(0, 90, 180, 270).required(),
  keys: Joi.array()
    .min(1)
    .max(400)
    .required()
    .items(
      Joi.object({
        frame: Joi.number().integer().min(0).required(),
        edge: Joi.string().required(),
        from: place,
        to: place,
      }),
    ),
});

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
  const { error, value } = EDGES.validate(raw);
  const wrong = error
    ? error.message
    : value.keys.some((k) => !edgesToSet(value.kind).includes(k.edge))
      ? `for this kind set ${edgesToSet(value.kind).join(', ')}`
      : null;
  if (wrong) throw new UsageError(`--edges ${path}: ${wrong}. Correct it and try again.`);
  return value;
}
