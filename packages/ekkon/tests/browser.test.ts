import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import type * as Ekkon from 'ekkon';
import { expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';

const built = fileURLToPath(new URL('../dist', import.meta.url));

test.runIf(hasBrowserFor('Ekkon in a browser'))('waits and follows what a browser has', async () => {
  const server = createServer(({ url = '' }, response) => {
    const isScript = url.endsWith('.js');
    response.setHeader('content-type', isScript ? 'text/javascript' : 'text/html');
    response.end(
      isScript ? readFileSync(`${built}${url}`) : '<script type="module">import * as ekkon from "/index.js"; globalThis.ekkon = ekkon</script>',
    );
  }).listen(0);
  const told = await withPage({ width: 400, height: 300 }, async (page) => {
    await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    await page.waitForFunction('globalThis.ekkon');
    return page.evaluate(async () => {
      const { call, check, completed, exactItems, item, once, openLedger, reach, times } = (globalThis as never as { ekkon: typeof Ekkon }).ekkon;
      const ledger = openLedger({ name: 'in a browser' });
      const { dome } = ledger.standIns<{ dome: { open(): void } }>();
      const target = new EventTarget() as EventTarget & { when?(event: string): AsyncIterable<Event> };
      const clicks = ledger.follow(target, 'clicks', { event: 'click' });
      // Observables of the platform end with a signal, where there are such.
      const watched = target.when === undefined ? clicks : ledger.follow(target.when('click'), 'watched');
      const [numbers] = new ReadableStream<number>({ start: (send) => [send.enqueue(1), send.close()] as never }).tee();
      const counted = ledger.follow(numbers, 'counted');
      target.dispatchEvent(new Event('click'));
      await reach(once(completed(counted)));
      check(exactItems(counted, [1]), times(1, item(clicks)), times(1, item(watched)));
      const waited = await reach(once(call(dome.open)), { within: 5 }).catch((error: Error) => error.message.split('\n')[0]);
      const before = ledger.entries().length;
      ledger.close();
      target.dispatchEvent(new Event('click'));
      return [waited, ledger.entries().length - before];
    });
  });
  server.close();
  expect(told).toEqual([expect.stringMatching(/^once dome\.open: dome\.open was never called.*timed out after \d+ ms$/), 0]);
});
