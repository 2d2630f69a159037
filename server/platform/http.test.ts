import { once } from 'node:events';
import { get, type IncomingMessage } from 'node:http';
import Joi from 'joi';
import pino from 'pino';
import express, { type Request, type Response } from 'express';
import type { AddressInfo } from 'node:net';
import { LookFailed, UnusableMedia } from '../../media/errors';
import { checked, Refusal, sayWhatWentWrong, sharedAnswer } from './http';
import { SharedAnswers } from './shared-answers';

const quiet = pino({ level: 'silent' });

/** What a request gets when `error` was thrown on its way. */
function answerTo(
  error: unknown,
  headersSent = false,
): { status: number; body: { error: string; code: string } } | 'passed on' {
  let status = 200;
  let body: unknown = null;
  let passed = false;
  const res = {
    headersSent,
    set: () => res,
    status: (s: number) => {
      status = s;
      return res;
    },
    json: (b: unknown) => {
      body = b;
      return res;
    },
  };
  sayWhatWentWrong(quiet)(error, { path: '/x' } as Request, res as unknown as Response, () => {
    passed = true;
  });
  return passed ? 'passed on' : { status, body: body as { error: string; code: string } };
}

test.each<[string, unknown, number, string]>([
  ['a refusal', new Refusal(409, 'In use.', 'in-use'), 409, 'in-use'],
  ['a file that cannot be used', new UnusableMedia('"a.mp4" is empty.', 'empty'), 422, 'empty'],
  ['broken JSON', { type: 'entity.parse.failed', status: 400 }, 400, 'invalid'],
  ['a body too large', { type: 'entity.too.large', status: 413 }, 413, 'too-large'],
  ['a database that is gone', { code: 'ECONNREFUSED' }, 503, 'database'],
  ['a database shutting down', { code: '57P01' }, 503, 'database'],
  ['a database whose process was killed', { message: 'Connection terminated unexpectedly' }, 503, 'database'],
  ['a database that recovers', { code: '57P03' }, 503, 'database'],
  ['a full disk', { code: 'ENOSPC' }, 507, 'full'],
  ['a full disk of the database', { code: '53100' }, 507, 'full'],
  ['a file that could not be looked into', new LookFailed('ffprobe was ended'), 503, 'look-failed'],
  ['a value that no column holds', { code: '22003' }, 422, 'invalid'],
  ['an address that is not well formed', { status: 400 }, 400, 'invalid'],
  ['anything else', new TypeError('x is not a function at secret.ts:12'), 500, 'inside'],
])('%s becomes a sentence and a status', (_name, error, status, code) => {
  const answer = answerTo(error);
  expect(answer).toMatchObject({ status, body: { code } });
  const { body } = answer as { body: { error: string } };
  expect(body.error).toMatch(/[.]$/);
  expect(body.error).not.toMatch(/secret|at .*:\d+/);
});

test('an answer already under way is not written over', () => {
  expect(answerTo(new Error('late'), true)).toBe('passed on');
});

test('what is checked comes back with defaults; what is wrong says all that is wrong', () => {
  const schema = Joi.object({
    a: Joi.number().required().messages({ '*': 'a is missing.' }),
    b: Joi.string().default('x'),
    c: Joi.boolean().messages({ '*': 'c is yes or no.' }),
  });
  expect(checked(schema, { a: '3' })).toEqual({ a: 3, b: 'x' });
  expect(() => checked(schema, { c: 'perhaps' })).toThrow('a is missing. c is yes or no.');
  expect(() => checked(schema, undefined)).toThrow('a is missing.');
  expect(() => checked(schema, { a: 1, d: 2 })).toThrow(Refusal);
  const deep = JSON.parse(`{"a":${'['.repeat(20_000)}${']'.repeat(20_000)}}`) as unknown;
  expect(() => checked(schema, deep)).toThrow(/64 deep/);
});

test('a shared answer is packed for who takes that, plain for who does not, and not sent to who has it', async () => {
  const page = { words: 'trolley and crates '.repeat(400) };
  const app = express();
  app.get(
    '/page',
    sharedAnswer(new SharedAnswers(), async () => page),
  );
  const server = app.listen(0, '127.0.0.1');
  await once(server, 'listening');
  try {
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/page`;
    const read = (headers: Record<string, string>) => fetch(url, { headers });
    const packed = await read({ 'Accept-Encoding': 'gzip' });
    const plain = await read({ 'Accept-Encoding': 'identity' });
    expect([packed, plain].map((r) => r.headers.get('content-encoding'))).toEqual(['gzip', null]);
    expect(await packed.json()).toEqual(page);
    expect(await plain.json()).toEqual(page);
    const etag = packed.headers.get('etag')!;
    expect(plain.headers.get('etag')).toBe(etag);
    // Not by fetch, which asks past all that is kept.
    const [again] = (await once(get(url, { headers: { 'If-None-Match': etag } }), 'response')) as [IncomingMessage];
    expect(again.statusCode).toBe(304);
    again.resume();
  } finally {
    server.close();
  }
});
