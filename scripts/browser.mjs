// The browser that pages are tested and pictured in: Debian's chromium, or the one CHROMIUM names.
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';

/** Where the browser is; `undefined` where none is installed. */
export const browserPath = [
  process.env.CHROMIUM,
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
].find((path) => path !== undefined && existsSync(path));

/**
 * Whether there is a browser for some tests. If there is none, it says which tests are skipped; under CI that is an
 * error.
 */
export function hasBrowserFor(what) {
  if (browserPath !== undefined) return true;
  const said = 'no browser is installed (apt-get install chromium)';
  if (process.env.CI === 'true') throw new Error(`${said}, and CI needs one for ${what}`);
  console.warn(`skipped: ${what}, since ${said}`);
  return false;
}

/** Opens a page at a size, gives it to `use`, and closes the browser whatever happens. */
export async function withPage(size, use) {
  const profile = mkdtempSync(join(tmpdir(), 'ekkon-browser-'));
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: browserPath,
    headless: true,
    viewport: size,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
  try {
    return await use(await context.newPage());
  } finally {
    await context.close();
    rmSync(profile, { recursive: true, force: true });
  }
}
