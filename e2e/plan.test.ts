import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { until } from '../server/testing/running-server';
import { AppUnderTest, choose, fits, newSetup, putTrick, sameRolls } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
beforeAll(() => app.start());
afterAll(() => app.stop());

/** Waits until what is asked for is so. */
async function eventually<T>(ask: () => Promise<T>, so: (answer: T) => boolean): Promise<void> {
  await until(ask, so, 8);
}

/** The texts of the grips of a sortable list, in order. */
const orderOf = (page: Page, list: string) =>
  page
    .getByTestId(list)
    .locator('[data-testid^=grip-]')
    .evaluateAll((all) => all.map((e) => e.getAttribute('data-testid')!.slice(5)));

/** Drags one row of a sortable list above another by its grip. */
async function drag(page: Page, name: string, above: string): Promise<void> {
  await page.getByTestId(`grip-${above}`).scrollIntoViewIfNeeded();
  const [from, to] = await Promise.all([
    page.getByTestId(`grip-${name}`).boundingBox(),
    page.getByTestId(`grip-${above}`).boundingBox(),
  ]);
  await page.mouse.move(from!.x + from!.width / 2, from!.y + from!.height / 2);
  await page.mouse.down();
  await page.mouse.move(to!.x + to!.width / 2, to!.y + to!.height / 2, { steps: 12 });
  await page.mouse.move(to!.x + to!.width / 2, to!.y + 2, { steps: 3 });
  await page.mouse.up();
}

describe.each(
  few(1, [
    [390, 844],
    [1280, 800],
  ]),
)('at %d x %d', (width, height) => {
  test(
    'from nothing: a double and a passing wipe; 25 fps cannot carry 40 %; the plan is changed; the sheet ' +
      'says what to roll',
    async () => {
      const page = await app.open(width, height);
      await newSetup(page, `Night Ferry ${width}`);
      await putTrick(page, 'double');
      await putTrick(page, 'passing-wipe');
      await fits(page);
      await page.getByTestId('edit-settings').click();
      await page.getByTestId('setting-fps').fill('25');
      await page.getByTestId('setting-shutter').fill('50');
      await page.getByTestId('save-settings').click();
      await page.getByTestId('trick-Double').click();
      await page.getByTestId('wish-speed').fill('40');
      expect(await page.getByTestId('contradictions').textContent()).toContain(
        '40 % speed needs 62.5 fps; this setup is noted at 25',
      );
      await fits(page);
      await page.getByTestId('save-trick').click();
      await page.getByTestId('to-setup').click();
      expect(await page.getByTestId('contradictions').textContent()).toContain('62.5 fps');
      // The plan is changed: while one types, the contradiction goes.
      await page.getByTestId('edit-settings').click();
      await page.getByTestId('setting-fps').fill('100');
      await page.getByTestId('contradictions').filter({ hasText: 'needs 62.5 fps' }).waitFor({ state: 'detached' });
      await page.getByTestId('setting-shutter').fill('200');
      await page.getByTestId('save-settings').click();
      await page.getByTestId('edit-settings').waitFor();
      expect(await page.getByTestId('contradictions').count()).toBe(0);
      expect(await orderOf(page, 'order')).toEqual(['Plate', 'Pass A', 'Pass B', 'Out side', 'In side']);
      await page.getByTestId('to-sheet').click();
      await page.getByTestId('line-part-Plate').waitFor();
      await fits(page);
      const sheet = await page.locator('[role=main]').textContent();
      for (const words of [
        '100 fps',
        '1/200 s',
        'Nobody touches the tripod',
        'Everybody out, five seconds of nothing.',
        'Cross close to the lens',
        'do not stop the camera',
      ])
        expect(sheet).toContain(words);
      expect(await page.getByTestId('sheet-next').textContent()).toBe('Roll Plate');

      // Ticks go on while the server cannot be reached, and are sent later.
      await page.getByTestId('person').fill('Ines');
      await page.getByTestId('line-part-Plate').click();
      await page.getByText('Roll Pass A').waitFor();
      await page.waitForTimeout(800);
      await page.context().setOffline(true);
      await page.getByTestId('line-part-Pass A').click();
      await page.getByText(/1 tick waits to be sent/).waitFor();
      expect(await page.getByTestId('line-part-Pass A').getAttribute('aria-checked')).toBe('true');
      expect(await page.getByTestId('line-part-Pass B').textContent()).toContain('Change over behind the camera');
      // Even a page opened anew shows the sheet, with the tick that waits.
      await page.reload();
      await page.getByTestId('line-part-Pass A').waitFor();
      expect(await page.getByTestId('line-part-Pass A').getAttribute('aria-checked')).toBe('true');
      await page.context().setOffline(false);
      await page.getByText(/waits to be sent/).waitFor({ state: 'detached', timeout: 20000 });
      await page.reload();
      await page.getByTestId('line-part-Pass A').waitFor();
      await page.waitForTimeout(500);
      expect(await page.getByTestId('line-part-Pass A').getAttribute('aria-checked')).toBe('true');
      expect(await page.getByTestId('line-part-Plate').textContent()).toContain('Ines');
      const pdf = await page.pdf({ format: 'A4' });
      expect(pdf.toString('latin1').match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
      await page.context().close();
    },
  );

  test('dragging, deleting with the way back, copying, a trick of one’s own', async () => {
    const page = await app.open(width, height);
    await newSetup(page, `Quay ${width}`);
    await putTrick(page, 'slip-behind');
    await putTrick(page, 'cover-pull');
    expect(await orderOf(page, 'tricks')).toEqual(['Slip-behind', 'Cover pull']);
    await drag(page, 'Cover pull', 'Slip-behind');
    await eventually(
      () => orderOf(page, 'tricks'),
      (o) => o.join() === ['Cover pull', 'Slip-behind'].join(),
    );
    // By keyboard too: the grip is taken with space and moved with the arrows.
    await page.getByTestId('grip-Plate').evaluate((e) => e.scrollIntoView({ block: 'center' }));
    await page.getByTestId('grip-Plate').focus();
    await page.keyboard.press('Space');
    await page.waitForTimeout(150);
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(300);
    await page.keyboard.press('Space');
    await eventually(
      () => orderOf(page, 'order'),
      (o) => o[1] === 'Plate',
    );
    await page.getByTestId('use-proposed').click();
    await eventually(
      () => orderOf(page, 'order'),
      (o) => o[0] === 'Plate',
    );
    await page.waitForTimeout(600);
    await page.reload();
    await page.getByTestId('tricks').waitFor();
    expect(await orderOf(page, 'tricks')).toEqual(['Cover pull', 'Slip-behind']);

    await page.getByTestId('add-trick').click();
    await page.getByTestId('compose').click();
    await page.getByTestId('field-name').fill('Gulls');
    await page.getByTestId('submit').click();
    await page.getByTestId('new-requirement').click();
    await choose(page, 'same-light');
    await choose(page, 'plate');
    expect(await page.getByTestId('add-requirement').getAttribute('aria-disabled')).toBe('true');
    await page.getByTestId('choose-pass').last().click();
    await page.getByTestId('add-requirement').click();
    await page.getByTestId('save-trick').click();
    await page.getByTestId('to-setup').waitFor();
    expect(await page.getByTestId('requirement-same-light-plate-pass').textContent()).toContain(
      'Decided by the light of the still parts',
    );
    await fits(page);
    await page.getByTestId('trick-menu').click();
    await page.getByTestId('remove-trick').click();
    await page.getByText('Gulls is removed.').waitFor();
    await eventually(
      () => orderOf(page, 'tricks'),
      (o) => o.join() === 'Cover pull,Slip-behind',
    );
    await page.getByText('Undo').click();
    await eventually(
      () => orderOf(page, 'tricks'),
      (o) => o.join() === ['Cover pull', 'Slip-behind', 'Gulls'].join(),
    );

    await page.getByTestId('setup-menu').click();
    await page.getByTestId('delete-setup').click();
    await page.getByText('Setup 1 is deleted.').waitFor();
    await page.getByText('No setup yet').waitFor();
    await page.getByText('Undo').click();
    await page.getByTestId('setup-1').waitFor();
    await page.getByTestId('shoot-menu').click();
    await page.getByTestId('copy-shoot').click();
    await page.getByText(`Quay ${width}, copy`).waitFor();
    await page.getByTestId('setup-1').waitFor();
    await fits(page);
    await page.context().close();
  });

  test('a sum answers as one types, shows its working, and is kept with a trick', async () => {
    const page = await app.open(width, height);
    await newSetup(page, `Sums ${width}`);
    await putTrick(page, 'floater');
    await page.getByTestId('trick-Floater').click();
    await page.getByTestId('do-retime').click();
    await page.getByTestId('input-capture').fill('25');
    await eventually(
      () => page.getByTestId('answers').textContent(),
      (t) => t!.includes('15 frames'),
    );
    expect(await page.getByTestId('cautions').textContent()).toContain('Record at 62.5 fps');
    await page.getByTestId('input-capture').fill('1oo');
    await eventually(
      () => page.getByTestId('answers').textContent(),
      (t) => t!.includes('Recorded at: a number is missing'),
    );
    await page.getByTestId('input-capture').fill('62,5');
    await eventually(
      () => page.getByTestId('answers').textContent(),
      (t) => t!.includes('0 framesrepeats a second'),
    );
    await page.getByTestId('curve').waitFor();
    await fits(page);
    await page.getByTestId('keep-sum').click();
    await page.getByTestId('kept-retime').waitFor();
    expect(await page.getByTestId('kept-retime').textContent()).toContain('shown a second 25');
    await page.getByRole('link', { name: /^Plan/ }).click();
    await page.getByTestId('to-sums').click();
    for (const kind of ['cover', 'timecode', 'light']) {
      await page.getByTestId(`sum-${kind}`).click();
      await page.getByTestId('answers').waitFor();
      await fits(page);
      await page.goBack();
    }
    await page.context().close();
  });
});

test('a shot list is saved, changed by hand, previewed and taken in; errors come by line', async () => {
  const page = await app.open(390, 844);
  await newSetup(page, 'Lists');
  await putTrick(page, 'double');
  await page.goBack();
  await page.goto(page.url().replace(/\/setups\/.*/, '/'));
  await page.getByText('Lists').click();
  await page.getByTestId('shoot-menu').click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('save-csv').click()]);
  const path = join(app.data, 'list.csv');
  await download.saveAs(path);
  const csv = readFileSync(path, 'utf8');
  expect(csv).toContain('Pass A');
  await page.waitForTimeout(600);
  await page.getByTestId('shoot-menu').click();
  await page.getByTestId('to-import').click();
  writeFileSync(path, csv.replace('Pass B', 'Pass B, late').replace(/,20,no/, ',soon,no'));
  await page.getByTestId('import-file').setInputFiles(path);
  expect(await page.getByTestId('import-errors').textContent()).toMatch(/Line \d: seconds: "soon" is no length/);
  writeFileSync(path, csv.replaceAll('"Kiosk, locked"', '"Kiosk, dusk"'));
  await page.getByTestId('import-file').setInputFiles(path);
  await page.getByText('setup 1, name: Kiosk, locked becomes Kiosk, dusk').waitFor();
  await page.getByTestId('apply-import').click();
  await page.getByText('1  Kiosk, dusk').waitFor();
  await page.context().close();
});

test('what no measure decides is ticked by somebody with a name, and then the setup may be struck', async () => {
  const page = await app.open(390, 844);
  await sameRolls(page);
  await newSetup(page, 'By eye');
  await putTrick(page, 'lit-prop');
  await page.getByRole('link', { name: /^Roll/ }).click();
  await page.getByTestId('roll-next').click();
  await choose(page, '640');
  await choose(page, '4');
  await page.getByTestId('roll').click();
  await page.getByTestId('verdict-lock').waitFor({ timeout: 150000 });
  await page.getByTestId('to-gate').click();
  await page.getByText('Look at 2 things by eye before you strike.').waitFor({ timeout: 150000 });
  await page.getByTestId('judged-beats-marked-pass').click();
  await page.getByTestId('field-name').fill('Ines');
  await page.getByTestId('submit').click();
  await page.getByText('Look at one thing by eye before you strike.').waitFor();
  await page.getByTestId('fold-Lit prop').click();
  expect(await page.getByTestId('judged-beats-marked-pass').textContent()).toMatch(/by eye: Ines, \d/);
  await page.getByTestId('judged-light-on-beat-pass').click();
  await page.getByText('You may strike: every part holds.').waitFor();
  await page.context().close();
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
