import type { AddressInfo } from 'node:net';
import { connect, createServer } from 'node:net';
import dayjs from 'dayjs';
import express from 'express';
import fastify from 'fastify';
import knex from 'knex';
import { DateTime } from 'luxon';
import pino from 'pino';
import { Temporal } from 'temporal-polyfill';
import { beforeAll, expect, test } from 'vitest';
import { WebSocket, WebSocketServer } from 'ws';
import { recording, type Standing } from '../../packages/ekkon/tests/standing.ts';

/** What a package makes, and what is to be told of it. */
interface Client {
  readonly value: object;
  /** One made in the same way, and how a claim of it stands. */
  readonly same: readonly [object, Standing];
  readonly different: object;
  readonly part?: object;
  readonly otherPart?: object;
  /** What the first line of a failed claim of the different one says. */
  readonly says: RegExp;
}

const clients: Record<string, Client> = {};
const names = [
  'a request of express',
  'a request of fastify',
  'a query builder of knex',
  'a logger of pino',
  'a socket',
  'a web socket of ws',
  'a time of dayjs',
  'a time of luxon',
  'a date that keeps its state elsewhere',
];

beforeAll(async () => {
  const requests = await requestsOf();
  const [first, second] = requests.express as [object, object];
  clients['a request of express'] = {
    value: first,
    same: [second, 'fails'],
    different: { method: 'GET' },
    part: { method: 'GET', url: '/frames/7' },
    otherPart: { method: 'POST' },
    says: /^#1 store \(.*\): \[0\] expected \{ method: "GET" \}, received ‹IncomingMessage›$/,
  };
  const [one, other] = requests.fastify as [object, object];
  clients['a request of fastify'] = {
    value: one,
    same: [other, 'fails'],
    different: other,
    part: { params: { id: '7' } },
    otherPart: { params: { id: '8' } },
    says: /\[0\]\.id expected "req-2", received "req-1"/,
  };
  const query = knex({ client: 'pg' });
  const frames = (seconds: number) => query('frames').where('seconds', '>', seconds);
  clients['a query builder of knex'] = {
    value: frames(30),
    same: [frames(30), 'holds'],
    different: frames(31),
    part: { _method: 'select' },
    otherPart: { _method: 'insert' },
    says: /\[0\]\._statements\[0\]\.value expected 31, received 30/,
  };
  const logger = pino({ name: 'dome', enabled: false });
  clients['a logger of pino'] = {
    value: logger,
    same: [logger.child({}), 'fails'],
    different: pino({ name: 'mount', enabled: false }),
    says: /^#1 store \(.*\): \[0\]/,
  };
  const listening = createServer(() => {}).listen(0);
  const { port } = listening.address() as AddressInfo;
  const [socket, another] = [connect(port), connect(port)];
  clients['a socket'] = {
    value: socket,
    same: [another, 'fails'],
    different: another,
    part: { connecting: true },
    otherPart: { connecting: false },
    says: /\[0\] expected ‹Socket›, received ‹Socket›, another one$/,
  };
  const server = new WebSocketServer({ port: 0 });
  const address = `ws://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const [web, further] = [new WebSocket(address), new WebSocket(address)];
  for (const each of [web, further]) each.on('error', () => {});
  clients['a web socket of ws'] = { value: web, same: [further, 'fails'], different: further, says: /^#1 store \(.*\): \[0\]/ };
  clients['a time of dayjs'] = {
    value: dayjs('2031-04-05T06:07:08Z'),
    same: [dayjs('2031-04-05T06:07:08Z'), 'holds'],
    different: dayjs('2031-04-05T06:07:09Z'),
    part: { $s: 8 },
    otherPart: { $s: 9 },
    says: /\[0\]\.\$d expected new Date\("2031-04-05T06:07:09.000Z"\), received new Date\("2031-04-05T06:07:08.000Z"\)/,
  };
  clients['a time of luxon'] = {
    value: DateTime.fromISO('2031-04-05T06:07:08Z', { zone: 'utc' }),
    same: [DateTime.fromISO('2031-04-05T06:07:08Z', { zone: 'utc' }), 'holds'],
    different: DateTime.fromISO('2031-04-05T06:07:09Z', { zone: 'utc' }),
    part: { isLuxonDateTime: true },
    otherPart: { isLuxonDateTime: false },
    says: /\[0\]\.ts expected/,
  };
  clients['a date that keeps its state elsewhere'] = {
    value: Temporal.PlainDate.from('2031-04-05'),
    same: [Temporal.PlainDate.from('2031-04-05'), 'undecided'],
    different: Temporal.PlainDate.from('2031-04-06'),
    says: /\[0\] PlainDate hides its state; to look into it: openLedger\(\{ reveals: \[reveal\(PlainDate, /,
  };
  return () => {
    for (const each of [socket, another, web, further]) 'destroy' in each ? each.destroy() : each.terminate();
    listening.close();
    server.close();
  };
});

test.each(names)('%s is recorded, claimed exactly and partly, and told from another', (name) => {
  const { value, same, different, part, otherPart, says } = clients[name] as Client;
  const recorded = recording(value);
  expect(recorded.is(value)).toBe('holds');
  expect(recorded.isNot(value)).toBe('fails');
  expect(recorded.is(same[0])).toBe(same[1]);
  expect(recorded.is(different)).not.toBe('holds');
  if (part !== undefined) expect(recorded.has(part)).toBe('holds');
  if (otherPart !== undefined) expect(recorded.has(otherPart)).toBe('fails');
  expect(recorded.firstLine(different)).toMatch(says);
});

/** Two requests that each of two servers got. */
async function requestsOf(): Promise<{ express: object[]; fastify: object[] }> {
  const got = { express: [] as object[], fastify: [] as object[] };
  const app = express();
  app.get('/frames/:id', (request, response) => {
    got.express.push(request);
    response.end();
  });
  const listening = app.listen(0);
  await new Promise((listens) => listening.once('listening', listens));
  const other = fastify();
  other.get('/frames/:id', async (request) => {
    got.fastify.push(request);
    return {};
  });
  const base = await other.listen({ port: 0 });
  const port = (listening.address() as AddressInfo).port;
  for (const from of [`http://127.0.0.1:${port}`, base]) {
    await fetch(`${from}/frames/7`);
    await fetch(`${from}/frames/7`);
  }
  await new Promise((closed) => listening.close(closed));
  await other.close();
  return got;
}
