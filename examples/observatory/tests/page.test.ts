import { fileURLToPath } from 'node:url';
import { build, type PreviewServer, preview } from 'vite';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';

describe.runIf(hasBrowserFor('the page of the observatory'))('the page', () => {
  const root = fileURLToPath(new URL('../page', import.meta.url));
  const configFile = fileURLToPath(new URL('../page/vite.config.ts', import.meta.url));
  let server: PreviewServer;

  beforeAll(async () => {
    await build({ root, configFile, logLevel: 'error' });
    server = await preview({
      root,
      configFile,
      logLevel: 'error',
      preview: { port: 0, host: '127.0.0.1' },
    });
  });
  afterAll(() => server?.close());

  test.each([
    ['', /^all 15 claims hold/],
    ['opens-twice', /^2 of 15 claims fail for one cause: one of #3, #4 dome\.open/],
  ])('runs a night with the mistake "%s" and shows what happened', async (fault, report) => {
    const shown = await withPage({ width: 1280, height: 800 }, async (page) => {
      const problems: string[] = [];
      page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
      page.on('pageerror', (error) => problems.push(String(error)));
      await page.goto(server.resolvedUrls?.local[0] ?? '');
      await page.selectOption('#fault', fault);
      await page.click('button');
      await page.waitForSelector('#report');
      return {
        problems,
        report: await page.textContent('#report'),
        rows: await page.locator('tbody tr').count(),
      };
    });
    expect(shown.problems).toEqual([]);
    expect(shown.report).toMatch(report);
    expect(shown.rows).toBe(fault === '' ? 15 : 16);
  });
});
