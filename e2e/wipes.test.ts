import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { probeFile } from '../media/probe';
import { AppUnderTest, fits, newSetup, putTrick } from './browser';

const app = new AppUnderTest();
beforeAll(() => app.start());
afterAll(() => app.stop());

/** Rolls the part that is next with the stand-in camera, and comes back to the gate. */
async function roll(page: Page, choices: string[]): Promise<void> {
  await page.getByTestId('roll-next').click();
  for (const choice of [...choices, '4']) await page.getByTestId(`choose-${choice}`).click();
  await page.getByTestId('roll').click();
  await page.getByTestId('verdict-lock').waitFor({ timeout: 150000 });
  await page.getByTestId('to-gate').click();
  await page.getByTestId('gate').waitFor();
}

describe.each([[390, 844], [1280, 800]])('at %i x %i', (width, height) => {
  test('a wipe that misses a corner is sent back; the sound one is cut, proved, saved, and masked by hand where wished', async () => {
    const page = await app.open(width, height);
    await newSetup(page, `Night Ferry, wipes ${width}`, 'Trolley');
    await putTrick(page, 'passing-wipe');
    await page.getByRole('link', { name: /^Roll/ }).click();
    await page.getByTestId('gate').waitFor();
    expect(await page.getByTestId('roll-next').textContent()).toBe('Roll Out side');
    await roll(page, ['misses-corner']);
    await page.getByText(/The object covers 9\d % of the picture at most/).first().waitFor({ timeout: 150000 });
    expect(await page.getByTestId('gate').textContent()).toMatch(/Not yet\. Roll the out side again/);
    expect(await page.getByTestId('roll-next').textContent()).toBe('Roll Out side again');
    await roll(page, []);
    await page.getByTestId('take-Out side-2').click();
    await page.getByTestId('circle').click();
    await page.getByTestId('to-gate').click();
    await page.getByText(/all covered in \d+ frames/).waitFor({ timeout: 150000 });
    await fits(page);
    expect(await page.getByTestId('roll-next').textContent()).toBe('Roll In side');
    await roll(page, []);
    await page.getByText('The camera stands on both sides.').waitFor({ timeout: 150000 });

    await page.getByTestId('to-wipes').click();
    await page.getByTestId('verdict-cover').waitFor();
    expect(await page.getByTestId('verdict-cover').textContent()).toMatch(/Cover: holds.*covers everything in frames \d+ to \d+ and has left after frame \d+/);
    expect(await page.getByTestId('cover-facts').textContent()).toMatch(/Frames to mask\d+Set first\d+, \d+/);
    expect(await page.getByTestId('cut-facts').textContent()).toMatch(/Out sidestands still.*In sidestands still/);
    await page.getByTestId('ways-chart').waitFor();
    await fits(page);
    // The other take of the out side is one tap away, with what it misses.
    await page.getByTestId('choose-out').getByText(/Out side 1/).click();
    await page.getByText(/The object covers 9\d % of the picture at most/).first().waitFor();
    await page.getByTestId('choose-out').getByText(/Out side 2/).click();
    await page.getByText(/covers everything in frames/).first().waitFor();

    await slideAndProve(page, width);
    await setByHand(page);
    await page.getByTestId('to-gate').click();
    expect(await page.getByTestId('gate').textContent()).toMatch(/headroom|You may strike|Record|larger/i);
    await page.context().close();
  });
});

/** Slides the in side under the out side, plays the proof, steps through it, and saves it. */
async function slideAndProve(page: Page, width: number): Promise<void> {
  const inSide = page.getByTestId('in-side');
  expect(await inSide.textContent()).toMatch(/frame 0 lies under out frame \d+/);
  for (let n = 0; n < 3; n++) await page.getByTestId('in-side-on').click();
  expect(await inSide.textContent()).toMatch(/frame 3 lies under out frame \d+/);
  await page.getByTestId('make-proof').click();
  const film = page.getByTestId('proof-film');
  await film.waitFor({ timeout: 150000 });
  await page.waitForFunction(() => (document.querySelector('[data-testid=proof-film]') as HTMLVideoElement)?.currentTime > 0.3, undefined, { timeout: 30000 });
  expect(await film.evaluate((v) => [(v as HTMLVideoElement).videoWidth, (v as HTMLVideoElement).error])).toEqual([640, null]);
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
  await page.getByTestId('choose-hand').click();
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
    if (!await asked()) break;
    if (set % 2) await page.keyboard.press('Enter');
    else await page.getByTestId('set-edge').click();
    await page.waitForTimeout(60);
  }
  expect(set).toBeGreaterThanOrEqual(4);
  expect(await page.getByTestId('hand-count').textContent()).toMatch(/leading edge: \d+, .*trailing edge: \d+, /);
  await page.getByTestId('measure-by-hand').click();
  await page.getByText(new RegExp(`${set} edges; the picture confirms`)).waitFor({ timeout: 150000 });
  expect(await page.getByTestId('verdict-cover').textContent()).toMatch(/From edges set by hand/);
  await page.getByTestId('choose-hand').click();
  await page.getByTestId('hand-none').click();
  await page.getByText(/What lies behind was well seen/).waitFor({ timeout: 150000 });
}

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
