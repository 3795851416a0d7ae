import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { Worker as Thread } from 'node:worker_threads';
import { expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';
import { expected, short } from './short-suite.ts';

const built = fileURLToPath(new URL('../dist', import.meta.url));

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
    response.end(url === '/worker.js' ? short('/web/index.js', 'postMessage') : isScript ? readFileSync(`${built}${url}`) : '');
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

test.each([['--frozen-intrinsics'], ['--import', 'data:text/javascript,Object.freeze(Error)']])(
  'runs where the platform is frozen (%s)',
  (...flags) => {
    const code = short(pathToFileURL(`${built}/index.js`).href, '((told) => console.log(JSON.stringify(told)))');
    const { stdout } = spawnSync(process.execPath, [...flags, '-e', code], { encoding: 'utf8' });
    expect(JSON.parse(stdout)).toEqual(expected);
  },
);

test('a test that passes loads nothing that only failures need', () => {
  const code = `import(${JSON.stringify(pathToFileURL(`${built}/index.js`).href)}).then(({ call, check, inTurn, once, openLedger }) => {
    const ledger = openLedger();
    const { dome, mount } = ledger.standIns();
    dome.open({ to: 1 });
    mount.park();
    check(inTurn(call(dome.open, [{ to: 1 }]), call(mount.park)), once(call(mount.park)));
    ledger.close();
    const loaded = () => Object.keys(require.cache).filter((file) => file.includes('late-'));
    const before = loaded();
    try { openLedger().close(); check(once(call(dome.open, [5]))); } catch {}
    console.log(before.length, before.join(), loaded().length > 0);
  });`;
  const { stdout, stderr } = spawnSync(process.execPath, ['-e', code], { encoding: 'utf8' });
  expect([stdout, stderr]).toEqual(['0  true\n', '']);
});

test('what nobody catches is printed with a line of code, not with all of it', () => {
  const code = `const { call, check, once, openLedger } = require(${JSON.stringify(`${built}/index.js`)});
    check(once(call(openLedger().standIns().dome.open)));`;
  const { stderr } = spawnSync(process.execPath, ['-e', code], { encoding: 'utf8' });
  expect(stderr).toContain('ClaimError: dome.open was never called');
  expect(stderr.length).toBeLessThan(1500);
});
