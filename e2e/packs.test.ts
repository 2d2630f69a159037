import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { HandOff, Pack, PackedFile } from '../api/packs';
import { AppUnderTest, faults, fits } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
let shoot: { id: string };

beforeAll(async () => {
  await app.start();
  shoot = await app.ask('POST', '/shoots', {
    ...{ name: 'Night Ferry', delivery_width: 1280, delivery_height: 720, delivery_fps: 25 },
  });
  const setup = await app.ask('POST', `/shoots/${shoot.id}/setups`, { name: 'Pillar', scene: 'pillar', parts: [] });
  const { parts } = await app.ask('POST', `/setups/${setup.id}/tricks`, { key: 'slip-behind' });
  for (const [part, settings] of [
    [parts.plate, { seconds: 2, seed: 22 }],
    [parts.pass, { seconds: 5, seed: 21, crossing: 'slips-behind' }],
  ])
    await app.ask('POST', `/parts/${part}/rolls`, { width: 640, prop: 'crate', ...settings });
  for (let n = 0; n < 1000; n++) {
    const { gate } = await app.ask('GET', `/setups/${setup.id}`);
    const all = gate.tricks[0].requirements as { ready: boolean; pending: boolean }[];
    if (all.every((r) => r.ready && !r.pending)) break;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  const board = await app.ask('GET', `/setups/${setup.id}`);
  const own = board.parts.find((p: { id: string }) => p.id === parts.pass);
  await app.ask('POST', `/takes/${own.takes[0].id}/marks`, { frame: 25, name: 'Behind <it>' });
}, 600_000);
afterAll(() => app.stop());

/** A pack that the tests before have made. */
async function madePack(): Promise<Pack> {
  const { packs } = (await app.ask('GET', `/shoots/${shoot.id}/hand-off`)) as HandOff;
  return packs.find((p) => p.state === 'done')!;
}

describe.each(
  few(1, [
    ['wide', 1280, 800],
    ['phone', 390, 844],
  ] as const),
)('%s', (_name, width, height) => {
  test('a pack of one trick is made, looked into and saved; what is missing is said before', async () => {
    const page = await app.open(width, height, '/hand-off');
    await page.getByTestId('takes-standing').scrollIntoViewIfNeeded();
    await page.getByTestId('missing').getByText('No take of “Pass” is circled.', { exact: false }).waitFor();
    await fits(page);
    expect(await faults(page)).toEqual([]);
    await page.getByTestId('takes-standing').click();
    await page.getByTestId('choose-Slip-behind').click();
    await page.getByText('Make the pack of “Slip-behind”').click();
    await page.getByTestId('pack').first().getByRole('link').click({ timeout: 120000 });
    await page.getByText('A page for each trick').waitFor();
    await page.getByRole('button', { name: /^Look at masks/ }).click();
    await page.getByRole('img', { name: /^masks/ }).waitFor();
    await fits(page);
    expect(await faults(page)).toEqual([]);
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-pack').click()]);
    expect(download.suggestedFilename()).toBe('night-ferry-setup-1-slip-behind.zip');
    await page.context().close();
  });
});

test('its pages are read from a folder without a network, at any size, with their own typefaces and no scripts', async () => {
  const pack = await madePack();
  const files: PackedFile[] = await app.ask('GET', `/packs/${pack.id}/files`);
  const folder = join(app.data, 'unpacked');
  const pages = files.filter((f) => f.path.endsWith('.html')).map((f) => f.path);
  for (const path of pages) {
    const bytes = await fetch(`${app.server.url}/api/packs/${pack.id}/look/${path}`).then((r) => r.arrayBuffer());
    mkdirSync(join(folder, path, '..'), { recursive: true });
    writeFileSync(join(folder, path), Buffer.from(bytes));
  }
  const page = await app.open(390, 844);
  const asked: string[] = [];
  page.on('request', (r) => asked.push(r.url()));
  for (const [w, h] of [
    [390, 844],
    [1280, 800],
  ]) {
    await page.setViewportSize({ width: w, height: h });
    for (const path of pages) {
      await page.goto(pathToFileURL(join(folder, path)).href);
      await fits(page);
      expect(await page.evaluate(() => document.fonts.check('16px Atkinson'))).toBe(true);
      expect(await faults(page, true)).toEqual([]);
    }
  }
  const broken = await page.evaluate(() => Array.from(document.images).filter((i) => i.naturalWidth === 0).length);
  expect(broken).toBe(0);
  await page.goto(pathToFileURL(join(folder, 'README.html')).href);
  await page.getByRole('link', { name: 'Slip-behind' }).click();
  await page.getByRole('heading', { name: 'What to do, in this order' }).waitFor();
  await page.getByText('Join take and plate along the split').waitFor();
  expect(asked.filter((url) => !/^(file|data):/.test(url))).toEqual([]);
  await page.context().close();
});

test.each(
  few(1, [
    ['wide', 1280, 800],
    ['phone', 390, 844],
  ] as const),
)('a pack is taken in, on the %s: nothing where all is here, else what differs first', async (_n, w, h) => {
  const pack = await madePack();
  const zip = await fetch(`${app.server.url}/api/packs/${pack.id}/zip`).then((r) => r.arrayBuffer());
  const file = { name: 'night-ferry.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) };
  const page = await app.open(w, h, '/');
  await page.getByTestId('to-take-in').click();
  await page.getByTestId('pack-file').setInputFiles(file);
  await page.getByText('is here already; nothing would change', { exact: false }).waitFor();
  await app.ask('PATCH', `/shoots/${shoot.id}`, { place: 'Harbour' });
  await page.getByTestId('pack-file').setInputFiles(file);
  await page.getByText('other place (“Harbour” here, none in the file); stays as it is', { exact: false }).waitFor();
  await fits(page);
  expect(await faults(page)).toEqual([]);
  await page.getByTestId('differing-take').click();
  await page.getByText('becomes as in the file', { exact: false }).waitFor();
  await page.getByTestId('apply-take-in').click();
  await page.getByText('Said something else here').waitFor();
  await page.getByTestId('apply-take-in').click();
  await page.waitForURL(`**/shoots/${shoot.id}`);
  expect((await app.ask('GET', `/shoots/${shoot.id}`)).place).toBe('');
  await page.goto(`${app.server.url}/take-in`);
  await page.getByTestId('pack-file').setInputFiles({ ...file, name: 'notes.txt', buffer: Buffer.from('no pack') });
  await page.getByText('This is neither a pack of this app', { exact: false }).waitFor();
  await page.context().close();
});

test('marks are cues to a browser, at their moment', async () => {
  const pack = await madePack();
  const files: PackedFile[] = await app.ask('GET', `/packs/${pack.id}/files`);
  const page = await app.open(390, 844);
  const cues = await page.evaluate(
    async (address) => {
      const video = document.createElement('video'),
        track = document.createElement('track');
      Object.assign(track, { kind: 'chapters', src: address, default: true });
      video.append(track);
      document.body.append(video);
      track.track.mode = 'hidden';
      await new Promise((resolve, reject) => {
        track.onload = resolve;
        track.onerror = reject;
      });
      return Array.from(track.track.cues!, (c) => [c.startTime, (c as VTTCue).getCueAsHTML().textContent]);
    },
    `/api/packs/${pack.id}/look/${files.find((f) => f.path.endsWith('.vtt'))!.path}`,
  );
  expect(cues).toEqual([[1, 'Behind <it>']]);
  await page.context().close();
});

test('a line opens as a picture, from edge to edge', async () => {
  const pack = await madePack();
  const files: PackedFile[] = await app.ask('GET', `/packs/${pack.id}/files`);
  const page = await app.open(390, 844);
  const line = files.find((f) => f.path.endsWith('.svg'))!;
  await page.goto(`${app.server.url}/api/packs/${pack.id}/look/${line.path}`);
  expect(await page.evaluate(() => document.querySelector('path')!.getBoundingClientRect().height)).toBeGreaterThan(
    200,
  );
  await page.context().close();
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
