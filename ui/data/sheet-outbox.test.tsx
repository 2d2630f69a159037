/** @jest-environment jsdom */
import type { Root } from 'react-dom/client';
import type { useSheet as UseSheet } from './sheet-outbox';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

const SHEET = {
  setup: { id: 's', number: 1 },
  shoot: {},
  steps: [],
  orders: [],
  tricks: [],
  contradictions: [],
  ticks: [{ line: 'part:a', done: true, ticked_by: 'Ines', ticked_at: '2027-10-05T18:00:00Z' }],
};

/** A server that can be cut off; remembers the ticks it was sent. */
class Server {
  reachable = true;
  refuses = false;
  /** Fails within, at every request for ticks. */
  fails = false;
  /** A line that is no tick to it. */
  refusedLine: string | null = null;
  readonly sent: { line: string; done: boolean; by: string }[] = [];

  readonly paths: string[] = [];

  readonly fetch = async (path: string, options?: { method?: string; body?: string }) => {
    if (!this.reachable) throw new TypeError('Failed to fetch');
    if (options?.method === 'PUT') {
      if (this.refuses)
        return { ok: false, status: 404, json: async () => ({ error: 'This setup is not here any more.' }) };
      this.paths.push(path);
      if (this.fails || (path.includes('/lame/') && this.refusedLine === null))
        return { ok: false, status: 500, json: async () => ({ error: 'Something went wrong on the server.' }) };
      const { ticks } = JSON.parse(options.body!) as { ticks: { line: string; done: boolean; by: string }[] };
      if (ticks.some((t) => t.line === this.refusedLine))
        return { ok: false, status: 400, json: async () => ({ error: 'The line is not one of the sheet.' }) };
      this.sent.push(...ticks);
      return { ok: true, status: 200, json: async () => [] };
    }
    return { ok: true, status: 200, json: async () => SHEET };
  };
}

let server: Server;
let root: Root;
/** Of the copy of React that the module under test sees. */
let act: typeof import('react').act;
let now: ReturnType<typeof UseSheet>;

/** Opens the sheet as a page just loaded would: the module reads the device's storage anew. */
async function open(): Promise<void> {
  jest.resetModules();
  const { useSheet } = jest.requireActual<{ useSheet: typeof UseSheet }>('./sheet-outbox');
  const react = jest.requireActual<typeof import('@tanstack/react-query')>('@tanstack/react-query');
  const client = new react.QueryClient({ defaultOptions: { queries: { retry: false, networkMode: 'always' } } });
  function Probe() {
    now = useSheet('s');
    return null;
  }
  act = jest.requireActual<typeof import('react')>('react').act;
  const dom = jest.requireActual<typeof import('react-dom/client')>('react-dom/client');
  root = dom.createRoot(document.createElement('div'));
  await step(() =>
    root.render(
      <react.QueryClientProvider client={client}>
        <Probe />
      </react.QueryClientProvider>,
    ),
  );
}

/** Does something, and lets so much time pass, on a clock of the test's own. */
const step = (work: () => void = () => undefined, ms = 0) =>
  act(async () => {
    work();
    await jest.advanceTimersByTimeAsync(ms);
  });

beforeEach(() => {
  jest.useFakeTimers();
  window.localStorage.clear();
  server = new Server();
  globalThis.fetch = server.fetch as unknown as typeof fetch;
});
afterEach(async () => {
  await step(() => root.unmount());
  jest.useRealTimers();
});

test('the server’s ticks show, and a tick of one’s own goes out at once', async () => {
  await open();
  await step(undefined, 50);
  expect(now.ticks.get('part:a')).toMatchObject({ done: true, ticked_by: 'Ines' });
  await step(() => now.tick('part:b', true, 'Nils'), 50);
  expect(server.sent).toMatchObject([{ line: 'part:b', done: true, by: 'Nils' }]);
  expect(now.unsent).toBe(0);
});

test('cut off, ticks show and wait; the latest word on a line is what is sent when the server is back', async () => {
  await open();
  await step(undefined, 50);
  server.reachable = false;
  await step(() => now.tick('part:b', true, 'Nils'), 20);
  await step(() => now.tick('part:c', true, 'Nils'), 20);
  await step(() => now.tick('part:b', false, 'Nils'), 20);
  expect(now.unsent).toBe(2);
  expect(now.ticks.get('part:b')?.done).toBe(false);
  expect(now.ticks.get('part:c')?.done).toBe(true);
  expect(now.sheet).not.toBeNull();
  await step(undefined, 300);
  expect(now.unsent).toBe(2);
  server.reachable = true;
  await step(undefined, 3500);
  expect(now.unsent).toBe(0);
  expect(server.sent.map((t) => [t.line, t.done]).sort()).toEqual([
    ['part:b', false],
    ['part:c', true],
  ]);
});

test('a page closed and opened anew without the server shows the sheet and what waits', async () => {
  await open();
  await step(undefined, 50);
  server.reachable = false;
  await step(() => now.tick('part:b', true, 'Nils'), 20);
  await step(() => root.unmount());
  await open();
  await step(undefined, 50);
  expect(now.sheet?.setup.id).toBe('s');
  expect(now.ticks.get('part:b')?.done).toBe(true);
  expect(now.unsent).toBe(1);
  server.reachable = true;
  await step(undefined, 3500);
  expect(server.sent).toHaveLength(1);
});

test('ticks of a setup that is gone do not wait for ever', async () => {
  await open();
  await step(undefined, 50);
  server.refuses = true;
  await step(() => now.tick('part:b', true, 'Nils'), 50);
  expect(now.unsent).toBe(0);
  expect(server.sent).toHaveLength(0);
});

test('a server that fails within is asked again, and nothing is lost meanwhile', async () => {
  await open();
  await step(undefined, 50);
  server.fails = true;
  await step(() => now.tick('part:b', true, 'Nils'), 50);
  expect(now.unsent).toBe(1);
  expect(now.ticks.get('part:b')?.done).toBe(true);
  expect(server.paths).toHaveLength(1);
  await step(undefined, 3200);
  expect(now.unsent).toBe(1);
  expect(server.paths.length).toBeGreaterThan(1);
  server.fails = false;
  await step(undefined, 3200);
  expect(now.unsent).toBe(0);
  expect(server.sent).toMatchObject([{ line: 'part:b', done: true }]);
});

test('a line that the server refuses does not hold up the lines beside it', async () => {
  await open();
  await step(undefined, 50);
  server.reachable = false;
  await step(() => now.tick('part:b', true, 'Nils'), 20);
  await step(() => now.tick('part:gone', true, 'Nils'), 20);
  await step(() => now.tick('part:c', true, 'Ines'), 20);
  expect(now.unsent).toBe(3);
  server.refusedLine = 'part:gone';
  server.reachable = true;
  await step(undefined, 3300);
  expect(server.sent.map((t) => t.line).sort()).toEqual(['part:b', 'part:c']);
  expect(now.unsent).toBe(0);
  expect(now.ticks.has('part:gone')).toBe(false);
  // What was refused is not tried for ever.
  const tries = server.paths.length;
  await step(undefined, 3300);
  expect(server.paths).toHaveLength(tries);
});

test('a setup that cannot be saved does not hold up another one', async () => {
  const kept = { line: 'part:x', done: true, by: 'Nils', at: '2027-10-05T18:00:00Z' };
  window.localStorage.setItem('umbrastat.ticks', JSON.stringify([{ ...kept, setupId: 'lame' }]));
  await open();
  await step(() => now.tick('part:b', true, 'Nils'), 100);
  expect(server.sent).toMatchObject([{ line: 'part:b' }]);
  expect(now.unsent).toBe(0);
  expect(JSON.parse(window.localStorage.getItem('umbrastat.ticks')!)).toMatchObject([{ setupId: 'lame' }]);
});

test('storage that holds no ticks is read as none', async () => {
  window.localStorage.setItem('umbrastat.ticks', '{not json');
  await open();
  await step(undefined, 50);
  expect(now.unsent).toBe(0);
  expect(now.sheet?.setup.id).toBe('s');
});
