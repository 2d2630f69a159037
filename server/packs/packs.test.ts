import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { XMLValidator } from 'fast-xml-parser';
import sharp from 'sharp';
import { WebVTTParser } from 'webvtt-parser';
import yauzl from 'yauzl';
import type { HandOff, Pack, PackedFile } from '../../api/packs';
import type { PackReport } from '../../core/packs/types';
import { faultsOfReport } from '../../packs/validate';
import { verifyFolder } from '../../packs/verify';
import { wallClip } from '../../media/testing/wall-clip';
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

const data = mkdtempSync(join(tmpdir(), 'umbrastat-packs-'));
let server: RunningServer;
let ask: Caller;
let shootId: string, setupId: string, passId: string;
let pack: Pack;
let zip: Buffer;
let root: string;

/** Opens a ZIP with a reader that is not ours. */
function unzip(bytes: Buffer, into: string): Promise<string[]> {
  return new Promise((resolve, reject) => {
    const names: string[] = [];
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, file) => {
      if (error) return reject(error);
      file.on('entry', (entry: yauzl.Entry) => {
        names.push(entry.fileName);
        file.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed);
          const chunks: Buffer[] = [];
          stream.on('data', (c: Buffer) => chunks.push(c));
          stream.on('end', () => {
            mkdirSync(dirname(join(into, entry.fileName)), { recursive: true });
            writeFileSync(join(into, entry.fileName), Buffer.concat(chunks));
            file.readEntry();
          });
        });
      });
      file.on('end', () => resolve(names));
      file.readEntry();
    });
  });
}

const probe = (path: string) =>
  JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', path], {
      encoding: 'utf8',
    }),
  ).streams[0] as { codec_name: string; width: number; height: number; nb_read_frames: string };

const finished = (id: string) =>
  until(
    async () => (await ask.call<Pack>('GET', `/packs/${id}`)).body,
    (p) => p.state === 'done' || p.state === 'failed',
    200,
  );
const zipOf = (id: string, headers: Record<string, string> = {}) =>
  fetch(`${server.url}/api/packs/${id}/zip`, { headers });
const report = () => JSON.parse(readFileSync(join(root, 'report.json'), 'utf8')) as PackReport;

async function newPart(): Promise<{ shootId: string; setupId: string; partId: string }> {
  const made = await ask.newSetup({ name: 'One', parts: [{ name: 'Plate' }, { name: 'Pass A' }] });
  return { ...made, partId: (await ask.board(made.setupId)).parts[0].id };
}

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  ({ shootId, setupId } = await ask.newSetup({ name: 'Pillar', scene: 'pillar', parts: [] }));
  const { parts } = await ask.putTrick(setupId, 'slip-behind');
  const plateId = await ask.roll(parts.plate, { width: 640, seconds: 2, seed: 22, prop: 'crate' });
  passId = await ask.roll(parts.pass, { width: 640, seconds: 5, seed: 21, prop: 'crate', crossing: 'slips-behind' });
  await ask.call('POST', `/takes/${passId}/marks`, { frame: 30, name: 'Turns <left>' });
  for (const id of [plateId, passId]) await ask.call('PUT', `/takes/${id}/circled`, { circled: true });
  await until(
    async () => (await ask.board(setupId)).gate.tricks[0].requirements,
    (all) => all.every((r) => r.ready && !r.pending),
    200,
  );
  const made = await ask.call<Pack>('POST', `/shoots/${shootId}/packs`, { recordings: true, mattes: true });
  expect(made).toMatchObject({ status: 201, body: { state: expect.stringMatching(/waiting|working/), made: null } });
  pack = await finished(made.body.id);
  zip = Buffer.from(await (await zipOf(pack.id)).arrayBuffer());
  await unzip(zip, data);
  root = join(data, pack.made!.name);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('what is ready is told before anything is made, and what is missing with who can mend it', async () => {
  const { body } = await ask.call<HandOff>('GET', `/shoots/${shootId}/hand-off`);
  expect(body.setups[0].tricks[0]).toMatchObject({ name: 'Slip-behind', verdict: 'holds', takes: 2, missing: [] });
  expect(body.recordings_bytes).toBeGreaterThan(10_000);
  expect(body.packs.map((p) => [p.id, p.state])).toEqual([[pack.id, 'done']]);
  await ask.call('PUT', `/takes/${passId}/circled`, { circled: false });
  const { setups } = (await ask.call<HandOff>('GET', `/shoots/${shootId}/hand-off`)).body;
  expect(setups[0].tricks[0].missing).toMatchObject([{ by: 'choice', text: 'No take of “Pass” is circled.' }]);
  await ask.call('PUT', `/takes/${passId}/circled`, { circled: true });
});

test('a pack is as long as it was said to be, and holds what it says', async () => {
  expect(pack).toMatchObject({ state: 'done', failure: null });
  expect(zip.length).toBe(pack.made!.bytes);
  const files = (await ask.call<PackedFile[]>('GET', `/packs/${pack.id}/files`)).body;
  expect(files).toHaveLength(pack.made!.files);
  for (const { path, bytes } of files) expect([path, readFileSync(join(root, path)).length]).toEqual([path, bytes]);
  const { takes, tricks } = report();
  for (const { path } of [...takes, ...tricks].flatMap((of) => of.files))
    expect(files.map((f) => f.path)).toContain(path);
});

test('a download that broke off goes on where it was; a changed pack is not mixed with the old one', async () => {
  const half = Math.floor(zip.length / 2);
  const rest = await zipOf(pack.id, { Range: `bytes=${half}-` });
  expect([rest.status, rest.headers.get('content-range')]).toEqual([
    206,
    `bytes ${half}-${zip.length - 1}/${zip.length}`,
  ]);
  expect(Buffer.from(await rest.arrayBuffer()).equals(zip.subarray(half))).toBe(true);
  const other = await zipOf(pack.id, { Range: 'bytes=10-19', 'If-Range': '"another"' });
  expect([other.status, other.headers.get('content-length')]).toEqual([200, String(zip.length)]);
  await other.body?.cancel();
  const some = await zipOf(pack.id, { Range: 'bytes=10-19' });
  expect(Buffer.from(await some.arrayBuffer()).equals(zip.subarray(10, 20))).toBe(true);
  expect((await zipOf(pack.id, { Range: `bytes=${zip.length}-` })).status).toBe(416);
  const head = await fetch(`${server.url}/api/packs/${pack.id}/zip`, { method: 'HEAD' });
  expect(head.headers.get('content-length')).toBe(String(zip.length));
});

test('its report is as its published schema has it', () => {
  const read = report();
  expect(faultsOfReport(read)).toEqual([]);
  expect(faultsOfReport({ ...read, format: 'other' })).toEqual([expect.stringContaining('/format')]);
  const [take] = read.takes;
  expect(faultsOfReport({ ...read, takes: [{ ...take, reel: 'far too long' }] }).join()).toContain('/takes/0/reel');
});

test('pictures, films, lists and marks open with what is not ours', async () => {
  const { takes, tricks } = report();
  const files = [...takes, ...tricks].flatMap((t) => t.files);
  const of = (kind: string, ending: string) => files.filter((f) => f.kind === kind && f.path.endsWith(ending));
  const pass = takes.find((t) => t.part === 'Pass')!;
  const size = { width: 640, height: 360 };
  for (const { path } of [...of('plate', '.png'), ...of('mask', '.png')]) {
    const picture = await sharp(join(root, path)).metadata();
    expect(picture.format).toBe('png');
    if (!/\d+x\d+\.png$/.test(path)) expect(picture).toMatchObject(size);
  }
  expect(of('mask', '.png')).toHaveLength(1);
  const mattes = of('matte', '');
  expect(mattes.map((m) => probe(join(root, m.path))).map((s) => [s.codec_name, s.width, s.nb_read_frames])).toEqual([
    ['ffv1', 640, String(pass.media.frame_count)],
    ['h264', 640, String(pass.media.frame_count)],
  ]);
  for (const { path } of takes.map((t) => t.recording)) expect(probe(join(root, path))).toMatchObject(size);
  for (const { path } of of('line', '.svg'))
    expect(XMLValidator.validate(readFileSync(join(root, path), 'utf8'))).toBe(true);
  const [vtt] = of('marks', '.vtt');
  const cues = new WebVTTParser().parse(readFileSync(join(root, vtt.path), 'utf8'));
  expect([cues.errors, cues.cues.map((c) => c.startTime)]).toEqual([[], [1.2]]);
  for (const path of ['README.html', ...of('page', '.html').map((f) => f.path)])
    expect(readFileSync(join(root, path), 'utf8')).not.toMatch(/<script|https?:\/\/(?!www\.w3\.org)/);
});

test('its timeline refers to files that are there, as long as they are, and cuts where the plate takes over', () => {
  const { tricks, takes } = report();
  const path = tricks[0].files.find((f) => f.kind === 'timeline')!.path;
  const timeline = JSON.parse(readFileSync(join(root, path), 'utf8'));
  expect(timeline.OTIO_SCHEMA).toBe('Timeline.1');
  const clips = timeline.tracks.children.flatMap((t: { children: { OTIO_SCHEMA: string }[] }) => t.children);
  for (const clip of clips.filter((c: { OTIO_SCHEMA: string }) => c.OTIO_SCHEMA === 'Clip.2')) {
    const { target_url, available_range } = clip.media_references[clip.active_media_reference_key];
    const film = probe(join(root, dirname(path), decodeURIComponent(target_url)));
    expect(available_range.duration.value).toBe(Number(film.nb_read_frames));
  }
  const { switch_frame: at } = tricks[0].found.find((f) => f.measure === 'hide')!.result as { switch_frame: number };
  expect(tricks[0].assembly!.cut).toBe(at);
  expect(clips.at(-1).source_range.duration.value).toBe(at);
  const list = readFileSync(join(root, tricks[0].files.find((f) => f.path.endsWith('layer-2.edl'))!.path), 'utf8');
  expect(list).toContain(takes.find((t) => t.part === 'Pass')!.reel);
});

test('a copied folder is checked against its hashes: what is missing, changed or new is named', async () => {
  expect(await verifyFolder(root)).toMatchObject({ missing: [], changed: [], fresh: [], chain_holds: true });
  const [camera, plate] = ['camera', 'plates'].map(
    (d) =>
      report()
        .takes.flatMap((t) => t.files)
        .find((f) => f.path.startsWith(d))!.path,
  );
  appendFileSync(join(root, camera), 'x');
  renameSync(join(root, plate), join(root, 'plates', 'other.png'));
  expect(await verifyFolder(root)).toMatchObject({ missing: [plate], changed: [camera], fresh: ['plates/other.png'] });
});

test('a file of a pack is looked at by its own path only', async () => {
  const look = (path: string) => fetch(`${server.url}/api/packs/${pack.id}/look/${path}`);
  const page = await look('README.html');
  expect([page.status, page.headers.get('content-type')]).toEqual([200, expect.stringContaining('text/html')]);
  for (const path of ['secret', '..%2f..%2fsecret', 'recordings/none.mp4', 'tricks'])
    expect((await look(path)).status).toBeGreaterThanOrEqual(400);
});

test('a film that is a page as well is handed off by its content, to be saved, and nothing in a pack runs', async () => {
  const { partId, shootId: shoot } = await newPart();
  const page = `<!doctype html><script src="x.js"></script><p>`;
  // A box that readers of films pass over.
  const box = Buffer.concat([Buffer.alloc(4), Buffer.from('free' + page)]);
  box.writeUInt32BE(box.length, 0);
  wallClip(join(data, 'film.mp4'), 1, 'crop=320:180');
  const film = Buffer.concat([box, readFileSync(join(data, 'film.mp4'))]);
  const { body: take } = await ask.addTake(partId, film, 'page.html');
  await ask.measured(take.id);
  await ask.call('PUT', `/takes/${take.id}/circled`, { circled: true });
  const made = await finished((await ask.call<Pack>('POST', `/shoots/${shoot}/packs`, { recordings: true })).body.id);
  const files = (await ask.call<PackedFile[]>('GET', `/packs/${made.id}/files`)).body;
  const recordings = files.filter((f) => f.path.startsWith('recordings/'));
  expect(recordings.map((f) => f.path)).toEqual([expect.stringMatching(/\.(mov|mp4)$/)]);
  for (const { path } of files) {
    const { headers, status } = await fetch(`${server.url}/api/packs/${made.id}/look/${path}`);
    const policy = headers.get('content-security-policy')!;
    expect([path, status, policy]).toEqual([path, 200, expect.stringMatching(/^sandbox (?!.*allow-scripts)/)]);
    expect(policy).toContain("script-src 'none'");
  }
  const { headers } = await fetch(`${server.url}/api/packs/${made.id}/look/${recordings[0].path}`);
  expect(headers.get('content-type')).toBe('application/octet-stream');
  expect(headers.get('content-disposition')).toMatch(/^attachment/);
});

test('a backup holds what is archived, what failed and what still waits, and says first what it does not hold', async () => {
  const { partId, setupId: setup, shootId: shoot } = await newPart();
  const other = (await ask.call('POST', `/shoots/${shoot}/setups`, { name: 'Two', parts: [{ name: 'Plate' }] })).body;
  const otherPart = (await ask.board(other.id)).parts[0].id;
  const gone = (await ask.call('POST', `/setups/${other.id}/parts`, { name: 'Gone' })).body;
  wallClip(join(data, 'film.mp4'), 1, 'crop=320:180');
  const film = readFileSync(join(data, 'film.mp4'));
  const add = async (part: string, name: string) => (await ask.addTake(part, film, name)).body.id;
  const [fine, failed, waits] = [await add(partId, 'a.mp4'), await add(partId, 'b.mp4'), await add(partId, 'c.mp4')];
  const [archived, dropped] = [await add(otherPart, 'd.mp4'), await add(gone.id, 'e.mp4')];
  for (const id of [fine, failed, waits, archived, dropped]) await ask.measured(id);
  const unmeasure = 'UPDATE measures SET result = NULL, version = NULL, failure = $2 WHERE take_id = $1';
  await query(server.database, unmeasure, [failed, 'It could not be measured.']);
  await query(server.database, `${unmeasure} AND measure = 'take'`, [waits, null]);
  await ask.call('PUT', `/parts/${gone.id}/deleted`, { on: true });
  await ask.call('PUT', `/setups/${other.id}/archived`, { on: true });
  await ask.call('PUT', `/setups/${setup}/archived`, { on: true });

  const wish = { recordings: true, takes: 'all' };
  const made = await finished((await ask.call<Pack>('POST', `/shoots/${shoot}/packs`, wish)).body.id);
  expect(made.failure).toBe(null);
  expect(made.made!.left_behind).toEqual([expect.stringMatching(/^Setup 2, “Two”: one take of what was deleted/)]);
  const look = async (path: string) => (await fetch(`${server.url}/api/packs/${made.id}/look/${path}`)).text();
  const read = JSON.parse(await look('report.json')) as PackReport;
  expect(faultsOfReport(read)).toEqual([]);
  const known = [...read.takes, ...read.unmeasured];
  expect(known.map((t) => t.id).sort()).toEqual([fine, failed, waits, archived].sort());
  expect(read.unmeasured.find((t) => t.id === failed)?.why).toBe('It could not be measured.');
  const filed = JSON.parse(await look('shoot.json')) as { takes: { id: string; path: string }[] };
  const files = (await ask.call<PackedFile[]>('GET', `/packs/${made.id}/files`)).body.map((f) => f.path);
  for (const t of known) {
    expect(files).toContain(t.recording.path);
    expect(filed.takes.find((f) => f.id === t.id)?.path).toBe(t.recording.path);
  }
  const first = await look('README.html');
  expect(first.indexOf('Not in this pack')).toBeGreaterThan(0);
  expect(first.indexOf('Not in this pack')).toBeLessThan(first.indexOf('Setup 1:'));
  const said = (await ask.call<HandOff>('GET', `/shoots/${shoot}/hand-off`)).body.left_behind_by_all;
  expect(said).toEqual(made.made!.left_behind);
  // Without the recordings it says so, and others say what is put away.
  const bare = await finished((await ask.call<Pack>('POST', `/shoots/${shoot}/packs`, { takes: 'all' })).body.id);
  expect(bare.made!.left_behind[0]).toMatch(/no backup/);
});

test('what cannot be packed says why; a deleted pack is gone', async () => {
  const { body: empty } = await ask.call<{ id: string }>('POST', '/shoots', {
    ...{ name: 'Empty', delivery_width: 1280, delivery_height: 720, delivery_fps: 25 },
  });
  const { body } = await ask.call<Pack>('POST', `/shoots/${empty.id}/packs`, {});
  expect(await finished(body.id)).toMatchObject({
    state: 'failed',
    failure: expect.stringMatching(/no take to hand off/),
  });
  expect((await zipOf(body.id)).status).toBe(409);
  const foreign = await ask.call('POST', `/shoots/${empty.id}/packs`, { setup_id: setupId });
  expect(foreign).toMatchObject({ status: 422, body: { error: expect.stringContaining('another shoot') } });
  expect((await ask.call('POST', `/shoots/${shootId}/packs`, { planned_id: NOWHERE })).status).toBe(404);
  expect((await ask.call('POST', `/shoots/${shootId}/packs`, { takes: 'none' })).status).toBe(422);
  await ask.call('DELETE', `/packs/${body.id}`);
  expect((await ask.call('GET', `/packs/${body.id}`)).status).toBe(404);
});
