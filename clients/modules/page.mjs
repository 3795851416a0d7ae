// Runs the suite in a page: served by Vite, or built in a mode. Prints the results as JSON.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, createServer, preview } from 'vite';
import { withPage } from '../../scripts/browser.mjs';

const [, , way, mode] = process.argv;
const configFile = join(import.meta.dirname, 'vite.config.js');
const folder = mkdtempSync(join(tmpdir(), 'ekkon-modules-'));
const common = {
  configFile,
  mode,
  cacheDir: join(folder, 'cache'),
  build: { outDir: join(folder, 'out') },
};

async function start() {
  if (way === 'served') {
    const server = await createServer({ ...common, server: { port: 0 } });
    return server.listen();
  }
  await build(common);
  return preview({ ...common, preview: { port: 0 } });
}

const server = await start();
const results = await withPage({ width: 800, height: 600 }, async (page) => {
  page.on('pageerror', (error) => console.error(error.message));
  await page.goto(server.resolvedUrls.local[0]);
  await page.waitForFunction(() => globalThis.results, null, { timeout: 30_000 });
  return page.evaluate(() => globalThis.results);
});
await server.close();
rmSync(folder, { recursive: true, force: true });
console.log(`RESULTS ${JSON.stringify(results)}`);
process.exit();
