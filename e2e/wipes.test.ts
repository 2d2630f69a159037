import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { probeFile } from '../media/ffmpeg/probe';
import { until } from '../server/testing/running-server';
import { AppUnderTest, choose, fits } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
beforeAll(async () => {
  await app.start();
  await rollTakes();
});
afterAll(() => app.stop());

let setupId: string;

/** Has the stand-in camera roll three takes of a wipe: one that misses a corner, a sound one, and the in side. */
async function rollTakes(): Promise<void> {
  // Delivered smaller than recorded, so that there is room for a push.
  const shoot = await app.ask('POST', '/shoots', {
    name: 'Night Ferry, wipes',
    delivery_width: 560,
    delivery_height: 314,
    delivery_fps: 25,
  });
  setupId = (await app.ask('POST', `/shoots/${shoot.id}/setups`, { name: 'Trolley', scene: 'pillar', parts: [] })).id;
  await app.ask('POST', `/setups/${setupId}/tricks`, { key: 'passing-wipe' });
  const { parts } = await app.ask('GET', `/setups/${setupId}`);
  const [out, into] = ['Out side', 'In side'].map((name) => parts.find((p: { name: string }) => p.name === name).id);
  const rolls = [];
  for (const [part, settings] of [
    [out, { wipe_fault: 'misses-corner', seed: 6 }],
    [out, { seed: 3 }],
    [into, { scene: 'kiosk', wipe_side: 'in', seed: 4 }],
  ] as const) {
    rolls.push(
      (await app.ask('POST', `/parts/${part}/rolls`, { seconds: 2.4, width: 640, wipe: 'cart', ...settings })).id,
    );
  }
  const takes: string[] = [];
  for (const id of rolls)
    takes.push(
      (
        await until(
          () => app.ask('GET', `/rolls/${id}`),
          (r) => r.state === 'done',
          150,
        )
      ).take_id,
    );
  await app.ask('PUT', `/takes/${takes[1]}/circled`, { circled: true });
  await until(
    () => app.ask('GET', `/setups/${setupId}/wipes`),
    (b) => b.cover?.state === 'done' && b.cut?.state === 'done',
    150,
  );
  for (const [take, frame] of [
    [takes[1], 30],
    [takes[2], 41],
  ] as const)
    // prettier-ignore
    await app.ask('POST', `/takes/${take}/marks`, { frame, name: 'Clap' });
}

describe.each(
  few(1, [
    [1280, 800],
    [390, 844],
  ]),
)('at %i x %i', (width, height) => {
  test('a wipe is looked at from both sides, slid, proved, saved, and masked by hand where wished', async () => {
    const page = await app.open(width, height, `/setups/${setupId}`);
    await page.getByTestId('gate').waitFor();
    await page.getByText('You may strike: every part holds.').waitFor({ timeout: 60000 });
    await page.getByTestId('fold-Passing wipe').click();
    await page.getByText(/all covered in \d+ frames/).waitFor();
    expect(await page.getByTestId('gate').textContent()).toMatch(/You may strike: every part holds/);
    expect(await page.getByTestId('judged-Passing wipe').textContent()).toMatch(
      /gone after frame \d+.*The camera stands on both sides/,
    );
    await page.getByTestId('to-wipes').click();
    await page.getByTestId('verdict-cover').waitFor();
    expect(await page.getByTestId('verdict-cover').textContent()).toMatch(
      /Cover: holds.*covers everything in frames \d+ to \d+ and has left after frame \d+/,
    );
    expect(await page.getByTestId('cover-facts').textContent()).toMatch(
      /Frames to mask\d+Work of masking\d+ to \d+ minSet first\d+, \d+/,
    );
    // A marked frame of the in side lies under the out side's of that name.
    const cutAt = Number(/under out frame (\d+)/.exec((await page.getByTestId('cut-choices').textContent())!)![1]);
    await page.getByTestId('lay-Clap').click();
    await page.getByText(`frame ${cutAt + 11} lies under out frame ${cutAt}`).waitFor();
    await page.getByTestId('in-start').fill('0');
    expect(await page.getByTestId('cut-facts').textContent()).toMatch(/Out sidestands still.*In sidestands still/);
    await page.getByTestId('ways-chart').waitFor();
    await fits(page);
    // The other take of the out side is one tap away, with what it misses.
    await page
      .getByTestId('choose-out')
      .getByText(/Out side 1/)
      .click();
    await page
      .getByText(/The object covers 9\d % of the picture at most/)
      .first()
      .waitFor();
    await page
      .getByTestId('choose-out')
      .getByText(/Out side 2/)
      .click();
    await page
      .getByText(/covers everything in frames/)
      .first()
      .waitFor();
    await slideAndProve(page, width);
    await setByHand(page);
    await page.getByTestId('to-gate').click();
    await page.getByTestId('gate').waitFor();
    await page.context().close();
  });
});

/** Slides the in side under the out side, plays the proof, steps through it, and saves it. */
async function slideAndProve(page: Page, width: number): Promise<void> {
  const inSide = page.getByTestId('in-side');
  const under = async () => Number((await inSide.textContent())!.match(/frame (\d+) lies under out frame \d+/)![1]);
  // It begins where the last proof of the pair did.
  const first = await under();
  for (let n = 0; n < 3; n++) await page.getByTestId('in-side-on').click();
  expect(await under()).toBe(first + 3);
  await page.getByTestId('make-proof').click();
  const film = page.getByTestId('proof-film');
  await film.waitFor({ timeout: 150000 });
  await page.waitForFunction(
    () => (document.querySelector('[data-testid=proof-film]') as HTMLVideoElement)?.currentTime > 0.3,
    undefined,
    { timeout: 30000 },
  );
  expect(await film.evaluate((v) => [(v as HTMLVideoElement).videoWidth, (v as HTMLVideoElement).error])).toEqual([
    640,
    null,
  ]);
  await fits(page);
  await page.getByTestId('proof-play').click();
  await page.getByTestId('proof-frame').waitFor();
  const before = (await page.getByTestId('proof').textContent())!.match(/out (\d+)/)![1];
  await page.getByTestId('proof-on').click();
  const after = (await page.getByTestId('proof').textContent())!.match(/out (\d+)/)![1];
  expect(Number(after)).not.toBe(Number(before));
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-proof').click()]);
  const mp4 = join(app.data, `proof-${width}.mp4`);
  await download.saveAs(mp4);
  expect(await probeFile(mp4, 'proof.mp4')).toMatchObject({ width: 640, codec: 'h264' });
}

/** Sets the edges that halving asks for, by dragging and by keys, and has them measured. */
async function setByHand(page: Page): Promise<void> {
  await choose(page, 'hand');
  const editor = page.getByTestId('hand-edges');
  await editor.waitFor();
  const asked = async () => (await editor.textContent())!.match(/Frame (\d+): set the (leading|trailing) edge/);
  const first = (await asked())!;
  expect(first[2]).toBe('leading');
  await page.getByTestId('edge-loupe').waitFor();
  // The line lies where the edge was measured; a nudge and a drag move it.
  const line = page.getByTestId('edge-line');
  await line.scrollIntoViewIfNeeded();
  const place = async () => Number(await line.getAttribute('aria-valuenow'));
  const start = await place();
  const box = (await line.boundingBox())!;
  await page.mouse.move(box.x + 0.5 * box.width, box.y + 0.5 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.7 * box.width, box.y + 0.5 * box.height, { steps: 5 });
  await page.mouse.up();
  expect(Math.abs((await place()) - start - 20)).toBeLessThanOrEqual(2);
  await page.mouse.move(box.x + 0.7 * box.width, box.y + 0.5 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.5 * box.width, box.y + 0.5 * box.height, { steps: 5 });
  await page.mouse.up();
  expect(Math.abs((await place()) - start)).toBeLessThanOrEqual(2);
  for (let n = 0; n < 10; n++) await page.keyboard.press('ArrowRight');
  for (let n = 0; n < 10; n++) await page.keyboard.press('ArrowLeft');
  let set = 0;
  for (; set < 14; set++) {
    if (!(await asked())) break;
    if (set % 2) await page.keyboard.press('Enter');
    else await page.getByTestId('set-edge').click();
    await page.waitForTimeout(60);
  }
  expect(set).toBeGreaterThanOrEqual(4);
  expect(await page.getByTestId('hand-count').textContent()).toMatch(/leading edge: \d+, .*trailing edge: \d+, /);
  await page.getByTestId('measure-by-hand').click();
  await page.getByText(new RegExp(`${set} edges; the picture confirms`)).waitFor({ timeout: 150000 });
  expect(await page.getByTestId('verdict-cover').textContent()).toMatch(/From edges set by hand/);
  await choose(page, 'hand');
  await page.getByTestId('hand-none').click();
  await page.getByText(/What lies behind was well seen/).waitFor({ timeout: 150000 });
}

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
