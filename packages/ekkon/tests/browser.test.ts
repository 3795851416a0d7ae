import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import type * as Ekkon from 'ekkon';
import type * as Requests from 'ekkon/requests';
import { expect, test } from 'vitest';
import { hasBrowserFor, withPage } from '../../../scripts/browser.mjs';

const built = fileURLToPath(new URL('../dist', import.meta.url));

/** Runs something in a page that has the built library, as `ekkon` and `requests`. */
async function inPage<T>(run: () => Promise<T>): Promise<T> {
  const server = createServer(({ url = '' }, response) => {
    const isScript = url.endsWith('.js');
    response.setHeader('content-type', isScript ? 'text/javascript' : 'text/html');
    response.end(
      isScript
        ? readFileSync(`${built}${url}`)
        : '<script type="module">import * as ekkon from "/web/index.js"; import * as requests from "/web/requests.js"; Object.assign(globalThis, { ekkon, requests })</script>',
    );
  }).listen(0);
  try {
    return await withPage({ width: 400, height: 300 }, async (page) => {
      await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
      await page.waitForFunction('globalThis.requests');
      return await page.evaluate(run);
    });
  } finally {
    server.close();
  }
}

test.runIf(hasBrowserFor('Ekkon in a browser'))('waits and follows what a browser has', async () => {
  const told = await inPage(async () => {
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
  expect(told).toEqual([expect.stringMatching(/^dome\.open was never called.*timed out after \d+ ms$/), 0]);
});

test.runIf(hasBrowserFor('Requests in a browser'))('claims and answers the requests of a page, and hears the real ones', async () => {
  const told = await inPage(async () => {
    const { ekkon, requests } = globalThis as never as { ekkon: typeof Ekkon; requests: typeof Requests };
    const { call, check, item, never, once, openLedger, partial, passesThrough, plan, reach, textLike } = ekkon;
    const { networkRequests, request, responds } = requests;
    const ledger = openLedger({ name: 'a page', rules: 'loose' });
    const network = ledger.follow(networkRequests(), 'network');
    ledger.takeOver(globalThis, 'fetch');
    const stored = request(fetch, 'POST', '/frames/:id', { json: partial({ seconds: 30 }), params: { id: '7' } });
    plan(call(fetch), passesThrough());
    plan(stored, responds({ status: 201, json: { id: 7 } }));
    plan(request(fetch, 'GET', '/slow'), responds({ delay: 60_000 }));
    const answer = await fetch(new Request('/frames/7', { method: 'POST', body: '{"seconds":30}' }));
    const controller = new AbortController();
    const slow = fetch('/slow', { signal: controller.signal }).catch(({ name }: Error) => name);
    controller.abort();
    const real = await fetch('/really?of=night');
    await reach(once(item(network, partial({ url: textLike(/really\?of=night$/) }))), { within: 5_000 });
    check(once(stored), never(request(fetch, 'POST', '/frames/:id', { json: {} })), never(item(network, partial({ url: textLike(/frames/) }))));
    return [answer.status, await answer.json(), await slow, real.status];
  });
  expect(told).toEqual([201, { id: 7 }, 'AbortError', 200]);
});
