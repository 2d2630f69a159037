import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { Caller } from '../server/testing/running-server';
import { AppUnderTest, faults, fits } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
let ask: Caller;
/** Setups of a fade on a tap, by the size of the screen; and of a vanishing in the air, and a held fall. */
const fades: Record<number, string> = {};
let air: string, held: string, fallId: string;

const small = { width: 640, seconds: 2.4 };

beforeAll(async () => {
  await app.start();
  ask = new Caller(app.server.url);
  const { shootId, setupId } = await ask.newSetup({ name: 'Counter', scene: 'kiosk', parts: [] });
  fades[390] = setupId;
  const another = async (name: string, scene: string) =>
    (await ask.call<{ id: string }>('POST', `/shoots/${shootId}/setups`, { name, scene })).body.id;
  [fades[1280], air, held] = [
    await another('Counter again', 'kiosk'),
    await another('Kiosk front', 'kiosk'),
    await another('Bench', 'bench'),
  ];
  for (const width of few(1, [390, 1280])) {
    const { parts } = await ask.putTrick(fades[width], 'dialled-fade');
    await ask.roll(parts.pass, { ...small, act: 'taps', clap: true, seed: 3 });
  }
  const jump = (await ask.putTrick(air, 'mid-air-vanish')).parts;
  await ask.roll(jump.jump, { ...small, act: 'jumps', seed: 5 });
  await ask.roll(jump.prop, { ...small, act: 'clothes-drop', seed: 5 });
  await ask.roll(jump.plate, { ...small, seconds: 1, seed: 6 });
  const hangs = (await ask.putTrick(air, 'floater')).parts;
  await ask.roll(hangs.pass, { ...small, seconds: 2, act: 'hangs', seed: 9 });
  const fall = (await ask.putTrick(held, 'held-moment')).parts;
  fallId = await ask.roll(fall.fall, { ...small, seconds: 3, act: 'falls', seed: 7 });
  await ask.roll(fall.walk, { ...small, crossing: 'right-to-left', seed: 8 });
}, 900_000);
afterAll(() => app.stop());

describe.each(
  few(1, [
    [390, 844],
    [1280, 800],
  ]),
)('at %i x %i', (width, height) => {
  test('beats that were found are kept, moved, named, deleted and had back; the gate follows', async () => {
    const page = await app.open(width, height, `/setups/${fades[width]}`);
    const gate = page.getByTestId('open');
    await gate.getByText(/beats were found, the clearest a .* none is marked yet/).waitFor({ timeout: 150000 });
    await page.locator('[data-testid^="way-beats"]').first().click();
    await page.getByTestId('found').waitFor({ timeout: 60000 });
    await fits(page);
    expect(await faults(page)).toEqual([]);
    // Three tenths of the take: heard and seen on one frame.
    const sound = page.locator('[data-testid^="found-sound-"]').first();
    await sound.click();
    const at = async () => Number(/frame (\d+)/.exec((await page.getByTestId('moment-at').textContent())!)![1]);
    const heard = await at();
    expect(Math.abs(heard - 18)).toBeLessThanOrEqual(1);
    await page.getByTestId('mark-here').click();
    const row = page.getByTestId('mark-Sound');
    await row.getByText(new RegExp(`frame ${heard} `)).waitFor();
    // By a finger and by keys, a frame at a time.
    await row.getByTestId('mark-more').click();
    await row.getByText(new RegExp(`frame ${heard + 1} .* found at ${heard}`)).waitFor();
    await page.keyboard.press('-');
    await row.getByText(new RegExp(`frame ${heard} `)).waitFor();
    expect(await at()).toBe(heard);
    await page.keyboard.press('n');
    await page.getByTestId('field-name').fill('Fade starts');
    await page.getByTestId('submit').click();
    const named = page.getByTestId('mark-Fade starts');
    await named.waitFor();
    await page.keyboard.press('x');
    await page.getByText('Fade starts deleted.').waitFor();
    expect(await named.count()).toBe(0);
    await page.getByText('Undo').click();
    await named.waitFor();
    const [marks] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-marks-vtt').click()]);
    expect(marks.suggestedFilename()).toMatch(/-pass-take-1-marks\.vtt$/);
    // Taken in from a file: first what it changes.
    const list = join(app.data, 'marks.csv');
    writeFileSync(list, 'name,frame\nFrom a file,soon');
    await page.getByTestId('marks-file').setInputFiles(list);
    await page.getByText('Line 2: frame: "soon" is no frame.', { exact: false }).waitFor();
    writeFileSync(list, 'name,frame\nFrom a file,47');
    await page.getByTestId('marks-file').setInputFiles(list);
    await page.getByText('From a file at frame 47 is new').waitFor();
    await page.getByTestId('marks-apply').click();
    await page
      .getByTestId('mark-From a file')
      .getByText(/frame 47 /)
      .waitFor();
    await page.getByTestId('mark-From a file').getByTestId('mark-delete').click();
    // One of one's own, where nothing was found.
    await page.keyboard.press('End');
    await page.keyboard.press('b');
    await page
      .getByTestId('mark-Mark')
      .getByText(/frame 59 /)
      .waitFor();
    await page.keyboard.press('ArrowUp');
    expect(await at()).toBeLessThan(59);
    await page.getByTestId('strip-1').click();
    // It lies over the way back for some seconds, unless it is put away.
    await page.getByLabel('Put the message away').click();
    await page.getByTestId('to-gate').click();
    await page.getByTestId('fold-Dialled fade').click();
    await page
      .getByText(/Fade starts at frame \d+, Mark at frame 59/)
      .first()
      .waitFor({ timeout: 30000 });
  });

  test('where a prop hangs against who jumped is told on the pass bench, and proved as a cut', async () => {
    const page = await app.open(width, height, `/setups/${air}/passes`);
    await page.getByTestId('verdict-spot').waitFor({ timeout: 150000 });
    expect(await page.getByTestId('verdict-spot').textContent()).toMatch(/^Spot: /);
    await page
      .getByTestId('joined-choices')
      .getByText(/Jump 1 until frame 59, then Prop alone 1 from its frame 1 on/)
      .waitFor();
    await fits(page);
    expect(await faults(page)).toEqual([]);
    await prove(page);
    await page.getByText(/One, then the other, Prop alone 1 from frame 60 on/).waitFor({ timeout: 280000 });
  });

  test('a frame of the fall is held in the walker’s picture, and cut out', async () => {
    const page = await app.open(width, height, `/takes/${fallId}/moments`);
    await page
      .getByTestId('stills')
      .getByText(/The best to hold is frame/)
      .waitFor({ timeout: 150000 });
    await page.locator('[data-testid^="still-"]').first().click();
    await page.getByTestId('save-cutout').waitFor();
    await page
      .getByTestId('still-size')
      .getByText(/^\d+ × \d+$/)
      .click();
    const [saved] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-cutout').click()]);
    expect(saved.suggestedFilename()).toMatch(/^cutout-\d+-\d+x\d+\.png$/);
    await page.goto(`${app.server.url}/setups/${held}/passes`);
    await page.getByTestId('verdict-held frame').waitFor({ timeout: 60000 });
    await page
      .getByTestId('joined-choices')
      .getByText(/Frame \d+ of Fall or jump 1 stands in Walk-round 1/)
      .waitFor();
    await prove(page);
    await page.getByText(/Held in the other, frame \d+ of Fall or jump 1 held/).waitFor({ timeout: 240000 });
    await fits(page);
  });
});

test('how a lantern hangs is told beside its moments, as the gate says it', async () => {
  const page = await app.open(390, 844, `/setups/${air}`);
  await page.getByTestId('fold-Floater').click();
  await page
    .getByTestId('judged-Floater')
    .getByText(/drifts by up to \d\.\d px/)
    .waitFor({ timeout: 150000 });
  await page.locator('[data-testid^="way-drifts-little"]').click();
  await page
    .getByTestId('figure-facts')
    .getByText(/^Drifts by \d\.\d px, \d\.\d % of its size$/)
    .click();
  await fits(page);
  expect(await faults(page)).toEqual([]);
});

/** Has the proof made once; on the other screen it is looked at. */
const proved = new Set<string>();
async function prove(page: Page): Promise<void> {
  const { pathname } = new URL(page.url());
  if (proved.has(pathname)) await page.getByTestId('pass-mode').getByText('Proof').click();
  else await page.getByTestId('make-proof').click();
  proved.add(pathname);
}

test('nothing was thrown', () => {
  expect(app.complaints).toEqual([]);
});
