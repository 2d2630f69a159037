import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type Joi from 'joi';
import type { Logger } from 'pino';
import type { SharedAnswers } from './shared-answers';
import { LookFailed, UnusableMedia } from '../../media/errors';

/** An answer that is not the wished one, with a sentence for the person. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly code = 'refused',
    /** What else whoever asked needs to know. */
    readonly more: object = {},
  ) {
    super(message);
  }
}

/** Checks a part of a request and gives it back with defaults filled in. @throws Refusal 422 */
export function checked<T>(schema: Joi.ObjectSchema<T>, value: unknown): T {
  if (!canBeKept(value))
    throw new Refusal(422, 'A text holds a character that cannot be kept (NUL, or half of one). Remove it.', 'invalid');
  const result = schema.validate(value ?? {}, { abortEarly: false, convert: true });
  if (result.error) throw new Refusal(422, result.error.details.map((d) => d.message).join(' '), 'invalid');
  return result.value as T;
}

/** Whether the database can hold every text in a value. @throws Refusal 400 where it lies deeper than any request does */
function canBeKept(value: unknown, depth = 0): boolean {
  if (typeof value === 'string') return !value.includes('\0') && !LONE.test(value);
  if (typeof value !== 'object' || value === null) return true;
  if (depth > MOST_DEPTH)
    throw new Refusal(400, `Lists or tables lie in each other more than ${MOST_DEPTH} deep in the request.`, 'invalid');
  return Object.entries(value).every(([key, own]) => canBeKept(key) && canBeKept(own, depth + 1));
}

/** Nothing that is asked here lies deeper than some ten levels; what walks through it must not run out of stack. */
const MOST_DEPTH = 64;

/** Half of a character beyond the first 65536. */
const LONE = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

export const FULL_DISK =
  'The disk that Umbrastat keeps its data on is full. Make room (Plan, Room on disk), then try again; nothing is lost.';
/** The machine's word for it, and PostgreSQL's. */
const FULL = ['ENOSPC', 'EDQUOT', '53100'];

/** What is said of requests that could not even be read, by status. */
const UNREAD: Record<number, string> = {
  413: 'The request is too large.',
  415: 'The request is written in a way that is not understood here. Send JSON as UTF-8.',
  416: 'The file has no such part. Ask for all of it.',
};

/** The same for what many read and few change: worked out once for each change, and not sent to who has it already. */
export function sharedAnswer(answers: SharedAnswers, work: (req: Request) => Promise<unknown>): RequestHandler {
  return async (req, res) => {
    const { body, packed, etag } = await answers.at(req.originalUrl, () => work(req));
    res.set({ ETag: etag, 'Cache-Control': 'private, no-cache', Vary: 'Accept-Encoding' });
    if (req.fresh) res.status(304).end();
    else if (packed && req.acceptsEncodings('gzip'))
      res.set({ 'Content-Encoding': 'gzip', 'Content-Type': 'application/json; charset=utf-8' }).send(packed);
    else res.type('json').send(body);
  };
}

/** Aborted when whoever asked goes away before the answer is sent. */
export function whileListening(res: Response): AbortSignal {
  const gone = new AbortController();
  res.on('close', () => {
    if (!res.writableFinished) gone.abort();
  });
  return gone.signal;
}

/** A handler whose answer is sent as JSON; nothing is sent when it gives undefined. */
export function answer(work: (req: Request, res: Response) => Promise<unknown>): RequestHandler {
  return async (req, res) => {
    const body = await work(req, res);
    if (body !== undefined && !res.headersSent) res.json(body);
  };
}

/** Words of the machine, of PostgreSQL (classes 08 and 57P) and of its client for a connection that is lost. */
const LOST = /^(ECONNREFUSED|ECONNRESET|EPIPE|57P0\d|08\w{3})$/;
const LOST_WORDS = /^(Connection terminated|Client has encountered a connection error|timeout exceeded when trying)/;

function isDatabaseGone({ code, message }: { code?: string; message?: string }): boolean {
  return LOST.test(code ?? '') || LOST_WORDS.test(message ?? '');
}

/** Turns what went wrong into a status and a sentence; details go to the log only. */
export function sayWhatWentWrong(log: Logger) {
  return (error: unknown, req: Request, res: Response, next: NextFunction): void => {
    if (res.headersSent) {
      next(error);
      return;
    }
    // Nobody listens any more.
    if (res.destroyed) return;
    const known = error as { status?: number; type?: string; code?: string; message?: string };
    if (error instanceof Refusal) {
      res.status(error.status).json({ error: error.message, code: error.code, ...error.more });
    } else if (error instanceof UnusableMedia) {
      res.status(422).json({ error: error.message, code: error.code });
    } else if (error instanceof LookFailed) {
      log.error({ err: error, path: req.path }, 'a file could not be looked into');
      res
        .status(503)
        .json({
          error: `${error.message}. That says nothing of the file; it is kept. Wait a moment and try again.`,
          code: 'look-failed',
        });
    } else if (known.type === 'entity.parse.failed') {
      res.status(400).json({ error: 'The request is not valid JSON.', code: 'invalid' });
    } else if (known.type === 'entity.too.large') {
      res.status(413).json({ error: UNREAD[413], code: 'too-large' });
    } else if (FULL.includes(known.code ?? '')) {
      log.error({ err: error, path: req.path }, 'the disk is full');
      res.status(507).json({ error: FULL_DISK, code: 'full' });
    } else if (known.status && known.status >= 400 && known.status < 500) {
      const said = UNREAD[known.status] ?? 'The request cannot be read: its address or its body is not well formed.';
      res.status(known.status).json({ error: said, code: 'invalid' });
    } else if (known.code?.startsWith('22')) {
      // Class 22 of PostgreSQL: a value that no column can hold.
      log.warn({ err: error, path: req.path }, 'a value got as far as the database');
      res
        .status(422)
        .json({ error: 'A value in the request cannot be kept. Check it and try again.', code: 'invalid' });
    } else if (isDatabaseGone(known)) {
      log.warn({ err: error, path: req.path }, 'the database cannot be reached');
      res
        .set('Retry-After', '1')
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
