import { DeleteMessageCommand, ReceiveMessageCommand, SQSClient } from '@aws-sdk/client-sqs';
import { PGlite } from '@electric-sql/pglite';
import {
  anything,
  call,
  check,
  during,
  fulfils,
  gives,
  inFlight,
  inTurn,
  jsonText,
  type Ledger,
  leadsTo,
  never,
  once,
  onlyAfter,
  partial,
  plan,
  returned,
  suchThat,
  times,
} from 'ekkon';
import { request, responds } from 'ekkon/requests';
import { test } from 'ekkon/vitest';
import type { Logger } from 'pino';
import { describe, expect } from 'vitest';
import type { WebSocket } from 'ws';
import { changedSince, descriptorsOf } from '../domains/descriptors.ts';
import { Worker } from '../domains/worker.ts';

const queue = 'https://queue.example/night';
const insert = 'insert into frames values ($1, $2)';
// The client is generic in its commands, and none of them is of the type that stands for all.
const receiving = suchThat((command: unknown) => command instanceof ReceiveMessageCommand, 'receives');
const deleting = (handle: string) =>
  suchThat((command: unknown) => command instanceof DeleteMessageCommand && command.input.ReceiptHandle === handle, `deletes ${handle}`);

const database = await PGlite.create();

/** A worker with its cloud, its network, its listener and its logger stood in for, and a database that is real. */
async function station(ledger: Ledger, ...bodies: readonly object[]) {
  await database.exec('drop table if exists frames; create table frames (id text primary key, size int)');
  ledger.observe(database, 'query', { name: 'database' });
  ledger.takeOver(SQSClient.prototype, 'send', { name: 'cloud' });
  ledger.takeOver(globalThis, 'fetch');
  const listener = ledger.standIn<Pick<WebSocket, 'send'>>('listener');
  const { logger, log } = ledger.standIns<{ logger: Logger; log: Logger }>();
  plan(call(logger.child), gives(log));
  plan(call(SQSClient.prototype.send), fulfils({ $metadata: {} }));
  plan(
    call(SQSClient.prototype.send, [receiving]),
    fulfils({ $metadata: {}, Messages: bodies.map((body, at) => ({ MessageId: `m${at}`, ReceiptHandle: `r${at}`, Body: JSON.stringify(body) })) }),
  );
  return { listener, log, worker: new Worker(queue, database, listener, logger) };
}

const job = (at: number) => ({ id: `frame-${at}`, url: `https://frames.example/${at}` });
const frames = (at: string) => request(fetch, 'GET', `https://frames.example/${at}`);

describe('a worker on a queue', () => {
  test('fetches, keeps, tells and forgets each job, in this order, two at a time', async ({ ledger }) => {
    const { listener, worker } = await station(ledger, job(0), job(1), job(2));
    plan(frames(':at'), responds({ json: { size: 7 } }));
    await worker.poll();
    for (const at of [0, 1, 2])
      check(
        inTurn(
          frames(String(at)),
          call(database.query, [insert, [`frame-${at}`, 7]]),
          call(listener.send, [jsonText({ stored: `frame-${at}`, size: 7 })]),
          call(SQSClient.prototype.send, [deleting(`r${at}`)]),
        ),
      );
    check(inFlight('1..2', call(database.query)), times(3, returned(call(listener.send))), once(call(SQSClient.prototype.send, [receiving])));
    expect((await database.query('select count(*)::int as stored from frames')).rows).toEqual([{ stored: 3 }]);
  });

  test('asks again for a frame that is busy, and keeps it once', async ({ ledger }) => {
    const { worker } = await station(ledger, job(0));
    plan(frames('0'), responds({ status: 503 }), responds({ status: 503 }), responds({ json: { size: 7 } }));
    await worker.poll();
    check(times(3, frames('0')), once(call(database.query, [insert, anything])));
    check(during({ until: call(database.query) }, times(3, frames('0'))), onlyAfter(call(database.query), frames('0')));
  });

  test('leaves a job alone that it cannot read, and says so', async ({ ledger }) => {
    const { log, worker } = await station(ledger, { id: 'dome', url: 'no' });
    await worker.poll();
    check(
      once(call(log.warn, [{ id: 'm0', issues: 2 }, 'this is not a job'])),
      never(call(database.query)),
      never(call(SQSClient.prototype.send, [deleting('r0')])),
    );
  });

  test('keeps a job whose frame never comes', async ({ ledger }) => {
    const { listener, worker } = await station(ledger, job(0));
    plan(frames('0'), responds({ status: 500 }));
    await expect(worker.poll()).rejects.toThrow('https://frames.example/0 answers 500');
    check(times(3, frames('0')), never(call(listener.send)), never(call(SQSClient.prototype.send, [deleting('r0')])));
  });

  test('polls when its time comes', async ({ ledger }) => {
    const { worker } = await station(ledger);
    ledger.observe(worker, 'poll', { name: 'worker' });
    const night = worker.everyNight();
    await night.trigger();
    night.stop();
    check(once(call(worker.poll)), leadsTo(call(worker.poll), call(SQSClient.prototype.send, [partial({ input: partial({ QueueUrl: queue }) })])));
  });

  test('and all is as it was afterwards', async ({ ledger }) => {
    const before = descriptorsOf(SQSClient.prototype, globalThis, PGlite.prototype);
    await (await station(ledger)).worker.poll();
    check(once(call(SQSClient.prototype.send)));
    ledger.close();
    expect(changedSince(before)).toEqual([]);
  });
});
