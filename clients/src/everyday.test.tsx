// @vitest-environment jsdom
import { PGlite } from '@electric-sql/pglite';
import { Cron } from 'croner';
import {
  about,
  anything,
  call,
  check,
  computes,
  deferred,
  fulfils,
  gives,
  inFlight,
  inTurn,
  item,
  never,
  once,
  plan,
  reach,
  rejects,
  returned,
  times,
} from 'ekkon';
import { test } from 'ekkon/vitest';
import express from 'express';
import fastify from 'fastify';
import { Kysely, PostgresDialect } from 'kysely';
import PQueue from 'p-queue';
import pino from 'pino';
import { act, createElement } from 'react';
import { createRoot } from 'react-dom/client';
import { createMemoryRouter, RouterProvider, useLoaderData } from 'react-router';
import { interval, map, retry, take } from 'rxjs';
import { describe, expect } from 'vitest';
import { createStore } from 'zustand/vanilla';

/** Code under test as it is written every day: each piece uses a real package, and calls what a test stands in for. */
type Frame = { readonly id: string; readonly seconds: number };
type Archive = { find(id: string): Promise<Frame | undefined>; store(frame: Frame): Promise<void> };

describe('servers', () => {
  test('a route of express asks the archive, and tells a failure', async ({ ledger }) => {
    const { archive } = ledger.standIns<{ archive: Archive }>();
    const app = express();
    app.get('/frames/:id', async (request, response) => {
      try {
        response.json(await archive.find(request.params.id));
      } catch (error) {
        response.status(503).send((error as Error).message);
      }
    });
    plan(call(archive.find, ['7']), fulfils({ id: '7', seconds: 30 }));
    plan(call(archive.find, ['8']), rejects(new Error('the archive is closed')));
    const server = app.listen(0);
    const url = `http://127.0.0.1:${(server.address() as { readonly port: number }).port}/frames/`;
    const [found, failed] = await Promise.all([fetch(`${url}7`), fetch(`${url}8`)]);
    server.close();
    expect([await found.json(), failed.status, await failed.text()]).toEqual([{ id: '7', seconds: 30 }, 503, 'the archive is closed']);
    check(once(call(archive.find, ['7'])), once(call(archive.find, ['8'])));
  });

  test('a hook of fastify runs before the handler', async ({ ledger }) => {
    const { archive } = ledger.standIns<{ archive: Archive }>();
    const guard = ledger.callable<(url: string) => void>('guard');
    const app = fastify();
    app.addHook('onRequest', async (request) => guard(request.url));
    app.post<{ Body: Frame }>('/frames', async (request) => {
      await archive.store(request.body);
      return { ok: true };
    });
    plan(call(archive.store), fulfils(undefined));
    await app.inject({ method: 'POST', url: '/frames', payload: { id: '9', seconds: 4 } });
    await app.close();
    check(inTurn(call(guard, ['/frames']), call(archive.store, [{ id: '9', seconds: 4 }])));
  });
});

test('a query builder, with a database in this process', async ({ ledger }) => {
  const database = await PGlite.create();
  type Tables = { readonly frames: Frame };
  const client = { query: (text: string, values: unknown[]) => database.query(text, values), release() {} };
  const pool = { connect: async () => client, end: async () => {} };
  ledger.observe(client, 'query', { name: 'database' });
  const builder = new Kysely<Tables>({ dialect: new PostgresDialect({ pool: pool as never }) });
  await database.exec('create table frames (id text, seconds int)');
  await builder.insertInto('frames').values({ id: 'a', seconds: 30 }).execute();
  expect(await builder.selectFrom('frames').selectAll().where('seconds', '>', 10).execute()).toEqual([{ id: 'a', seconds: 30 }]);
  check(inTurn(call(client.query, ['insert into "frames" ("id", "seconds") values ($1, $2)', ['a', 30]]), call(client.query, [anything, [10]])));
  await database.close();
});

test('a router and a component in a DOM', async ({ ledger }) => {
  (globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;
  const { archive } = ledger.standIns<{ archive: Archive }>();
  plan(
    call(archive.find),
    computes(async (id) => ({ id, seconds: 12 })),
  );
  const Page = () => createElement('p', { onClick: () => void archive.store(useless) }, `${(useLoaderData() as Frame).seconds} s`);
  const useless: Frame = { id: 'x', seconds: 0 };
  const router = createMemoryRouter([{ path: '/frames/:id', loader: ({ params }) => archive.find(params['id'] ?? ''), Component: Page }], {
    initialEntries: ['/frames/a'],
  });
  const root = document.body.appendChild(document.createElement('div'));
  plan(call(archive.store), fulfils(undefined));
  const reactRoot = createRoot(root);
  await act(async () => reactRoot.render(createElement(RouterProvider, { router })));
  await act(async () => router.navigate('/frames/b'));
  expect(root.textContent).toBe('12 s');
  await act(async () => root.querySelector('p')?.click());
  await act(async () => reactRoot.unmount());
  check(inTurn(call(archive.find, ['a']), call(archive.find, ['b']), call(archive.store, [useless])));
});

test('a logger writes lines', ({ ledger }) => {
  const stream = ledger.standIn<{ write(line: string): void }>('stream', undefined, { members: ['write'] });
  const logger = pino({ base: null, timestamp: false }, stream);
  logger.child({ device: 'dome' }).info({ angle: 4 }, 'turned');
  check(once(call(stream.write, ['{"level":30,"device":"dome","angle":4,"msg":"turned"}\n'])));
});

test('a queue runs two at a time', async ({ ledger }) => {
  const { archive } = ledger.standIns<{ archive: Archive }>();
  const stored = [deferred(), deferred(), deferred()] as const;
  plan(call(archive.store), ...stored);
  const queue = new PQueue({ concurrency: 2 });
  for (const id of ['a', 'b', 'c']) void queue.add(() => archive.store({ id, seconds: 1 }));
  await reach(times('2..*', call(archive.store)));
  for (const each of stored) each.fulfil();
  await queue.onIdle();
  check(inFlight(2, call(archive.store)), times(3, call(archive.store)));
});

test('a scheduler calls when it is time', async ({ ledger }) => {
  const tick = ledger.callable<() => void>('tick');
  const job = new Cron('* * * * * *', { maxRuns: 1 }, () => tick());
  await reach(once(call(tick)), { within: 2_500 });
  job.stop();
});

test('a store of state tells its listeners', ({ ledger }) => {
  const listener = ledger.callable<(now: { open: boolean }, before: { open: boolean }) => void>('listener');
  const store = createStore<{ open: boolean }>(() => ({ open: false }));
  store.subscribe(listener);
  store.setState({ open: true });
  store.setState((state) => state);
  check(once(call(listener, [{ open: true }, { open: false }])));
});

test('an observable is followed, and asks again after a failure', async ({ ledger }) => {
  const { sensor } = ledger.standIns<{ sensor: { read(): number } }>();
  plan(
    call(sensor.read),
    computes(() => {
      throw new Error('no star');
    }),
    gives(0.4),
  );
  const drift = interval(1).pipe(
    map(() => sensor.read()),
    retry(2),
    take(1),
  );
  const followed = ledger.follow<number>(drift, 'drift');
  await reach(once(item(followed, about(0.4))));
  check(times(2, call(sensor.read)), once(returned(call(sensor.read), 0.4)), never(item(followed, 0)));
});
