import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { wallClip } from '../media/testing/wall-clip';
import { AppUnderTest, choose, fits, newSetup, putTrick } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
const clip = join(app.data, 'kiosk.mp4');
const open = (width: number, height: number) => app.open(width, height);

beforeAll(async () => {
  wallClip(clip, 2);
  await app.start({}, true);
});
afterAll(() => app.stop());

/** Makes a shoot with one setup of a double; ends at the setup's gate. */
async function plan(page: Page, name: string): Promise<void> {
  await newSetup(page, name);
  await putTrick(page, 'double');
  await page.getByRole('link', { name: /^Roll/ }).click();
  await page.getByTestId('gate').waitFor();
}

const frameShown = (page: Page) => page.getByText(/^frame \d+ of \d+$/).textContent();

describe.each(
  few(1, [
    [390, 844],
    [1280, 800],
  ]),
)('at %d x %d', (width, height) => {
  test('plan, roll a knocked plate, see it recorded and measured, read the verdict, step frames', async () => {
    const page = await open(width, height);
    await plan(page, `Night Ferry ${width}`);
    await fits(page);
    expect(await page.getByTestId('gate').textContent()).toContain('Not yet. Roll the plate.');
    await page.getByTestId('roll-next').click();
    await choose(page, 'knock');
    await choose(page, '640');
    await choose(page, '4');
    await fits(page);
    await page.getByTestId('roll').click();
    await page.getByTestId('recording').waitFor();
    await page.getByTestId('verdict-lock').waitFor({ timeout: 150000 });
    await fits(page);
    const card = await page.getByTestId('verdict-lock').textContent();
    expect(card).toMatch(/Lock: reshoot/);
    expect(card).toMatch(/Knocked at frame 4[45]/);
    expect(card).toMatch(/limit 0\.35 px/);

    await page.getByTestId('worst-lock').click();
    const worst = await frameShown(page);
    expect(worst).toMatch(/^frame 4[45678] of 99$/);
    await page.waitForTimeout(400);
    expect(await page.getByTestId('frame-picture').evaluate((e) => e.getBoundingClientRect().bottom)).toBeGreaterThan(
      100,
    );
    await page.getByTestId('step-on').click();
    expect(await frameShown(page)).not.toBe(worst);
    await page.keyboard.press('Home');
    expect(await frameShown(page)).toBe('frame 0 of 99');
    await page.keyboard.press('Shift+ArrowRight');
    expect(await frameShown(page)).toBe('frame 10 of 99');
    await page.keyboard.press('l');
    await page.getByTestId('loupe').waitFor();
    await page.getByTestId('over-patches').click();
    expect(await page.getByLabel(/patches the lock rests on/).count()).toBeGreaterThan(0);
    await page.getByTestId('ribbon').scrollIntoViewIfNeeded();
    const ribbon = (await page.getByTestId('ribbon').boundingBox())!;
    await page.mouse.click(ribbon.x + ribbon.width / 2, ribbon.y + 30);
    expect(await frameShown(page)).toMatch(/^frame (49|50) of 99$/);

    await page.getByTestId('to-gate').click();
    await page.getByText('Not yet. Roll the plate again.').waitFor();
    await page.context().close();
  });

  test(
    'roll with a jump of exposure: the light says so, its frame is one tap away, and what is drawn over the ' +
      'picture can be switched',
    async () => {
      const page = await open(width, height);
      await plan(page, `Night Ferry, lamps ${width}`);
      await page.getByTestId('roll-next').click();
      await choose(page, 'step');
      await choose(page, 'comes-and-stays');
      await choose(page, '640');
      await choose(page, '4');
      await fits(page);
      await page.getByTestId('roll').click();
      await page.getByTestId('verdict-light').waitFor({ timeout: 150000 });
      await fits(page);
      const light = (await page.getByTestId('verdict-light').textContent())!;
      expect(light).toMatch(/Light: workable/);
      expect(light).toMatch(/jumps by −0\.\d\d stop at frame 4[123]/);
      expect(light).toMatch(/Set exposure by hand/);
      expect(await page.getByTestId('verdict-focus').textContent()).toMatch(/Focus: holds/);
      await page.getByTestId('worst-light').click();
      expect(await frameShown(page)).toMatch(/^frame 4[123] of 99$/);
      expect(await page.getByTestId('at-frame').textContent()).toMatch(/−0\.\d\d stop/);
      // Clear at first, then somebody comes and stays.
      const presence = (await page.getByTestId('presence-card').textContent())!;
      expect(presence).toMatch(/Clearframes 0 to 2\d/);
      expect(presence).toMatch(/Somebody is inframes (2\d|3[0-2]) to 99/);
      await page.getByLabel(/performers and shadows outlined/).waitFor();
      await page.getByTestId('over-people').click();
      expect(await page.getByLabel(/performers and shadows outlined/).count()).toBe(0);
      for (const key of ['r', 'g']) await page.keyboard.press(key);
      await page.getByLabel(/restless regions; light by zone/).waitFor();
      expect(await page.getByTestId('ribbon').getAttribute('aria-label')).toMatch(
        /light changes by at most 0\.\d\d stop/,
      );
      await page.context().close();
    },
  );

  test('drop in a file of one’s own, watch it measured, circle it, hand its report on', async () => {
    const page = await open(width, height);
    await plan(page, `Own files ${width}`);
    await page.getByTestId('roll-next').click();
    await page.getByTestId('file-input').setInputFiles(clip);
    await page.getByTestId('verdict-lock').waitFor({ timeout: 150000 });
    expect(await page.getByTestId('verdict-lock').textContent()).toMatch(/Lock: holds/);
    expect(await page.getByTestId('media-facts').textContent()).toContain('50 frames, 2.00 s');
    await page.getByTestId('circle').click();
    await page.getByText('Circled. Tap to undo').waitFor();
    await page.getByRole('link', { name: /Hand off/ }).click();
    await page.getByTestId('make-pack').waitFor();
    // Where there are several, the newest is not the first.
    if (await page.getByTestId('choose-shoot').count()) {
      await page.getByTestId('choose-shoot').click();
      await page.getByTestId(`of-shoot-Own files ${width}`).click();
    }
    await page.getByTestId('choose-setup-1').click();
    await page.getByTestId('make-pack').click();
    await page.getByTestId('pack').getByRole('link').click({ timeout: 60000 });
    await page.getByText('A page for each trick').waitFor();
    await fits(page);
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-pack').click()]);
    expect(download.suggestedFilename()).toMatch(/^own-files-\d+-setup-1\.zip$/);
    await fits(page);
    await page.context().close();
  });
});

test('a file that is no recording is refused with a sentence, and another can be chosen', async () => {
  const page = await open(390, 844);
  await plan(page, 'Refusals');
  await page.getByTestId('roll-next').click();
  const notes = join(app.data, 'notes.mp4');
  writeFileSync(notes, 'a diary, not a film');
  await page.getByTestId('file-input').setInputFiles(notes);
  await page.getByText(/"notes\.mp4" is a text file, not a recording/).waitFor();
  await page.getByText('Choose another file').click();
  await page.getByTestId('choose-file').waitFor();
  await page.context().close();
});

test('under Roll one chooses the setup one stands at, and is at its gate', async () => {
  const page = await open(390, 844);
  await page.getByRole('link', { name: /^Roll/ }).click();
  await page.getByTestId('at-setup-1').first().click();
  await page.getByTestId('gate').waitFor();
  await fits(page);
  expect(await page.getByRole('link', { name: /^Roll/ }).textContent()).toContain('setup 1');
  await page.context().close();
});

test('an address that leads nowhere says so, and leads back', async () => {
  const page = await open(390, 844);
  await page.goto(`${new URL(page.url()).origin}/setups/none/of/these`);
  await page.getByText('There is nothing at this address').waitFor();
  await fits(page);
  await page.getByTestId('to-shoots').click();
  await page.getByTestId('new-shoot').waitFor();
  await page.context().close();
});

test('the frames beside the one on screen are there before they are asked for', async () => {
  const page = await open(1280, 800);
  await page.getByRole('link', { name: /Check/ }).click();
  await page
    .getByText(/Plate, take 1/)
    .first()
    .click();
  await page.getByTestId('verdict-lock').waitFor();
  await page.keyboard.press('Home');
  await page.waitForFunction(() =>
    [1, 2, 3].every((n) =>
      performance
        .getEntriesByType('resource')
        .some((e) => e.name.endsWith(`/frames/${n}`) && (e as PerformanceResourceTiming).responseEnd > 0),
    ),
  );
  await page.context().setOffline(true);
  for (const n of [1, 2, 3]) {
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction((frame) => {
      const shown = document.querySelector<HTMLImageElement>(
        `[aria-label="Frame ${frame}"] img, img[alt="Frame ${frame}"]`,
      );
      return shown !== null && shown.complete && shown.naturalWidth > 0;
    }, n);
  }
  await page.context().close();
});

test('both themes, the keys, and a server that goes away', async () => {
  const page = await open(390, 844);
  await page.getByTestId('new-shoot').waitFor();
  const paper = await page.evaluate(() => getComputedStyle(document.querySelector('[role=main]')!).backgroundColor);
  await page.getByTestId('theme').click();
  await page.waitForTimeout(200);
  expect(await page.evaluate(() => getComputedStyle(document.querySelector('[role=main]')!).backgroundColor)).not.toBe(
    paper,
  );
  await page.reload();
  await page.getByTestId('new-shoot').waitFor();
  expect(await page.evaluate(() => getComputedStyle(document.querySelector('[role=main]')!).backgroundColor)).not.toBe(
    paper,
  );
  await page.context().setOffline(true);
  await page.getByRole('link', { name: /Check/ }).click();
  await page
    .getByText(/The server cannot be reached/)
    .first()
    .waitFor({ timeout: 20000 });
  await page.context().setOffline(false);
  await page.getByText(/What is on screen is the last known state/).waitFor({ state: 'detached', timeout: 20000 });
  await page.context().close();
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
