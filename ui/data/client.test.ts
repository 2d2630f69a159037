/** @jest-environment jsdom */
import { plain } from '../components/plain-number';
import { request, ServerSays, Unreachable } from './client';

interface Answer {
  ok?: boolean;
  status?: number;
  json?: () => Promise<unknown>;
}
const asked: [string, Record<string, unknown> | undefined][] = [];
function answers(answer: Answer | Error): void {
  globalThis.fetch = ((path: string, options?: Record<string, unknown>) => {
    asked.push([path, options]);
    if (answer instanceof Error) return Promise.reject(answer);
    return Promise.resolve({ ok: true, status: 200, json: async () => ({}), ...answer });
  }) as unknown as typeof fetch;
}
const failure = (path = '/shoots') => request(path).catch((error: unknown) => error);
beforeEach(() => asked.splice(0));

test('a question is asked under /api, without a body', async () => {
  answers({ json: async () => [{ id: 's' }] });
  expect(await request('/shoots')).toEqual([{ id: 's' }]);
  expect(asked).toEqual([['/api/shoots', { method: 'GET', headers: undefined, body: undefined }]]);
});

test('what is sent goes as JSON', async () => {
  answers({});
  await request('/shoots', { method: 'POST', body: { name: 'Night Ferry' } });
  expect(asked[0][1]).toEqual({
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"name":"Night Ferry"}',
  });
});

test('a refusal is the server’s own sentence, with its status', async () => {
  answers({ ok: false, status: 409, json: async () => ({ error: 'This take is being measured.' }) });
  const error = await failure();
  expect(error).toBeInstanceOf(ServerSays);
  expect(error).toMatchObject({ message: 'This take is being measured.', status: 409 });
});

test('a refusal without a sentence still says what to do', async () => {
  const noJson = () => Promise.reject(new SyntaxError('Unexpected token <'));
  answers({ ok: false, status: 502, json: noJson });
  expect(await failure()).toMatchObject({ message: 'The server answered with 502. Try again.', status: 502 });
});

test('no answer at all is said as such, and nothing is lost', async () => {
  answers(new TypeError('Failed to fetch'));
  const error = await failure();
  expect(error).toBeInstanceOf(Unreachable);
  expect((error as Error).message).toContain('cannot be reached');
});

test('an answer without a body is nothing, not a fault', async () => {
  answers({ status: 204, json: () => Promise.reject(new SyntaxError('Unexpected end of JSON input')) });
  expect(await request('/takes/1', { method: 'DELETE' })).toBeNull();
});

test.each([
  [0, '0.00'],
  [0.346, '0.35'],
  [-0.346, '-0.35'],
  [9.99, '9.99'],
  [10, '10.0'],
  [99.94, '99.9'],
  [100, '100'],
  [1234.5, '1235'],
  [-250.4, '-250'],
])('%d is shown with the digits that fit its size: %s', (value, shown) => {
  expect(plain(value)).toBe(shown);
});
