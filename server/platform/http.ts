import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type Joi from 'joi';
import type { Logger } from 'pino';
import { UnusableMedia } from '../../media/errors';

/** An answer that is not the wished one, with a sentence for the person. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly code = 'refused',
  ) {
    super(message);
  }
}

/** Checks a part of a request and gives it back with defaults filled in. @throws Refusal 422 */
export function checked<T>(schema: Joi.ObjectSchema<T>, value: unknown): T {
  const result = schema.validate(value ?? {}, { abortEarly: false, convert: true });
  if (result.error) throw new Refusal(422, result.error.details.map((d) => d.message).join(' '), 'invalid');
  return result.value as T;
}

/** A handler whose answer is sent as JSON; nothing is sent when it gives undefined. */
export function answer(work: (req: Request, res: Response) => Promise<unknown>): RequestHandler {
  return async (req, res) => {
    const body = await work(req, res);
    if (body !== undefined && !res.headersSent) res.json(body);
  };
}

/** Turns what went wrong into a status and a sentence; details go to the log only. */
export function sayWhatWentWrong(log: Logger) {
  return (error: unknown, req: Request, res: Response, next: NextFunction): void => {
    if (res.headersSent) {
      next(error);
      return;
    }
    const known = error as { status?: number; type?: string; code?: string };
    if (error instanceof Refusal) {
      res.status(error.status).json({ error: error.message, code: error.code });
    } else if (error instanceof UnusableMedia) {
      res.status(422).json({ error: error.message, code: error.code });
    } else if (known.type === 'entity.parse.failed') {
      res.status(400).json({ error: 'The request is not valid JSON.', code: 'invalid' });
    } else if (known.type === 'entity.too.large') {
      res.status(413).json({ error: 'The request is too large.', code: 'too-large' });
    } else if (known.code === 'ECONNREFUSED' || known.code === '57P01') {
      res
        .status(503)
        .json({ error: 'The database cannot be reached just now. Wait a moment and try again.', code: 'database' });
    } else {
      log.error({ err: error, path: req.path }, 'request failed');
      res
        .status(500)
        .json({ error: 'Something went wrong inside the app. Nothing was changed; try again.', code: 'inside' });
    }
  };
}
