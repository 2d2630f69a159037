import { until } from '../server/testing/running-server';
import { few } from '../core/testing/few';
import { AppUnderTest, faults } from './browser';

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
  const roll = await app.ask('POST', `/parts/${out}/rolls`, { seconds: 2.4, width: 640, wipe: 'cart', seed: 3 });
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
    [`/planned/${planned}`, `/takes/${take}`, '/check', '/hand-off', '/devices', '/disk'],
    ['/sums', '/sums/retime', '/sums/sensors'],
  );
});
afterAll(() => app.stop());

test('no screen keeps anybody out, on the phone and on a wide screen, in both themes', async () => {
  const sizes = [
    { width: 390, height: 844 },
    { width: 1280, height: 800 },
  ];
  // Usually one screen on the phone and the next on a wide one.
  const sizesOf = (path: string) => few(1, paths.indexOf(path) % 2 ? [...sizes].reverse() : sizes);
  const look = async (share: number) => {
    const page = await app.open(390, 844);
    const found: Record<string, string[]> = {};
    for (const path of paths.filter((_, k) => (k >> 1) % 2 === share)) {
      await page.goto(new URL(path, page.url()).href);
      await page.getByRole('main').waitFor();
      await page.waitForLoadState('networkidle');
      for (const size of sizesOf(path)) {
        await page.setViewportSize(size);
        const own = await faults(page);
        // The same page in other colours. What is chosen stays, so the next one is seen the other way round.
        await page.getByTestId('theme').click();
        own.push(...(await faults(page, true)));
        if (own.length) found[`${path} ${size.width}`] = own;
      }
    }
    return found;
  };
  expect(await Promise.all([look(0), look(1)])).toEqual([{}, {}]);
  expect(app.complaints).toEqual([]);
}, 900_000);
