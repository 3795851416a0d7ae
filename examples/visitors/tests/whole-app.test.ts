import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { build, type PreviewServer, preview } from 'vite';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';
import type { tested } from '../src/tested.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What a page under test has: Ekkon runs in it. */
type Page = Parameters<Parameters<typeof withPage>[1]>[0];
interface InPage {
  readonly tested: typeof tested;
}

describe.runIf(hasBrowserFor('The visitors’ desk'))('the visitors’ desk in a browser', () => {
  let server: PreviewServer | undefined;
  const at = (path: string) => `${(server?.resolvedUrls?.local[0] ?? '').replace(/\/$/, '')}${path}`;

  beforeAll(async () => {
    await build({ root, configFile: `${root}/vite.config.ts`, mode: 'test', logLevel: 'error' });
    server = await preview({
      root,
      configFile: `${root}/vite.config.ts`,
      mode: 'test',
      build: { outDir: 'dist-tested' },
      logLevel: 'error',
      preview: { port: 0, host: '127.0.0.1' },
    });
  }, 120_000);
  afterAll(() => server?.close());

  /** Opens the desk at a path, with what it asks of its server planned in the page. */
  async function open(page: Page, path: string): Promise<string[]> {
    const problems: string[] = [];
    page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
    page.on('pageerror', (error) => problems.push(String(error)));
    page.on('dialog', (dialog) => problems.push(`a dialog opened: ${dialog.message()}`));
    await page.goto(at('/tested.html'));
    await page.waitForFunction('globalThis.tested');
    await page.evaluate((shown) => {
      const { ekkon, requests, start } = (globalThis as never as InPage).tested;
      const { call, gives, openLedger, passesThrough, plan } = ekkon;
      const { networkRequests, request, responds } = requests;
      const ledger = openLedger({ name: 'the desk', rules: 'loose' });
      const network = ledger.follow(networkRequests(), 'network');
      ledger.takeOver(globalThis, 'fetch');
      const confirm = ledger.takeOver(window, 'confirm');
      plan(call(fetch), passesThrough());
      plan(call(confirm), gives(true));
      plan(request(fetch, 'GET', '/api/nights'), responds({ json: [{ id: 7, date: '4 March', star: 'Vey', places: 3 }] }));
      plan(request(fetch, 'GET', '/api/sky'), responds({ parts: () => ['data: 21.4\n\n'] }));
      plan(request(fetch, 'POST', '/api/nights/:id/bookings'), responds({ status: 201, json: { booking: 'V-71' }, delay: 5 }));
      history.replaceState(null, '', shown);
      Object.assign(globalThis, { ledger, network, confirm });
      start(document.getElementById('desk') as HTMLElement);
    }, path);
    return problems;
  }

  test('books a night: the dialog never opens, and the request has the right body', async () => {
    const told = await withPage({ width: 1280, height: 800 }, async (page) => {
      const problems = await open(page, '/');
      await page.click('text=4 March');
      await page.fill('input[type=number]', '4');
      await page.click('button:has-text("Book")');
      const first = await page.evaluate(async () => {
        const { ekkon, requests } = (globalThis as never as InPage).tested;
        const { call, check, fulfilled, inTurn, once, reach } = ekkon;
        const { confirm } = globalThis as never as { confirm: (said: string) => boolean };
        const booked = requests.request(fetch, 'POST', '/api/nights/:id/bookings', { params: { id: '7' }, json: { visitors: 4 } });
        await reach(once(fulfilled(booked)), { within: 5_000 });
        check(once(call(confirm, ['Book 4 places on night 7?'])), inTurn(call(confirm), booked));
        const wrong = requests.request(fetch, 'POST', '/api/nights/:id/bookings', { json: { visitors: 5 } });
        try {
          check(once(wrong));
        } catch (error) {
          return (error as Error).message.split('\n')[0];
        }
        return 'it holds';
      });
      await page.waitForSelector('text=Booked: V-71');
      return { problems, first, path: new URL(page.url()).pathname };
    });
    expect(told).toEqual({
      problems: [],
      first: expect.stringMatching(/^#\d+ globalThis\.fetch \(.*\): \.json\.visitors expected 5, received 4$/),
      path: '/nights/7',
    });
  });

  test('loads the star chart when it is asked for, and not before', async () => {
    const told = await withPage({ width: 1280, height: 800 }, async (page) => {
      const problems = await open(page, '/stars');
      await page.waitForSelector('button:has-text("Show the chart")');
      const requested = await page.evaluate(async () => {
        const { check, item, never, once, partial, reach, textLike } = (globalThis as never as InPage).tested.ekkon;
        const { network } = globalThis as never as { network: Parameters<typeof item>[0] };
        const chart = item(network, partial({ url: textLike(/star-chart-.*\.js$/) }) as never);
        check(never(chart));
        const shown = reach(once(chart), { within: 5_000 });
        [...document.querySelectorAll('button')].find(({ textContent }) => textContent === 'Show the chart')?.click();
        await shown;
        return true;
      });
      await page.waitForSelector('svg[role=img]');
      return { problems, requested };
    });
    expect(told).toEqual({ problems: [], requested: true });
  });

  test.each([
    ['/', 1280, 'light'],
    ['/nights/7', 390, 'light'],
    ['/stars', 390, 'dark'],
    ['/way', 1280, 'dark'],
  ] as const)('%s is usable at a width of %i, %s, with a keyboard and a screen reader', async (path, width, colorScheme) => {
    const told = await withPage({ width, height: 800 }, async (page) => {
      await page.emulateMedia({ colorScheme });
      const problems = await open(page, path);
      await page.waitForSelector('h1');
      await page.evaluate(axe);
      const found = await page.evaluate(async () => {
        const { violations } = await (globalThis as never as { axe: { run(): Promise<{ violations: { id: string }[] }> } }).axe.run();
        const isWide = document.documentElement.scrollWidth > document.documentElement.clientWidth;
        return { violations: violations.map(({ id }) => id), isWide };
      });
      await page.keyboard.press('Tab');
      return { problems, ...found, focused: await page.evaluate(() => document.activeElement?.textContent) };
    });
    expect(told).toEqual({ problems: [], violations: [], isWide: false, focused: 'Nights' });
  });
});
