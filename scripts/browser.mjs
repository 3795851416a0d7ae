// The browser that pages are tested and pictured in: Debian's chromium, or the one CHROMIUM names.
import { existsSync } from 'node:fs';
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

/** The browser that is running, if one is, how many pages are open in it, and what will close it. */
const running = { browser: undefined, pages: 0, closing: undefined };

/** How long the browser is kept for the next page: tests open one after the other, and it starts slowly. */
const keptFor = 500;

/** Opens a page at a size, with storage of its own, gives it to `use`, and closes it whatever happens. */
export async function withPage(size, use) {
  clearTimeout(running.closing);
  running.pages++;
  running.browser ??= chromium.launch({
    executablePath: browserPath,
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
    const context = await (await running.browser).newContext({ viewport: size });
    try {
      return await use(await context.newPage());
    } finally {
      await context.close();
    }
  } finally {
    if (--running.pages === 0) running.closing = setTimeout(closeBrowser, keptFor);
  }
}

async function closeBrowser() {
  const { browser } = running;
  running.browser = undefined;
  await (await browser)?.close();
}
