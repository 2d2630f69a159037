import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { chromium, type Browser, type Page } from 'playwright-core';
import { Caller, freshDatabase, KEPT_MAIN, startServer, type RunningServer } from '../server/testing/running-server';

/** The real app in a real browser, with a server, database and data folder of its own. */
export class AppUnderTest {
  readonly data = mkdtempSync(join(tmpdir(), 'umbrastat-e2e-'));
  /** What the pages threw. */
  readonly complaints: string[] = [];
  server!: RunningServer;
  private browser!: Browser;

  constructor() {
    // A page that nobody looks at any more goes on asking and drawing.
    afterEach(() => Promise.all(this.browser.contexts().map((context) => context.close())));
  }

  /** @param real whether takes are rolled and measured although that was done before */
  async start(more: Record<string, string> = {}, real = false): Promise<void> {
    const web = { UMBRASTAT_WEB: join(__dirname, '..', 'dist') };
    this.server = await startServer(
      await freshDatabase(),
      this.data,
      { ...web, ...more },
      real ? undefined : KEPT_MAIN,
    );
    this.browser = await chromium.launch({
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    });
  }

  async stop(): Promise<void> {
    await this.browser?.close();
    await this.server?.stop();
    rmSync(this.data, { recursive: true, force: true });
  }

  /** Asks the server itself, as the app does; for what a test needs before it begins. */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  async ask(method: string, path: string, body?: unknown): Promise<any> {
    const answer = await new Caller(this.server.url).call(method, path, body);
    if (answer.status >= 400) throw new Error(`${method} ${path}: ${JSON.stringify(answer.body)}`);
    return answer.body;
  }

  async open(width: number, height: number, path = '/'): Promise<Page> {
    const context = await this.browser.newContext({ viewport: { width, height } });
    const page = await context.newPage();
    page.on('pageerror', (e) => this.complaints.push(e.message));
    await page.goto(`${this.server.url}${path}`);
    return page;
  }
}

/** Makes a shoot with one setup, as a person would; ends at the setup's plan. */
export async function newSetup(page: Page, shoot: string, setup = 'Kiosk, locked'): Promise<void> {
  await page.getByTestId('new-shoot').click();
  await page.getByTestId('field-name').fill(shoot);
  await page.getByTestId('field-width').fill('640');
  await page.getByTestId('field-height').fill('360');
  await page.getByTestId('submit').click();
  await page.getByTestId('new-setup').click();
  await page.getByTestId('field-name').fill(setup);
  await page.getByTestId('submit').click();
  await page.getByTestId('add-trick').waitFor();
}

/** Puts a trick of the library on the setup whose plan is on screen. */
export async function putTrick(page: Page, key: string): Promise<void> {
  await page.getByTestId('add-trick').click();
  await page.getByTestId(`library-${key}`).click();
  await page.getByTestId(`put-${key}`).click();
  await page.getByTestId('add-trick').waitFor();
}

/** Has the camera roll the same take each time that a page asks for one, so that it may be one that is kept. */
export const sameRolls = (page: Page) =>
  page.route('**/api/parts/*/rolls', (route) =>
    route.continue({ postData: { ...(route.request().postDataJSON() as object), seed: 7 } }),
  );

/** Presses a choice of a form. A page that still scrolls would take the press for the beginning of a swipe. */
export async function choose(page: Page, value: string): Promise<void> {
  const chip = page.getByTestId(`choose-${value}`);
  await chip.scrollIntoViewIfNeeded();
  await page.evaluate(
    () =>
      new Promise((done) => {
        requestAnimationFrame(() => requestAnimationFrame(done));
      }),
  );
  await chip.click();
}

/** No page may be wider than its window. */
export async function fits(page: Page): Promise<void> {
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
}

/** Faults that keep somebody out, as a checker finds them: what it is, and where. */
export async function faults(page: Page, onlyColours = false): Promise<string[]> {
  // Only what is wrong is sent back. What is pressed is large enough, or has room around it; the checker leaves that out by itself.
  const rules = onlyColours ? { runOnly: ['color-contrast'] } : { rules: { 'target-size': { enabled: true } } };
  const checker = new AxeBuilder({ page })
    .setLegacyMode(true)
    .options({ resultTypes: ['violations'], preload: false, ...rules });
  const { violations } = await checker.analyze();
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`));
}
