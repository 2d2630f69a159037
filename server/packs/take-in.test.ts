import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import yauzl from 'yauzl';
import { ZipFile } from 'yazl';
import type { Pack, TakenInPack } from '../../api/packs';
import type { ShootFile } from '../../core/packs/shoot-file';
import type { PackReport } from '../../core/packs/types';
import {
  Caller,
  freshDatabase,
  KEPT_MAIN,
  NOWHERE,
  query,
  startServer,
  until,
  type RunningServer,
} from '../testing/running-server';

const folders = ['one', 'two'].map((name) => mkdtempSync(join(tmpdir(), `umbrastat-${name}-`)));
const servers: RunningServer[] = [];
/** The machine on which the shoot was planned and rolled, and another. */
let here: Caller, there: Caller;
let shootId: string, setupId: string, passId: string, plannedId: string;
let zip: Buffer;
/** The files of the first pack, but its recordings, as text. */
let files: Map<string, Buffer>;
/** What a pack says of when it was made. */
const DATES = /"(made_at|asked_at)":"[^"]*"/g;

function unzip(bytes: Buffer): Promise<Map<string, Buffer>> {
  const found = new Map<string, Buffer>();
  return new Promise((resolve, reject) => {
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, file) => {
      if (error) return reject(error);
      file.on('entry', (entry: yauzl.Entry) => {
        file.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed);
          void buffer(stream).then((content) => {
            found.set(entry.fileName.replace(/^[^/]*\//, ''), content);
            file.readEntry();
          });
        });
      });
      file.on('end', () => resolve(found));
      file.readEntry();
    });
  });
}

async function packOf(ask: Caller, wish: object): Promise<Buffer> {
  const made = await ask.call<Pack>('POST', `/shoots/${shootId}/packs`, wish);
  const pack = await until(
    async () => (await ask.call<Pack>('GET', `/packs/${made.body.id}`)).body,
    (p) => p.state === 'done' || p.state === 'failed',
    200,
  );
  expect(pack.failure).toBeNull();
  return Buffer.from(await (await fetch(`${ask.url}/api/packs/${pack.id}/zip`)).arrayBuffer());
}

const rested = (ask: Caller) =>
  until(
    async () => (await ask.board(setupId)).gate.tricks[0].requirements,
    (all) => all.every((r) => r.ready && !r.pending),
    240,
  );
const takeIn = async (ask: Caller, bytes: Buffer, more: object = {}) =>
  ask.call<TakenInPack & { error: string }>('POST', '/packs/taken-in', { upload_id: await ask.upload(bytes), ...more });
const shootOf = (from: Map<string, Buffer>) => JSON.parse(from.get('shoot.json')!.toString('utf8')) as ShootFile;

/** A pack anew, of other files. */
function zipped(content: Map<string, Buffer>): Promise<Buffer> {
  const out = new ZipFile();
  for (const [name, bytes] of content) out.addBuffer(bytes, `again/${name}`, { compress: true });
  out.end();
  return buffer(out.outputStream);
}
const changed = (change: (file: ShootFile) => void) => {
  const file = shootOf(files);
  change(file);
  return Buffer.from(JSON.stringify(file));
};

beforeAll(async () => {
  for (const folder of folders) servers.push(await startServer(await freshDatabase(), folder, {}, KEPT_MAIN));
  [here, there] = servers.map((s) => new Caller(s.url));
  ({ shootId, setupId } = await here.newSetup({ name: 'Pillar', scene: 'pillar', parts: [] }));
  const planned = await here.putTrick(setupId, 'slip-behind');
  plannedId = planned.id;
  const plateId = await here.roll(planned.parts.plate, { width: 640, seconds: 2, seed: 22, prop: 'crate' });
  passId = await here.roll(planned.parts.pass, {
    width: 640,
    seconds: 5,
    seed: 21,
    prop: 'crate',
    crossing: 'slips-behind',
  });
  for (const id of [plateId, passId]) await here.call('PUT', `/takes/${id}/circled`, { circled: true });
  await here.call('POST', `/takes/${passId}/marks`, { frame: 30, name: 'Turns <left>' });
  await here.call('PUT', `/takes/${passId}/meter`, { readings: [{ frame: 0, ev: 7.4 }] });
  await here.call('POST', `/planned/${plannedId}/sums`, { kind: 'retime', inputs: { speed: 40 } });
  await here.call('PUT', `/setups/${setupId}/ticks`, {
    ticks: [{ line: 'roll-0', done: true, by: 'Ada', at: '2027-10-05T18:30:00Z' }],
  });
  await rested(here);
  zip = await packOf(here, { recordings: true });
  files = await unzip(zip);
});
afterAll(async () => {
  for (const server of servers) await server.stop();
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

test('a pack without its recordings brings the plan, and says what is left out', async () => {
  const small = await packOf(here, { recordings: false });
  const { status, body } = await takeIn(there, small);
  expect([status, body.errors, body.applied, body.recordings]).toEqual([200, [], false, { count: 0, bytes: 0 }]);
  expect(body.changes.filter((c) => c.kind === 'left-out').map((c) => c.text)).toEqual([
    expect.stringMatching(/Plate.*take 1 is left out: its recording/),
    expect.stringMatching(/Pass.*take 1 is left out: its recording/),
  ]);
  // It was only looked into.
  expect((await there.call('GET', `/shoots/${shootId}`)).status).toBe(404);
});

test('packed, taken in on another machine and packed again it is the same, but for dates', async () => {
  const preview = (await takeIn(there, zip)).body;
  expect(preview.changes[0].text).toBe('the shoot “Night Ferry”');
  expect(preview.changes[1].text).toMatch(/^setup 1, “Pillar”: new, with \d+ parts, 1 trick, 2 takes, 1 mark/);
  expect(preview.recordings.count).toBe(2);
  const { body } = await takeIn(there, zip, { apply: true });
  expect([body.errors, body.applied, body.changes]).toEqual([[], true, preview.changes]);
  await there.measured(passId);
  await rested(there);
  const again = await unzip(await packOf(there, { recordings: true }));
  expect([...again.keys()].filter((n) => !n.startsWith('ascmhl'))).toEqual(
    [...files.keys()].filter((n) => !n.startsWith('ascmhl')),
  );
  const texts = (from: Map<string, Buffer>, name: string) => from.get(name)!.toString('utf8').replace(DATES, '"$1":""');
  const [was, is] = [files, again].map((f) => JSON.parse(texts(f, 'report.json')) as PackReport);
  expect(is).toEqual(was);
  const known = (f: Map<string, Buffer>) => {
    const { measures, ...rest } = shootOf(f);
    return { ...rest, measures: measures.map((m) => ({ ...m, asked_at: '' })) };
  };
  expect(known(again)).toEqual(known(files));
  for (const [name, bytes] of files)
    if (/^(recordings|plates|marks|camera|lines)/.test(name))
      expect([name, bytes.equals(again.get(name)!)]).toEqual([name, true]);
});

test('taken in twice it changes nothing; what differs is kept, or taken, as it was said', async () => {
  const twice = (await takeIn(there, zip, { apply: true })).body;
  expect([twice.changes, twice.recordings.count]).toEqual([[], 0]);
  await there.call('PATCH', `/setups/${setupId}`, { notes: 'Mind the puddle' });
  await there.call('PUT', `/marks/${shootOf(files).marks[0].id}/deleted`, { on: true });
  const said = (await takeIn(there, zip, { apply: true })).body.changes.map((c) => c.text);
  expect(said).toEqual([
    'setup 1, “Pillar”: other notes (“Mind the puddle” here, none in the file); stays as it is',
    expect.stringMatching(/Pass.*, take 1, mark “Turns <left>”: was deleted here; stays as it is/),
  ]);
  expect((await there.board(setupId)).notes).toBe('Mind the puddle');
  await takeIn(there, zip, { apply: true, differing: 'take' });
  expect((await there.board(setupId)).notes).toBe('');
  expect((await takeIn(there, zip)).body.changes).toEqual([]);
  const saved = join(folders[1], 'pack.zip');
  writeFileSync(saved, zip);
  const cli = join(__dirname, '..', '..', 'cli', 'bin.cjs');
  // The server answers while the command waits.
  const told = await promisify(execFile)(process.execPath, [cli, 'take-in', saved, '--server', there.url]);
  expect(told.stdout).toContain('Night Ferry: nothing would change');
});

test('a take rolled on each machine meanwhile: both stay, the one that comes gets the next number', async () => {
  const { parts } = await there.board(setupId);
  const pass = parts.find((p) => p.name === 'Pass')!;
  const own = await there.roll(pass.id, { width: 640, seconds: 1, seed: 5 });
  const other = '11111111-2222-4333-8444-555555555555';
  const content = new Map(files);
  content.set(
    'shoot.json',
    changed((f) => f.takes.push({ ...f.takes.find((t) => t.id === passId)!, id: other, number: 2, circled: true })),
  );
  const { body } = await takeIn(there, await zipped(content), { apply: true });
  expect(body.changes.map((c) => c.text)).toEqual([
    'setup 1, “Pillar”: new here: 1 take',
    expect.stringMatching(/take 2 gets the number 3: there is another 2 here/),
    expect.stringMatching(/comes without its circle: take 1 is circled here/),
  ]);
  const { takes } = (await there.board(setupId)).parts.find((p) => p.id === pass.id)!;
  expect(takes.map((t) => [t.id, t.number, t.circled])).toEqual([
    [passId, 1, true],
    [own, 2, false],
    [other, 3, false],
  ]);
});

test('a file with faults is not taken in, and each is named by its line', async () => {
  const text = files.get('shoot.json')!.toString('utf8');
  const line = text.split('\n').findIndex((l) => l.includes('"Pillar"')) + 1;
  const wrong = await takeIn(there, Buffer.from(text.replace('"name":"Pillar"', '"name":""')), { apply: true });
  expect([wrong.status, wrong.body.applied, wrong.body.errors]).toEqual([
    200,
    false,
    [{ line, text: expect.stringContaining('setups › 0 › name') }],
  ]);
  const broken = await takeIn(there, Buffer.from(text.slice(0, text.indexOf('"Pillar"'))));
  expect(broken.body.errors[0].line).toBe(line);
  const lost = changed((f) => (f.marks[0].take_id = NOWHERE));
  expect((await takeIn(there, lost)).body.errors[0].text).toContain('belongs to a take that is not in this file');
  const evil = changed((f) => Object.assign(f.measures[0].wish, { evil: 1 }));
  expect((await takeIn(there, evil)).body.errors).toHaveLength(1);
});

test('a shoot that is far too long, deep or full is refused, and nobody waits for it', async () => {
  const refused = async (bytes: Buffer, word: RegExp) => {
    const reading = takeIn(there, bytes);
    let ended = false;
    void reading.finally(() => (ended = true));
    let longest = 0;
    while (!ended) {
      const began = performance.now();
      expect((await fetch(`${there.url}/api/health`)).status).toBe(200);
      longest = Math.max(longest, performance.now() - began);
    }
    const { status, body } = await reading;
    expect([status, body.error ?? body.errors[0].text]).toEqual([expect.anything(), expect.stringMatching(word)]);
    expect(longest).toBeLessThan(1500);
  };
  await refused(await zipped(new Map([['shoot.json', Buffer.alloc(190e6, ' ')]])), /longer than 20 MB/);
  await refused(Buffer.from('{"a":' + '['.repeat(15e6)), /64 deep/);
  await refused(Buffer.from(`{"ticks":[${'{"id":1},'.repeat(2e6)}{}]}`), /2000001 records/);
  await refused(Buffer.from(`{"odd":{${Array.from({ length: 1e6 }, (_, k) => `"k${k}":[]`).join()}}}`), /odd|format/);
});

test('what is no pack, a pack that was changed, and another shoot’s rows are refused; nothing is left behind', async () => {
  const count = async () =>
    JSON.stringify(await query(servers[1].database, 'SELECT count(*) FROM takes UNION ALL SELECT count(*) FROM files'));
  const before = await count();
  const refused = async (bytes: Buffer, word: RegExp) => {
    const { status, body } = await takeIn(there, bytes, { apply: true });
    expect([status, body.error]).toEqual([422, expect.stringMatching(word)]);
  };
  await refused(Buffer.from('no pack at all'), /neither a pack/);
  await refused(zip.subarray(0, zip.length / 2), /breaks off or is damaged/);
  await refused(await zipped(new Map([['README.html', Buffer.from('x')]])), /no shoot\.json/);
  const damaged = await zipped(new Map([['shoot.json', Buffer.alloc(50_000, '{"a": "Night Ferry"} ')]]));
  damaged.fill(0xff, 80, 200);
  await refused(damaged, /breaks off or is damaged/);
  const content = new Map(files);
  const fresh = changed((f) => {
    const [take] = f.takes;
    const bytes = Buffer.from('no film');
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    content.set('recordings/new.mp4', bytes);
    f.takes.push({
      ...take,
      id: NOWHERE.replace('4000', '4001'),
      number: 9,
      circled: false,
      sha256,
      bytes: bytes.length,
      path: 'recordings/new.mp4',
    });
  });
  content.set('shoot.json', fresh);
  await refused(await zipped(content), /Nothing was taken in/);
  const { shootId: otherShoot } = await there.newSetup({ name: 'Elsewhere' });
  await refused(
    changed((f) => (f.shoot.id = otherShoot)),
    /belong to another shoot/,
  );
  expect(await count()).toBe(before);
  const gone = await there.call('POST', '/packs/taken-in', { upload_id: 'f'.repeat(32) });
  expect(gone.status).toBe(404);
});
