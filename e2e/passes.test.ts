import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { Caller } from '../server/testing/running-server';
import { AppUnderTest, faults, fits } from './browser';
import { few } from '../core/testing/few';

const app = new AppUnderTest();
let double: string, window: string;

beforeAll(async () => {
  await app.start();
  const ask = new Caller(app.server.url);
  const { shootId, setupId } = await ask.newSetup({ name: 'Kiosk', scene: 'kiosk', parts: [] });
  double = setupId;
  await ask.putTrick(double, 'double');
  const made = await ask.call<{ id: string }>('POST', `/shoots/${shootId}/setups`, { name: 'Window', scene: 'kiosk' });
  window = made.body.id;
  await ask.putTrick(window, 'framed-visitor');
  const roll = async (setup: string, part: string, crossing: string, seed: number) => {
    const { parts } = await ask.board(setup);
    await ask.roll(parts.find((p) => p.name === part)!.id, { width: 640, seconds: 2.4, crossing, seed });
  };
  await roll(double, 'Plate', 'nobody', 2);
  await roll(double, 'Pass A', 'stands-across', 3);
  await roll(double, 'Pass B', 'comes-and-stays', 4);
  await roll(window, 'Base', 'stands-across', 3);
  await roll(window, 'Visitor', 'in-opening', 6);
});
afterAll(() => app.stop());

/** Drags what is at a place by some screen pixels. */
async function drag(page: Page, from: { x: number; y: number }, way: readonly { x: number; y: number }[]) {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (const to of way) await page.mouse.move(to.x, to.y, { steps: 6 });
  await page.mouse.up();
}

/** Moves a slider to a value. */
async function slide(page: Page, testId: string, value: number) {
  await page.getByTestId(testId).fill(String(value));
}

/** Whether the passes have a mark of one name yet. */
let marked = false;

describe.each(
  few(1, [
    [1280, 800],
    [390, 844],
  ]),
)('at %i x %i', (width, height) => {
  test('the line is moved by its points, says what it cuts, and joins the two in a proof', async () => {
    const page = await app.open(width, height, `/setups/${double}`);
    await page.getByTestId('to-passes').click();
    await page
      .getByTestId('line-cuts')
      .getByText(/It cuts nobody/)
      .waitFor({ timeout: 150000 });
    expect(await page.getByTestId('verdict-apart').textContent()).toMatch(/Apart: holds.*One line parts them/);
    await fits(page);
    expect(await faults(page)).toEqual([]);
    // The feather ends where the corridor does.
    const most = Number(await page.getByTestId('feather').getAttribute('max'));
    expect(most).toBeGreaterThan(40);
    await slide(page, 'feather', most);
    expect(await page.getByTestId('line-tools').textContent()).toMatch(new RegExp(`${most} of ${most} px there are`));

    // An end of the line, dragged far to the left, cuts whoever stands there; its frames are named and it is hatched.
    await page.getByTestId('pass-picture').scrollIntoViewIfNeeded();
    const last = page.locator('[data-testid^="line-point-"]').last();
    const grip = (await last.boundingBox())!;
    const from = { x: grip.x + grip.width / 2, y: grip.y + grip.height / 2 };
    await drag(page, from, [{ x: (await page.getByTestId('pass-picture').boundingBox())!.x + 4, y: from.y }]);
    await page
      .getByTestId('line-cuts')
      .getByText(/It cuts Pass A 1 in frames 0 to 59, hatched/)
      .waitFor();
    await page.getByTestId('cut-first').waitFor({ state: 'attached' });
    expect(await page.getByTestId('feather').isDisabled()).toBe(true);
    // By keys it is moved a pixel at a time.
    const at = () =>
      page
        .getByTestId('line-tools')
        .getByText(/^point \d+ of \d+: /)
        .textContent();
    const before = (await at())!;
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowRight');
    const [x0, x1] = [before, (await at())!].map((t) => Number(/: (\d+),/.exec(t)![1]));
    expect(x1 - x0).toBe(11);
    await page.getByTestId('line-measured').click();
    await page
      .getByTestId('line-cuts')
      .getByText(/It cuts nobody/)
      .waitFor();

    // A line that was drawn elsewhere is taken in, and what cannot be one is refused with a sentence.
    const drawn = join(app.data, 'line.svg');
    const picture = (d: string) =>
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 640 360"><path d="${d}"/></svg>`;
    writeFileSync(drawn, picture('M313 67 L320 360'));
    await page.getByTestId('line-in-file').setInputFiles(drawn);
    await page.getByText('The line does not reach from edge to edge', { exact: false }).waitFor();
    writeFileSync(drawn, picture('M5 0 L4 200 L3 360'));
    await page.getByTestId('line-in-file').setInputFiles(drawn);
    await page.getByText('The line, drawn by hand').waitFor();
    await page
      .getByTestId('line-cuts')
      .getByText(/It cuts Pass A 1 in frames/)
      .waitFor();
    await page.getByTestId('line-measured').click();

    // Slid in time, how near they come is answered from what is stored.
    await slide(page, 'slide', 20);
    expect(await page.getByTestId('slide-tools').textContent()).toMatch(/20 frames later \(0\.80 s\)/);
    await page
      .getByTestId('slide-says')
      .getByText(/come as near as \d+ px|never in together/)
      .waitFor();
    await page.getByTestId('slide-none').click();

    await page.getByTestId('pass-seen').getByText('Joined').click();
    await page.getByTestId('pass-on').click();
    expect(await page.getByTestId('pass-frames').textContent()).toMatch(/frames (\d+) and \1/);
    await fits(page);
    await page.getByTestId('make-proof').click();
    await page.getByTestId('proof-film').waitFor({ timeout: 60000 });
    await page.getByTestId('proof-play').click();
    await page.getByTestId('proof-on').click();
    await page.getByTestId('proof-frame').waitFor();
    expect(await page.getByTestId('proof').textContent()).toMatch(/Along the line, feather \d+ px/);
    await fits(page);
    await page.getByTestId('remove-proof').click();
    await page.getByText('Proof removed.').waitFor();
    await page.context().close();
  });

  test('take against take draws the line between two passes, and joins them along it', async () => {
    const page = await app.open(width, height, `/setups/${double}`);
    await page.getByTestId('to-compare').click();
    await page.getByTestId('takes-apart').waitFor();
    const passes = page.getByTestId('compare-first');
    await passes.getByText('Pass A 1').click();
    await page.getByTestId('compare-second').getByText('Pass B 1').click();
    await page.getByTestId('verdict-apart').waitFor({ timeout: 150000 });
    expect(await page.getByTestId('verdict-apart').textContent()).toMatch(
      /Apart: holds.*One line parts them for the whole shot, with a feather of up to \d+ px/,
    );
    await page.getByTestId('worst-apart').click();
    await fits(page);
    // What is marked in both lies on each other.
    const { parts } = await app.ask('GET', `/setups/${double}`);
    const first = (name: string) => parts.find((p: { name: string }) => p.name === name).takes[0].id as string;
    if (!marked)
      for (const [name, frame] of [
        ['Pass A', 20],
        ['Pass B', 12],
      ] as const)
        // prettier-ignore
        await app.ask('POST', `/takes/${first(name)}/marks`, { frame, name: 'Clap' });
    marked = true;
    await page.reload();
    await page.getByTestId('lay-Clap').click();
    await page.getByText('frame 20, and 12 of the other').waitFor();
    await page.getByTestId('lay-as-shot').click();
    await page.getByText('frame 20 of both').waitFor();
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
    // The second picture is cut to its side of the line.
    const clip = await page
      .getByTestId('way-joined-picture')
      .evaluate((e) =>
        Array.from(e.querySelectorAll('*'), (x) => getComputedStyle(x).clipPath).find((c) => c !== 'none'),
      );
    expect(clip).toMatch(/^polygon\(.+\)$/);
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

  test('the sum of the room for a double takes its numbers from the passes', async () => {
    const page = await app.open(width, height, `/setups/${double}/plan`);
    await page.getByText('Double', { exact: true }).first().click();
    await page.getByTestId('do-double-room').click();
    await page.getByTestId('room-in-takes').waitFor({ timeout: 60000 });
    expect(await page.getByTestId('room-in-takes').textContent()).toMatch(
      /In Pass A 1 and Pass B 1 the wider one takes 0\.\d+ m, shadow included; between them a feather of \d+ px fits/,
    );
    await page.getByTestId('use-takes').click();
    expect(Number(await page.getByTestId('input-feather').inputValue())).toBeGreaterThan(40);
    await fits(page);
    await page.context().close();
  });

  test('one pass seen through, stronger and weaker over time', async () => {
    const page = await app.open(width, height, `/setups/${double}/passes`);
    await page.getByTestId('joined-how').getByText('See-through').click();
    await slide(page, 'strength-pct', 80);
    await page.getByTestId('pass-on').click();
    await page.getByTestId('strength-here').click();
    await slide(page, 'strength-pct', 20);
    expect(await page.getByTestId('strength').textContent()).toMatch(/: 80 %.*: 20 %/);
    await page.getByTestId('make-proof').click();
    await page.getByText(/See-through, Pass A 1 at 80 %, 20 %\./).waitFor({ timeout: 60000 });
    await page.getByTestId('remove-proof').click();
    await page.getByText('Proof removed.').waitFor();
    await page.context().close();
  });

  test('a zone is drawn with a finger on the picture, and judged in each take', async () => {
    const page = await app.open(width, height, `/setups/${window}`);
    await page.getByTestId('to-zone').click();
    await page.getByTestId('zone-drawing').waitFor();
    await page.getByTestId('zone-shape').getByText('Box').click();
    await page.getByTestId('zone-drawing').scrollIntoViewIfNeeded();
    const box = (await page.getByTestId('zone-drawing').boundingBox())!;
    const place = (x: number, y: number) => ({ x: box.x + x * box.width, y: box.y + y * box.height });
    await drag(page, place(0.5781, 0.4028), [place(0.63, 0.5), place(0.6781, 0.5611)]);
    await page.getByTestId('zone-keep').click();
    const outline = join(app.data, 'zone.svg');
    writeFileSync(outline, '<svg viewBox="0 0 100 100"><polygon points="57,40 68,40 68,57 57,57"/></svg>');
    await page.getByText('The zone is kept').waitFor();
    await page.getByTestId('zone-in-file').setInputFiles(outline);
    await page.getByText('Keep it when it lies where it should', { exact: false }).waitFor();
    await page.getByText('Undo').click();
    // Somebody inside it is a fault of the base, and what is asked of the visitor.
    const said = (take: string, text: RegExp) =>
      page.getByTestId(`zone-of-${take}`).getByText(text).waitFor({ timeout: 60000 });
    await said('Base 1', /obody comes/);
    await said('Visitor 1', /nobody shows outside the opening/);
    await fits(page);
    expect(await faults(page)).toEqual([]);
    await page.getByTestId('zone-shape').getByText('Outline').click();
    await page.getByTestId('zone-drawing').scrollIntoViewIfNeeded();
    const again = (await page.getByTestId('zone-drawing').boundingBox())!;
    const round = Array.from({ length: 24 }, (_, i) => ({
      x: again.x + again.width * (0.3 + 0.05 * Math.cos((i / 24) * 2 * Math.PI)),
      y: again.y + again.height * (0.3 + 0.1 * Math.sin((i / 24) * 2 * Math.PI)),
    }));
    await drag(page, round[0], round);
    expect(await page.getByTestId('zone-drawing').getAttribute('aria-label')).toMatch(/zone of \d+ corners/);
    await page.getByText('Undo').click();
    await page.getByTestId('zone-remove').click();
    await page.getByText('Zone removed.').waitFor();
    await page.context().close();
  });
});

test('nothing threw in the browser', () => {
  expect(app.complaints).toEqual([]);
});
