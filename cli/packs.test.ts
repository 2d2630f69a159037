import { execFile } from 'node:child_process';
import { appendFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PackReport } from '../core/packs/types';
import { wallClip } from '../media/testing/wall-clip';
import { PackFolder } from '../packs/folder';
import { sealPack } from '../packs/seal';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-cli-packs-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Runs the command line; gives its exit code and what it printed. */
function run(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve) => {
    execFile(process.execPath, [join(__dirname, 'bin.cjs'), ...args], (error, out, err) =>
      resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
}

async function sealed(name: string): Promise<string> {
  const root = join(folder, name);
  mkdirSync(root);
  const { signal } = new AbortController();
  const pack = new PackFolder(root, signal);
  await pack.text('README.html', 'page', '', '<p>Ü</p>');
  await pack.text('lists/a.edl', 'list', '', 'TITLE: A');
  await sealPack(pack, name, [], { made: '2027-10-05T15:00:00+00:00', host: 'quay', version: '0.1.0', signal });
  return root;
}

test('a folder is verified by its hash list; what is not as it was ends with 1', async () => {
  const root = await sealed('night-ferry');
  expect(await run('verify', root)).toMatchObject({
    code: 0,
    out: expect.stringContaining('2 files are as they were'),
  });
  appendFileSync(join(root, 'lists', 'a.edl'), '!');
  writeFileSync(join(root, 'new.txt'), 'x');
  rmSync(join(root, 'README.html'));
  const { code, out } = await run('verify', root);
  expect(code).toBe(1);
  expect(out).toMatch(/missing: README\.html\n {2}changed: lists\/a\.edl\n {2}new: new\.txt/);
  expect(JSON.parse((await run('verify', root, '--json')).out)).toMatchObject({
    holds: false,
    changed: ['lists/a.edl'],
  });
});

test('a list that was changed itself is found out by its chain', async () => {
  const root = await sealed('chained');
  appendFileSync(join(root, 'ascmhl', '0001_chained_2027-10-05_150000Z.mhl'), '\n');
  expect(await run('verify', root)).toMatchObject({
    code: 1,
    out: expect.stringContaining('not the one that its chain'),
  });
});

test('what cannot be verified or validated says what to give instead', async () => {
  expect(await run('verify', folder)).toMatchObject({ code: 2, err: expect.stringContaining('has no hash list') });
  expect(await run('verify', join(folder, 'none'))).toMatchObject({
    code: 2,
    err: expect.stringContaining('is no folder'),
  });
  const half = join(folder, 'half.json');
  writeFileSync(half, '{"format": ');
  expect(await run('validate', half)).toMatchObject({ code: 2, err: expect.stringContaining('no JSON') });
  writeFileSync(half, '{"format": "other"}');
  expect(await run('validate', half)).toMatchObject({ code: 1, out: expect.stringContaining('/format') });
});

describe('a pack of plain files', () => {
  const [take, plate, out] = ['take.mp4', 'plate.mp4', 'of-files'].map((name) => join(folder, name));
  beforeAll(() => {
    wallClip(take, 2, 'noise=alls=4:allf=t,drawbox=x=900:y=300:w=120:h=300:c=gray:t=fill:enable=between(n\\,20\\,40)');
    wallClip(plate, 1, 'noise=alls=4:allf=t');
  });

  test('holds what was measured, the plate, a timeline and the recordings, all of it as its hashes say', async () => {
    const asked = ['compare', take, plate, '--pack', out, '--recordings', '--json'];
    const { code, out: printed, err } = await run(...asked);
    expect([code, err]).toEqual([0, expect.stringContaining(`packed: ${out}`)]);
    const { offset } = JSON.parse(printed) as { offset: { dx_px: number } };
    expect((await run('verify', out)).code).toBe(0);
    expect((await run('validate', join(out, 'report.json'))).code).toBe(0);
    const report = JSON.parse(readFileSync(join(out, 'report.json'), 'utf8')) as PackReport;
    const [trick] = report.tricks;
    // The pack says what the report says.
    expect((trick.found[0].result as { offset: { dx_px: number } }).offset.dx_px).toBeCloseTo(offset.dx_px, 6);
    expect(report.takes.map((t) => [t.name, t.media.frame_count, t.recording.in_pack])).toEqual([
      ['plate.mp4', 25, true],
      ['take.mp4', 50, true],
    ]);
    const [mine] = report.takes.filter((t) => t.name === 'take.mp4');
    expect(readFileSync(join(out, mine.recording.path)).equals(readFileSync(take))).toBe(true);
    const timeline = trick.files.find((f) => f.kind === 'timeline')!;
    expect(readFileSync(join(out, timeline.path), 'utf8')).toContain('../recordings/take.mp4');
    expect(readFileSync(join(out, 'README.html'), 'utf8')).toContain('take.mp4');
  });

  test('what cannot go into one is refused before anything is measured, and nothing is left behind', async () => {
    const fresh = join(folder, 'fresh');
    const refused = async (said: string, ...args: string[]) =>
      expect(await run(...args)).toMatchObject({ code: 2, out: '', err: expect.stringContaining(said) });
    await refused('is not empty', 'take', take, '--pack', folder);
    await refused('--pack goes with take', 'matte', take, '--pack', fresh);
    await refused('--slide does not go along', 'pair', take, plate, '--slide', '3', '--pack', fresh);
    await refused('takes one file, 2 were given', 'plate', take, plate, '--pack', fresh);
    await refused('was not found', 'take', join(folder, 'none.mp4'), '--pack', fresh);
    expect(readdirSync(folder)).not.toContain('fresh');
  });
});

describe('a pack from a running server', () => {
  let server: Server;
  let address: string;
  const bytes = Buffer.from(Array.from({ length: 5000 }, (_, i) => i % 251));
  const ranges: (string | undefined)[] = [];

  beforeAll(async () => {
    server = createServer((req, res) => {
      const json = (body: unknown) => res.setHeader('Content-Type', 'application/json').end(JSON.stringify(body));
      const made = { name: 'night-ferry', bytes: bytes.length, files: 3, hash: 'f'.repeat(16) };
      const page = { setups: [{ id: 's', number: 2, planned: [{ id: 't', trick: { name: 'Double' } }] }] };
      if (req.url === '/api/shoots') return json([{ id: 'x', name: 'Night Ferry' }]);
      if (req.url === '/api/shoots/x') return json(page);
      if (req.url === '/api/packs/p') return json({ id: 'p', state: 'done', failure: null, doing: '', made });
      if (req.method === 'POST') return json({ id: 'p', state: 'waiting', failure: null, doing: '', made: null });
      const { range } = req.headers;
      ranges.push(range);
      const from = range ? Number(/\d+/.exec(range)![0]) : 0;
      res.writeHead(range ? 206 : 200, { 'Content-Length': bytes.length - from });
      // The first time the line breaks in the middle.
      if (ranges.length === 1) return res.write(bytes.subarray(0, 2000), () => setTimeout(() => res.destroy(), 50));
      return res.end(bytes.subarray(from));
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });

  test('is saved whole, though the line broke', async () => {
    const out = join(folder, 'got.zip');
    const asked = ['pack', '--server', address, '--setup', '2', '--trick', 'double', '--out', out];
    expect(await run(...asked)).toMatchObject({ code: 0, out: expect.stringContaining('3 files, 5.0 kB') });
    expect(readFileSync(out).equals(bytes)).toBe(true);
    expect(ranges).toEqual([undefined, 'bytes=2000-']);
  });

  test('of what is not there says what there is', async () => {
    expect(await run('pack', '--server', address, '--setup', '9')).toMatchObject({
      code: 2,
      err: expect.stringContaining('setups 2'),
    });
    expect(await run('pack', '--server', address, '--trick', 'Wipe')).toMatchObject({
      code: 2,
      err: expect.stringContaining('"Double"'),
    });
    expect(await run('pack', '--server', 'http://127.0.0.1:9')).toMatchObject({
      code: 2,
      err: expect.stringContaining('./start'),
    });
  });
});
