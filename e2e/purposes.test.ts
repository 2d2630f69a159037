import { join } from 'node:path';
import { wallClip } from '../media/testing/wall-clip';
import { AppUnderTest, fits, newSetup } from './browser';

const app = new AppUnderTest();
const panned = join(app.data, 'panned.mp4');

beforeAll(async () => {
  wallClip(panned, 2, 'crop=640:360:100+4*n:180');
  await app.start();
});
afterAll(() => app.stop());

test('a take is judged for what its part is for; another purpose is one tap; lists, gate and start page follow', async () => {
  const page = await app.open(390, 844);
  await newSetup(page, 'Crossing', 'Rail');
  await page.getByRole('link', { name: /^Roll/ }).click();
  await page.getByText('Add a part').first().click();
  await page.getByTestId('field-name').fill('Pan to the ferry');
  await page.getByTestId('submit').click();
  await page.getByTestId('roll-next').click();
  await page.getByTestId('file-input').setInputFiles(panned);

  // Its name says that it pans: then that it moves is a fact and no fault.
  const judged = page.getByTestId('judged');
  await judged.waitFor({ timeout: 150000 });
  expect(await judged.textContent()).toMatch(/^Holdsjudged as a moving shot/);
  const lock = page.getByTestId('verdict-lock');
  expect(await lock.textContent()).toMatch(/^Lock, not asked forThe camera moves all the time: up to \d+/);
  expect(await lock.getByRole('img', { name: /reshoot|holds|workable/ }).count()).toBe(0);
  expect(await page.getByText(/^Roll Pan to the ferry again$/).count()).toBe(0);
  await fits(page);

  await page.getByTestId('purpose-locked').click();
  await page.getByText('Lock: reshoot').waitFor();
  expect(await judged.textContent()).toMatch(/^Reshootjudged as a locked pass.*judge it as a moving shot/);
  await page.getByText('Roll Pan to the ferry again').waitFor();
  await page.getByTestId('to-gate').click();
  await page.getByText('Not yet. Roll “Pan to the ferry” again.').waitFor();
  expect(await page.getByTestId('take-Pan to the ferry-1').textContent()).toMatch(/The camera moves all the time/);

  // What must be done stands on the Check place, by setup; a bench keeps the place it was reached from.
  const place = () => page.locator('[role=navigation] [aria-current=page]').textContent();
  expect(await place()).toMatch(/^Roll/);
  await page.getByRole('link', { name: /^Check/ }).click();
  const faults = page.getByTestId('faults-1');
  await faults.waitFor();
  expect(await faults.textContent()).toMatch(/Setup 1, Rail.*Pan to the ferry, take 1The camera moves.*tripod/);
  expect(await place()).toBe('Check1 to see');
  await faults.getByRole('link').click();
  await page.getByTestId('to-plates').click();
  await page.getByText('Plate bench').first().waitFor();
  expect(await place()).toMatch(/^Check/);
  await page.goBack();
  await page.getByTestId('purpose-in').click();
  await page.getByText('judged as the in side of a wipe').waitFor();
  await page.getByRole('link', { name: /^Check/ }).click();
  await page.getByText('Nothing to do: every part stands on a take that can be used.').waitFor();
  expect(await place()).toBe('Checkall seen');
  await page.getByRole('link', { name: /^Plan/ }).click();
  await page.getByText(/1 of 1 setups may be struck/).waitFor();
  await fits(page);
  await page.context().close();
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
