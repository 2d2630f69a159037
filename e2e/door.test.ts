import type { Page } from 'playwright-core';
import { hashCode } from '../server/door/code';
import { query } from '../server/testing/running-server';
import { AppUnderTest } from './browser';

const app = new AppUnderTest();
const CODE = 'K7MP-2QXD';
beforeAll(async () => {
  await app.start({ UMBRASTAT_DOOR: 'always' });
  await query(app.server.database, 'UPDATE door SET code_hash = $1, salt = $2', [await hashCode(CODE, 'salt'), 'salt']);
});
afterAll(() => app.stop());

async function join(page: Page, code: string, name: string): Promise<void> {
  await page.getByTestId('field-code').fill(code);
  await page.getByTestId('field-device').fill(name);
  await page.getByTestId('join').click();
}

test('a phone joins with the code, once, and works; another one is sent away', async () => {
  const phone = await app.open(390, 844);
  await phone.getByText('Join with this device').waitFor();
  await join(phone, 'WRONG-CODE', 'Ida’s phone');
  await phone.getByText('That is not the pass code').waitFor();
  await join(phone, CODE.toLowerCase(), 'Ida’s phone');
  await phone.getByTestId('new-shoot').waitFor();
  await phone.reload();
  await phone.getByTestId('new-shoot').waitFor();

  // The picture at the start holds the code.
  const tablet = await app.open(1280, 800, `/#code=${CODE}`);
  await tablet.getByTestId('field-device').fill('Tablet');
  await tablet.getByTestId('join').click();
  await tablet.getByTestId('new-shoot').waitFor();
  expect(tablet.url()).not.toContain(CODE);

  await phone.getByTestId('to-devices').click();
  await phone.getByText('Ida’s phone (this device)').waitFor();
  await phone.getByTestId('send-away').nth(1).click();
  await phone.getByText('Tablet').waitFor({ state: 'detached' });
  await tablet.waitForTimeout(3500);
  await tablet.reload();
  await tablet.getByText('Join with this device').waitFor();
  expect(app.complaints).toEqual([]);
});
