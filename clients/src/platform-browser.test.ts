import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../scripts/browser.mjs';

const pairs = fileURLToPath(new URL('platform-pairs.ts', import.meta.url));
const library = fileURLToPath(new URL('../../packages/ekkon/src/index.ts', import.meta.url));

test.runIf(hasBrowserFor('objects of the platform in a browser'))('objects of the platform are told apart in a browser', async () => {
  const { outputFiles } = await build({
    entryPoints: [pairs],
    alias: { ekkon: library },
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'pairs',
  });
  const script = outputFiles[0]?.text ?? '';
  const server = createServer(({ url }, response) => {
    response.setHeader('content-type', url === '/pairs.js' ? 'text/javascript' : 'text/html');
    response.end(url === '/pairs.js' ? script : '<script src="/pairs.js"></script>');
  }).listen(0);
  try {
    const wrong = await withPage({ width: 400, height: 300 }, async (page) => {
      await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
      return page.evaluate('[...pairs.wrongOf(globalThis), ...pairs.eventsTakenForEqual(globalThis)]');
    });
    expect(wrong).toEqual([]);
  } finally {
    server.close();
  }
});
