import type { Page } from 'playwright-core';
import { AppUnderTest, choose, fits, newSetup, putTrick } from './browser';

const app = new AppUnderTest();
beforeAll(() => app.start());
afterAll(() => app.stop());

/** Rolls the part that is next with the stand-in camera, somebody in it as chosen, and comes back to the gate. */
async function rollNext(page: Page): Promise<void> {
  const next = (await page.getByTestId('roll-next').textContent())!;
  await page.getByTestId('roll-next').click();
  const crossing = /plate/i.test(next) ? 'nobody' : /pass a/i.test(next) ? 'stands' : 'slips-before';
  for (const choice of [crossing, '960', '4']) await choose(page, choice);
  await page.getByTestId('roll').click();
  await page.getByTestId('verdict-light').waitFor({ timeout: 150000 });
  await page.getByTestId('to-gate').click();
  await page.waitForFunction(
    (before) => document.querySelector('[data-testid="roll-next"]')?.textContent !== before,
    next,
  );
}

/** The gate of a setup whose passes are rolled. */
let gate: string | null = null;

/** Plans a double, rolls its parts, and gives its gate's address. */
async function rollAll(page: Page): Promise<string> {
  await newSetup(page, 'Night Ferry, double', 'Kiosk');
  await putTrick(page, 'double');
  await page.getByRole('link', { name: /^Roll/ }).click();
  await page.getByTestId('gate').waitFor();
  const address = page.url();
  for (let n = 0; n < 3; n++) await rollNext(page);
  return address;
}

describe.each([
  [390, 844],
  [1280, 800],
])('at %i x %i', (width, height) => {
  test('two passes of a double are parted by a line, which is drawn and joins them', async () => {
    const page = await app.open(width, height);
    if (gate) await page.goto(gate);
    else gate = await rollAll(page);
    await page.getByTestId('to-compare').click();
    await page.getByTestId('takes-apart').waitFor();
    // Somebody stands to the right in the one; in the other they come from the left and stop far from there.
    const passes = page.getByTestId('compare-first');
    await passes.getByText('Pass A 1').click();
    await page.getByTestId('compare-second').getByText('Pass B 1').click();
    await page.getByTestId('verdict-apart').waitFor({ timeout: 150000 });
    expect(await page.getByTestId('verdict-apart').textContent()).toMatch(
      /Apart: holds.*One line parts them for the whole shot, with a feather of up to \d+ px/,
    );
    await page.getByTestId('worst-apart').click();
    await fits(page);
    await page.getByTestId('way-joined').click();
    await page.getByTestId('way-joined-picture').waitFor();
    expect(await page.getByTestId('two-pictures').textContent()).toMatch(/joined along the line/);
    expect(await page.getByTestId('seam-line').getAttribute('aria-label')).toMatch(/room for a feather of \d+ px/);
    // No word of a way of looking is cut off.
    const cut = await page
      .getByTestId('two-pictures')
      .evaluate(
        (e) =>
          Array.from(e.querySelectorAll('*')).filter(
            (x) => x.scrollWidth > x.clientWidth + 1 && x.textContent === 'Joined',
          ).length,
      );
    expect(cut).toBe(0);
    // The second picture is cut to its side of the line: to the left of where the other stands.
    const clip = await page
      .getByTestId('way-joined-picture')
      .evaluate((e) =>
        Array.from(e.querySelectorAll('*'), (x) => getComputedStyle(x).clipPath).find((c) => c !== 'none'),
      );
    expect(clip).toMatch(/^polygon\(.*0px 0px\)$/);
    await page.getByTestId('marks-tool').click();
    expect(await page.getByTestId('seam-line').count()).toBe(0);
    await fits(page);

    // Of two takes that nobody wanted apart it is told when asked for.
    await page.getByTestId('compare-second').getByText('Plate 1').click();
    // Asked for once; the second time round it is known.
    const ask = page.getByTestId('ask-pair'),
      nobody = page.getByText(/Nobody was seen in the (first|second) pass/).first();
    await ask.or(nobody).first().waitFor();
    if (await ask.isVisible()) await ask.click();
    await nobody.waitFor({ timeout: 150000 });
    await page.getByTestId('to-gate').click();
    await page.getByTestId('fold-Double').click();
    await page
      .getByText(/Pass A, take 1 and Pass B, take 1 come as near as \d+ px, at frame \d+/)
      .first()
      .waitFor();
    await page.context().close();
  });
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
