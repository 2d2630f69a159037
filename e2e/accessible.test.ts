import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { until } from '../server/testing/running-server';
import { AppUnderTest } from './browser';

/** Every main screen, asked by a checker for people who hear it, or see it in other colours. */
const app = new AppUnderTest();
let paths: string[] = [];

beforeAll(async () => {
  await app.start();
  const size = { delivery_width: 840, delivery_height: 472, delivery_fps: 25 };
  const shoot = (await app.ask('POST', '/shoots', { name: 'Night Ferry', ...size })).id;
  const setup = (await app.ask('POST', `/shoots/${shoot}/setups`, { name: 'Trolley', scene: 'pillar', parts: [] })).id;
  const planned = (await app.ask('POST', `/setups/${setup}/tricks`, { key: 'passing-wipe' })).id;
  const { parts } = await app.ask('GET', `/setups/${setup}`);
  const out = parts.find((p: { name: string }) => p.name === 'Out side').id;
  const roll = await app.ask('POST', `/parts/${out}/rolls`, { seconds: 2.4, width: 960, wipe: 'cart', seed: 3 });
  const take = (
    await until(
      () => app.ask('GET', `/rolls/${roll.id}`),
      (r) => r.state === 'done',
      150,
    )
  ).take_id;
  await until(
    () => app.ask('GET', `/setups/${setup}/wipes`),
    (b) => b.cover?.state === 'done',
    150,
  );
  const ofSetup = ['', '/plan', '/add-trick', '/sheet', '/roll', '/plates', '/wipes', '/compare'];
  paths = ['/', `/shoots/${shoot}`, `/shoots/${shoot}/import`, ...ofSetup.map((w) => `/setups/${setup}${w}`)].concat(
    [`/planned/${planned}`, `/takes/${take}`, '/check', '/hand-off', '/roll', '/devices', '/nowhere'],
    ['/sums', '/sums/retime', '/sums/headroom', '/sums/sensors'],
  );
});
afterAll(() => app.stop());

/** Faults that keep somebody out, as a checker finds them: what it is, and where. */
async function faults(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`));
}

test.each(['day', 'stage'])('no screen keeps anybody out, on the phone and on a wide screen: %s', async (theme) => {
  const sizes = [
    [390, 844],
    [1280, 800],
  ];
  const all = sizes.map(async ([width, height]) => {
    const page = await app.open(width, height);
    await page.evaluate((name) => window.localStorage.setItem('umbrastat.theme', name), theme);
    const found: Record<string, string[]> = {};
    for (const path of paths) {
      await page.goto(new URL(path, page.url()).href);
      await page.getByRole('main').waitFor();
      await page.waitForLoadState('networkidle');
      const own = await faults(page);
      if (own.length) found[`${path} ${width}`] = own;
    }
    return found;
  });
  expect(await Promise.all(all)).toEqual([{}, {}]);
  expect(app.complaints).toEqual([]);
});
