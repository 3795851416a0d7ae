import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { Worker as Thread } from 'node:worker_threads';
import { expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';

const built = fileURLToPath(new URL('../dist', import.meta.url));

/** A test in a few lines, for a place that has nothing but the library; it tells what it saw through `tell`. */
const short = (library: string, tell: string) => `
  import(${JSON.stringify(library)}).then(async (ekkon) => {
    const { call, check, fulfils, once, openLedger, partial, plan, reach } = ekkon;
    const ledger = openLedger({ name: 'elsewhere' });
    const { dome } = ledger.standIns();
    plan(call(dome.open), fulfils('open'));
    const waited = reach(once(call(dome.close, [partial({ type: 'calm' })])), { within: 1000 });
    const opened = await dome.open(new URL('http://archive.example/'));
    dome.close(new Event('calm'));
    await waited;
    check(once(call(dome.open, [new URL('http://archive.example/')])));
    let said = '';
    try { check(once(call(dome.open, [7]))); } catch (error) { said = error.message.split('\\n')[0]; }
    ledger.close();
    ${tell}([opened, said]);
  }, (error) => ${tell}([String(error)]));
`;

const expected = [
  'open',
  expect.stringMatching(
    /^once dome\.open\(7\): no call fits; nearest is #1 dome\.open.*: \[0\] claimed 7, recorded new URL\("http:\/\/archive\.example\/"\)$/,
  ),
];

test('runs in a thread of Node', async () => {
  const code = short(pathToFileURL(`${built}/index.js`).href, 'require("node:worker_threads").parentPort.postMessage');
  const worker = new Thread(code, { eval: true });
  expect(await new Promise((tells) => worker.once('message', tells))).toEqual(expected);
  await worker.terminate();
});

test.runIf(hasBrowserFor('a worker of the web'))('runs in a worker of the web', async () => {
  const server = createServer(({ url = '' }, response) => {
    const isScript = url.endsWith('.js');
    response.setHeader('content-type', isScript ? 'text/javascript' : 'text/html');
    response.end(url === '/worker.js' ? short('/index.js', 'postMessage') : isScript ? readFileSync(`${built}${url}`) : '');
  }).listen(0);
  const told = await withPage({ width: 400, height: 300 }, async (page) => {
    await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    return page.evaluate(
      () =>
        new Promise((tells) => {
          const worker = new Worker('/worker.js', { type: 'module' });
          worker.onmessage = ({ data }) => tells(data);
          worker.onerror = ({ message }) => tells([message]);
        }),
    );
  });
  server.close();
  expect(told).toEqual(expected);
});
