import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { faults, rainFaults } from 'observatory';
import type { Page } from 'playwright-core';
import { build, type PreviewServer, preview } from 'vite';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

describe.runIf(hasBrowserFor('what-if'))('what if', () => {
  const configFile = fileURLToPath(new URL('../vite.config.ts', import.meta.url));
  let server: PreviewServer;

  beforeAll(async () => {
    await build({ configFile, logLevel: 'error' });
    server = await preview({ configFile, logLevel: 'error', preview: { port: 0, host: '127.0.0.1' } });
  });
  afterAll(() => server?.close());

  /** Opens the page, and gives back what `use` gives; nothing may have gone wrong in it. */
  async function opened<T>(use: (page: Page) => Promise<T>, width = 1280): Promise<T> {
    return await withPage({ width, height: 800 }, async (page) => {
      const problems: string[] = [];
      page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
      page.on('pageerror', (error) => problems.push(String(error)));
      await page.goto(server.resolvedUrls?.local[0] ?? '');
      await page.waitForSelector('.heading');
      const given = await use(page);
      expect(problems).toEqual([]);
      return given;
    });
  }

  /** Switches a fault on or off, and gives the heading of the run that follows at once. */
  async function run(page: Page, name: string, isOn = true): Promise<string> {
    await page.setChecked(`[name="${name}"]`, isOn);
    await page.waitForSelector('button[type=submit]:not([disabled])');
    return await page.innerText('.heading >> nth=0');
  }

  test('every fault of either night is found, alone and two at a time', async () => {
    await opened(async (page) => {
      expect(await page.innerText('.heading')).toBe('all 15 claims hold');
      for (const { name } of faults) {
        expect(await run(page, name), name).toMatch(/^\d+ of 15 claims do(es)? not hold$/);
        await run(page, name, false);
      }
      await run(page, 'opens-twice');
      expect(await run(page, 'cries-wolf')).toBe('3 of 15 claims do not hold');
      expect(page.url()).toContain('#night=a+dry+night&faults=opens-twice,cries-wolf');
      await page.reload();
      await page.waitForSelector('text=3 of 15 claims do not hold');
      expect([await page.isChecked('[name="cries-wolf"]'), await page.isChecked('[name="stops-early"]')]).toEqual([true, false]);
      await page.click('text=a rainy night');
      await page.waitForSelector('text=all 3 claims hold');
      for (const { name } of rainFaults) {
        expect(await run(page, name), name).toMatch(/^\d of 3 claims do(es)? not hold$/);
        await run(page, name, false);
      }
    });
  });

  test('claims that were changed are kept for the next run of the night', async () => {
    await opened(async (page) => {
      await page.click('#tab-claims');
      await page.fill('#claims', 'times 2 dome.open');
      await page.waitForSelector('text=the claim does not hold');
      expect(await run(page, 'opens-twice')).toBe('the claim holds');
    });
  });

  test.each([1280, 390])('is accessible at %d pixels', async (width) => {
    await opened(async (page) => {
      await page.evaluate(axe);
      const found = await page.evaluate(async () => {
        const { axe: checker } = globalThis as unknown as { axe: { run(): Promise<{ violations: { id: string }[] }> } };
        return (await checker.run()).violations.map(({ id }) => id);
      });
      expect(found).toEqual([]);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
    }, width);
  });
});
