import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, deflateSync, gzipSync } from 'node:zlib';
import { parseClaims } from 'ekkon/claims';
import { loadLedger, saveLedger } from 'ekkon/file';
import { networkRequests, request, responds } from 'ekkon/requests';
import { standInServer } from 'ekkon/server';
import { afterAll, afterEach, describe, expect, test } from 'vitest';
import { failureOf } from '../../tests/failure.ts';
import { never, once, times } from '../claim/count.ts';
import { inTurn } from '../claim/order/steps.ts';
import { leadsTo } from '../claim/precedence.ts';
import type { Ledger } from '../ledger/ledger.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { partial } from '../match/partial.ts';
import { endsWith, startsWith } from '../match/texts.ts';
import { call } from '../pattern/call.ts';
import { fulfilled, rejected } from '../pattern/ends.ts';
import { item } from '../pattern/streams.ts';
import { plan } from '../plan/plan.ts';
import { computes, gives, passesThrough, rejects, stalls } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import { ClaimError } from '../report/claim-error.ts';
import { check } from '../wait/check.ts';
import { reach } from '../wait/reach.ts';

let ledger: Ledger;
const open = (rules: 'loose' | 'strict' = 'loose') => {
  ledger = openLedger({ rules });
  return ledger.callable<typeof fetch>('fetch');
};
afterEach(() => ledger?.close());

const folder = mkdtempSync(join(tmpdir(), 'ekkon-requests-'));
afterAll(() => rmSync(folder, { recursive: true }));

const message = (claim: Claim) => failureOf(claim)?.verdict.findings[0]?.message ?? 'it holds';

const archive = 'https://archive.example';

describe('a request', () => {
  const form = new FormData();
  form.append('title', 'first light');
  form.append('tag', 'a');
  form.append('tag', 'b');
  const json = { seconds: 30, at: { ra: 83.6 } };

  type Parts = Parameters<typeof request>[3];
  type Pattern = readonly [string, Parts?];
  /** Ways to make a request, a pattern that it does not fit, and those that it fits. */
  const ways: Readonly<Record<string, readonly [Parameters<typeof fetch>, Pattern, ...Pattern[]]>> = {
    'an address alone': [
      [`${archive}/frames/7?tag=a&tag=b&of=night`],
      ['POST /frames/:id'],
      ['GET /frames/:id', { params: { id: '7' } }],
      [`get ${archive}/frames/:id`, { query: { of: startsWith('n') } }],
      ['* /frames/*'],
      ['GET /frames/:id?tag=a&tag=b&of=*'],
    ],
    'a URL': [[new URL('/frames/7', archive)], ['GET /frames'], ['GET /frames/:id']],
    'an address of which a part may be missing': [[`${archive}/frames`], ['GET /frames/:id?of=night'], ['GET /frames/:id?'], ['GET /frames{/all}?']],
    'a query that is to be empty': [[`${archive}/frames/?of=night`], ['GET /frames/?'], ['GET /frames/']],
    'an address without a server': [['/frames'], [`GET ${archive}/frames`], ['GET /frames']],
    options: [
      [`${archive}/frames`, { method: 'post', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(json) }],
      ['POST /frames', { json: { seconds: 30 } }],
      ['POST /frames', { json, headers: { 'content-TYPE': endsWith('json') } }],
      ['POST /frames', { json: partial({ seconds: 30 }) }],
      ['POST /frames', { text: startsWith('{"seconds"') }],
    ],
    'pairs of headers, and bytes': [
      [`${archive}/frames`, { method: 'PUT', headers: [['X-Night', '7']], body: new TextEncoder().encode('first light') }],
      ['PUT /frames', { json: {} }],
      ['PUT /frames', { text: 'first light', headers: { 'x-night': '7' } }],
    ],
    'a form': [
      [`${archive}/frames`, { method: 'POST', body: form }],
      ['POST /frames', { form: { title: 'first light' } }],
      ['POST /frames', { form: { title: 'first light', tag: ['a', 'b'] } }],
    ],
    'parameters as a form': [
      [`${archive}/frames`, { method: 'POST', body: new URLSearchParams({ night: '7' }) }],
      ['POST /frames', { text: 'night=8' }],
      ['POST /frames', { form: { night: '7' } }],
    ],
    'a request': [
      [new Request(`${archive}/frames/7`, { method: 'DELETE', headers: new Headers({ accept: 'text/plain' }) })],
      ['DELETE /frames/:id', { headers: { accept: 'text/html' } }],
      ['DELETE /frames/:id', { headers: { Accept: 'text/plain' } }],
    ],
    'a request with a body': [
      [new Request(`${archive}/frames`, { method: 'POST', body: JSON.stringify(json) })],
      ['POST /frames', { json: partial({ seconds: 60 }) }],
      ['POST /frames', { json }],
    ],
    'a request with a form': [
      [new Request(`${archive}/frames`, { method: 'POST', body: form })],
      ['POST /frames', { text: 'first light' }],
      ['POST /frames', { form: partial({ title: 'first light' }) }],
    ],
    'a blob': [
      [`${archive}/frames`, { method: 'POST', body: new Blob(['first light']) }],
      ['POST /frames', { text: 'last light' }],
      ['POST /frames', { text: 'first light' }],
    ],
  };

  test.each(Object.entries(ways))('made as %s is known by its parts', async (_, [made, ...patterns]) => {
    const own = open();
    const claims = patterns.map(([address, parts = {}]) => request(own, ...(address.split(' ') as [string, string]), parts));
    plan(call(own), responds({ status: 204 }));
    await own(...made);
    const [surplus, ...fitting] = claims;
    for (const each of fitting) check(once(each));
    check(never(surplus as never));
    // What a report prints is read again as the same pattern, for this ledger and for its file.
    const written = [...fitting.map((each) => once(each)), never(surplus as never)].map(({ notation }) => notation);
    const file = join(folder, 'requests.jsonl');
    saveLedger(ledger, file);
    const loaded = loadLedger(file);
    for (const on of [ledger, loaded]) {
      const read = parseClaims(written.join('\n'), on);
      expect(read.map(({ notation }) => notation)).toEqual(written);
      check(read);
      expect(() => check(parseClaims(`never ${written[0]?.replace('once ', '')}`, on))).toThrow(ClaimError);
    }
  });

  test('that another claim wants whatever it holds is still the nearest one', async () => {
    const own = open();
    plan(call(own), responds({}));
    const confirm = ledger.callable<(said: string) => void>('confirm');
    await own(`${archive}/nights`);
    confirm('Book 2 places?');
    await own(`${archive}/nights/7/bookings`, { method: 'POST', body: '{"visitors":2}' });
    const booked = request(own, 'POST', '/nights/:id/bookings');
    const wrong = request(own, 'POST', '/nights/:id/bookings', { json: { visitors: 4 } });
    expect(() => check(leadsTo(call(confirm), booked), once(wrong))).toThrow(
      /^#3 fetch \(.*\): \.json\.visitors expected 4, received 2; 1 of 2 claims fails/,
    );
  });

  test('that is wrong in a part of which wider patterns say nothing is named', () => {
    const own = open();
    plan(call(own), responds({}));
    for (const token of ['t-1', 't-2']) void own(`${archive}/items?size=2`, { headers: { Authorization: token } });
    const asked = (headers: Record<string, string>) => request(own, 'GET', '/items', { query: { size: '2' }, headers });
    const wide = times(2, request(own, 'GET', '/items', { query: { size: '2' } }));
    const [one, other] = ['t-1', 't-2'].map((token) => once(asked({ authorization: `Bearer ${token}` })));
    expect(failureOf(wide, one as Claim, other as Claim)?.verdict.findings.map(({ message }) => message.replace(/ \(.*\)/, ''))).toEqual([
      '#1 fetch: .headers.authorization expected "Bearer t-1", received "t-1"',
      '#2 fetch: .headers.authorization expected "Bearer t-2", received "t-2"',
    ]);
    // A claim on the same header wants each as it is.
    const wants = ['t-1', 't-2'].map((token) => once(asked({ AUTHORIZATION: token })));
    expect(failureOf(...wants, one as Claim)?.verdict.findings[0]?.message).toMatch(/ was never called; the 2 calls of fetch have other arguments$/);
  });

  test('is no call without an address', () => {
    const own = open();
    plan(call(own), responds({}));
    void own(undefined as never);
    check(never(request(own, '*', '/*')));
    expect(() => check(once(request(own, 'GET', '/nights')))).toThrow(ClaimError);
  });

  test('in a text needs a method and an address, and a double of the name is told apart', () => {
    const own = open();
    const named = ledger.callable<(of: number) => void>('request');
    plan(call(own), responds({}));
    named(1);
    void own(`${archive}/frames/7`);
    check(
      parseClaims(
        'once request\nonce request(1)\nin turn request › request fetch("get", "/frames/:id")\nrequest fetch("GET", "/frames/*") only after request(1)',
        ledger,
      ),
    );
    const wrong: readonly (readonly [string, RegExp])[] = [
      ['once request fetch("GET")', /line 1, column 6: a request has a method and an address/],
      ['once request fetch("G T", "/")', /takes a method, 'GET' or '\*' for any/],
      ['once request fetch("GET", "")', /takes a path or an address/],
      ['once request fetch("GET", "/", { jsn: 1 })', /jsn/],
      ['once request ftch("GET", "/")', /did you mean fetch\?/],
    ];
    for (const [text, said] of wrong) expect(() => parseClaims(text, ledger)).toThrow(said);
  });

  const differing: readonly (readonly [Parameters<typeof request>[3], string, string, string])[] = [
    [{}, 'PUT', '/frames/:id', 'method expected "PUT", received "POST"'],
    [{}, 'POST', '/nights/:id', 'path expected "/nights/:id", received "/frames/7"'],
    [{ query: { tag: 'b' } }, 'POST', '/frames/:id', 'query.tag expected "b", received "a"'],
    [{ query: { of: 'night' } }, 'POST', '/frames/:id', 'query.of expected "night", received nothing'],
    [{ headers: { Accept: 'text/html' } }, 'POST', '/frames/:id', 'headers.Accept expected "text/html", received "text/plain"'],
    [{ params: { id: '8' } }, 'POST', '/frames/:id', 'params.id expected "8", received "7"'],
    [{ json: { seconds: 60 } }, 'POST', '/frames/:id', 'json.seconds expected 60, received 30'],
  ];

  test.each(differing)('that differs in one part says in which: %j %s %s', async (parts, method, url, said) => {
    const own = open();
    plan(call(own), responds({}));
    await own(`${archive}/frames/7?tag=a`, { method: 'POST', headers: { accept: 'text/plain' }, body: '{"seconds":30}' });
    expect(message(once(request(own, method, url, parts)))).toMatch(
      new RegExp(`^#1 fetch \\(.*\\): \\.?${said.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}$`),
    );
  });

  test('is shown whole to entries and to what computes, and the code keeps its body', async () => {
    const own = open();
    const real = await (async () => {
      const seen: string[] = [];
      const host = { send: async (made: Request) => void seen.push(await made.text()) };
      ledger.observe(host, 'send');
      check(never(request(host.send as never, 'POST', '/nothing', { text: 'nothing' })));
      await host.send(new Request(`${archive}/frames`, { method: 'POST', body: 'mine' }));
      return seen;
    })();
    expect(real).toEqual(['mine']);
    const frames = request(own, 'POST', '/frames/:id', { json: partial({ seconds: 30 }) });
    plan(
      frames,
      computes(async ({ params, json }) => Response.json({ ...params, ...(json as object) })),
    );
    const answer = await own(new Request(`${archive}/frames/7?tag=a`, { method: 'POST', body: '{"seconds":30}' }));
    expect(await answer.json()).toEqual({ id: '7', seconds: 30 });
    const [entry] = ledger.entries(frames);
    expect(entry?.args).toEqual([
      {
        method: 'POST',
        url: `${archive}/frames/7?tag=a`,
        headers: expect.any(Object),
        query: { tag: 'a' },
        params: { id: '7' },
        text: '{"seconds":30}',
        json: { seconds: 30 },
      },
    ]);
    expect(entry?.liveArgs[0]).toBeInstanceOf(Request);
  });

  test('has its place in an order and in waits, though its body is still being read', async () => {
    const own = open();
    const { dome } = ledger.standIns<{ dome: { close(): void } }>();
    const stored = request(own, 'POST', '/frames', { json: { seconds: 30 } });
    plan(stored, responds({ status: 201 }));
    const answer = own(new Request(`${archive}/frames`, { method: 'POST', body: '{"seconds":30}' }));
    dome.close();
    expect(message(once(stored))).toMatch(/cannot tell for #1 fetch \(.*\): \.json its body is still being read; wait for it: await reach\(…\)$/);
    const order = inTurn(stored, call(dome.close), fulfilled(stored));
    await Promise.all([reach(once(stored), { within: 2_000 }), reach(order, { within: 2_000 })]);
    expect((await answer).status).toBe(201);
    check(order, never(request(own, 'POST', '/frames', { json: { seconds: 60 } })));
  });

  describe('handed in, and claimed after a plan that asked for no body', () => {
    const bytes = (text: string) => new TextEncoder().encode(text);
    const stream = () => new ReadableStream({ pull: (to) => to.enqueue(bytes('1')) });
    const typed = (type: string, body: BodyInit): RequestInit => ({ method: 'POST', body, headers: { 'content-type': type } });
    const endless = (type?: string) =>
      ({ ...typed(type ?? '', stream()), ...(type === undefined ? { headers: {} } : {}), duplex: 'half' }) as RequestInit;
    const unasked =
      /cannot tell for #1 fetch \(.*\): \.(json|text) its body was not read; write the pattern that asks for it before the request is made$/;
    test.each(
      Object.entries<[RequestInit, Parameters<typeof request>[3], RegExp]>({
        'as JSON': [typed('application/json', '{"seconds":30}'), { json: { seconds: 30 } }, /^it holds$/],
        'as JSON that differs': [typed('application/json', '{"seconds":30}'), { json: { seconds: 60 } }, /\.json\.seconds expected 60, received 30$/],
        'as JSON of a kind': [typed('application/problem+json', '{"a":1}'), { json: { a: 1 } }, /^it holds$/],
        'as a text': [{ method: 'POST', body: 'wind' }, { text: 'wind' }, /^it holds$/],
        'as parts of an address': [{ method: 'POST', body: new URLSearchParams('a=1') }, { form: { a: '1' } }, /^it holds$/],
        'as a form': [{ method: 'POST', body: form }, { form: partial({ tag: ['a', 'b'] }) }, /^it holds$/],
        'as a form that is broken': [
          typed('multipart/form-data; boundary=x', 'none'),
          { form: {} },
          /cannot tell for #1 fetch \(.*\): \.form its body could not be read$/,
        ],
        'as JSON without an end': [endless('application/json'), { json: 1 }, /cannot tell for #1 fetch \(.*\): \.json its body could not be read$/],
        'as bytes of no type': [{ method: 'POST', body: bytes('{}') }, { json: {} }, unasked],
        'as a stream of no type': [endless(), { text: '1' }, unasked],
        'as a stream of events': [endless('text/event-stream'), { text: '1' }, unasked],
      }),
    )('%s', async (_, [init, parts, says]) => {
      const own = open();
      plan(request(own, 'POST', '/frames'), responds({ status: 201 }));
      const made = new Request(`${archive}/frames`, init);
      expect((await own(made)).status).toBe(201);
      expect(made.bodyUsed).toBe(false);
      expect(message(once(request(own, 'POST', '/frames', parts)))).toMatch(says);
    });

    test('and whatever its type if another pattern asks', async () => {
      const own = open();
      plan(request(own, 'POST', '/asked', { json: {} }), responds({ status: 202 }));
      plan(request(own, 'POST', '/frames'), responds({ status: 201 }));
      expect((await own(new Request(`${archive}/asked`, { method: 'POST', body: bytes('{}') }))).status).toBe(202);
    });

    test('and one that is read already goes through as it is', async () => {
      const own = open();
      plan(request(own, 'POST', '/frames'), responds({ status: 201 }));
      const made = new Request(`${archive}/frames`, typed('application/json', '{}'));
      const reader = made.body?.getReader();
      expect((await own(made)).status).toBe(201);
      reader?.releaseLock();
      await made.text();
      expect((await own(made)).status).toBe(201);
      check(times(2, request(own, 'POST', '/frames')));
    });
  });

  const wrong: readonly (readonly [() => unknown, RegExp])[] = [
    [() => request((() => {}) as never, 'GET', '/'), /request\(\) takes a function that a ledger records.*takeOver\(globalThis, 'fetch'\)/],
    [() => request(open(), 'GET IT', '/'), /takes a method, 'GET' or '\*' for any, and was given "GET IT"/],
    [() => request(open(), 'GET', ''), /takes a path or an address, and was given ""/],
    [() => request(open(), 'GET', '/frames/:id('), /"\/frames\/:id\(" is not a URL pattern/],
    [() => request(open(), 'GET', '/', { body: 1 } as never), /there is no option body; these are: headers, query, params, json, text, form/],
    [() => request(open(), 'GET', '/', { json: 1, text: '1' }), /json and text: a request has one body/],
    [() => responds({ status: 99 }), /status must be a whole number from 200 to 599, not 99/],
    [() => responds({ status: 204, text: '' }), /a response with status 204 has no body/],
    [() => responds({ json: 1, text: '1' }), /one body, and was given json and text/],
    [() => responds({ delay: -1 }), /delay must be milliseconds, 0 or more, not -1/],
  ];
  test.each(wrong)('that is invalid ends in one clear error: %#', (run, said) => {
    expect(run).toThrow(said);
  });
});

describe('a response', () => {
  test('is a fresh one each time, in turn, with its headers', async () => {
    const own = open();
    plan(request(own, 'GET', '/frames/:id'), responds({ json: { id: 7 }, headers: { 'X-Night': '7' } }), responds({ status: 404, text: 'gone' }));
    const [one, two, three] = [await own(`${archive}/frames/7`), await own(`${archive}/frames/7`), await own(`${archive}/frames/8`)];
    expect([one.status, one.headers.get('content-type'), one.headers.get('x-night'), await one.json()]).toEqual([
      200,
      'application/json',
      '7',
      { id: 7 },
    ]);
    expect([two.status, await two.text(), three.status, await three.text()]).toEqual([404, 'gone', 404, 'gone']);
  });

  test('comes after its delay, and not to a request that is aborted', async () => {
    const own = open();
    plan(request(own, 'GET', '/slow'), responds({ delay: 20, text: 'late' }));
    plan(request(own, 'GET', '/stuck'), responds({ delay: 60_000 }));
    const began = performance.now();
    expect(await (await own(`${archive}/slow`)).text()).toBe('late');
    expect(performance.now() - began).toBeGreaterThan(15);
    const controller = new AbortController();
    const stuck = own(`${archive}/stuck`, { signal: controller.signal });
    controller.abort();
    await expect(stuck).rejects.toMatchObject({ name: 'AbortError' });
    await expect(own(new Request(`${archive}/stuck`, { signal: controller.signal }))).rejects.toMatchObject({ name: 'AbortError' });
    check(times(2, rejected(request(own, 'GET', '/stuck'), partial({ name: 'AbortError' }))));
  });

  test('may come in parts, which end if the request is aborted', async () => {
    const own = open();
    plan(
      request(own, 'GET', '/sky'),
      responds({
        headers: { 'content-type': 'text/event-stream' },
        async *parts() {
          yield 'data: 21.4\n\n';
          yield 'data: 21.6\n\n';
        },
      }),
    );
    expect(await (await own(`${archive}/sky`)).text()).toBe('data: 21.4\n\ndata: 21.6\n\n');
    expect(await (await own(`${archive}/sky`)).text()).toBe('data: 21.4\n\ndata: 21.6\n\n');
    const controller = new AbortController();
    const half = await own(`${archive}/sky`, { signal: controller.signal });
    controller.abort();
    await expect(half.text()).rejects.toMatchObject({ name: 'AbortError' });
  });

  test('is for a global that is taken over, and the real one answers beside it', async () => {
    ledger = openLedger({ rules: 'loose' });
    const server = createServer((_, outgoing) => outgoing.end('really'));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const { port } = server.address() as AddressInfo;
    ledger.takeOver(globalThis, 'fetch');
    plan(call(fetch), passesThrough());
    plan(request(fetch, 'GET', 'http://*:*/planned'), responds({ text: 'planned' }));
    const texts = [];
    for (const path of ['planned', 'other']) texts.push(await (await fetch(`http://127.0.0.1:${port}/${path}`)).text());
    expect(texts).toEqual(['planned', 'really']);
    server.close();
  });
});

test('a request that no plan matches is rejected, and says what the nearest plan differs in', async () => {
  using ledger = openLedger({ rules: 'loose' });
  ledger.takeOver(globalThis, 'fetch');
  plan(request(fetch, 'POST', '/frames', { json: { seconds: 30 } }), responds({ status: 201 }));
  const body = JSON.stringify({ seconds: 31 });
  const sent = fetch('http://archive/frames', { method: 'POST', body, headers: { 'content-type': 'application/json' } });
  await expect(sent).rejects.toThrow(/fetch\(.*matches no plan[\s\S]*seconds expected 30, received 31/);
  await expect(fetch('http://archive/frames')).rejects.toThrow(/matches no plan/);
  expect(ledger.entries().map(({ outcome }) => outcome.state)).toEqual(['rejected', 'rejected']);
});

describe('a stand-in server', () => {
  test('records what other clients send, and answers by plans', async () => {
    ledger = openLedger({ rules: 'loose' });
    const server = await standInServer(ledger, 'archive');
    const stored = request(server, 'POST', '/frames/:id', { json: partial({ seconds: 30 }) });
    plan(stored, responds({ status: 201, json: { stored: true }, headers: { 'x-night': '7' } }));
    const answer = await fetch(`${server.url}/frames/7?of=night`, {
      method: 'POST',
      body: '{"seconds":30}',
      headers: { 'content-type': 'application/json' },
    });
    expect([answer.status, answer.headers.get('x-night'), await answer.json()]).toEqual([201, '7', { stored: true }]);
    check(once(stored), once(fulfilled(stored)), never(request(server, 'GET', '/frames/:id')));
    expect(ledger.entries(stored)[0]?.args[0]).toMatchObject({ params: { id: '7' }, query: { of: 'night' }, json: { seconds: 30 } });
    const form = new FormData();
    form.append('title', 'first light');
    await fetch(`${server.url}/forms`, { method: 'POST', body: form });
    check(once(request(server, 'POST', '/forms', { form: { title: 'first light' } })));
  });

  test('takes bodies that were made shorter for the way, and sets cookies one by one', async () => {
    ledger = openLedger({ rules: 'loose' });
    const server = await standInServer(ledger, 'archive');
    const cookies = ['night=7; Path=/', 'dome=open'];
    plan(request(server, 'POST', '/frames'), responds({ headers: { 'set-cookie': cookies, 'content-type': 'text/x-night' }, json: 7 }));
    const ways: readonly [string, Buffer<ArrayBuffer>][] = [
      ['gzip', gzipSync('{"seconds":30}')],
      ['deflate', deflateSync('{"seconds":30}')],
      ['br', brotliCompressSync('{"seconds":30}')],
      ['gzip', Buffer.from('not so')],
      ['none', Buffer.from('{"seconds":30}')],
    ];
    const answers: Response[] = [];
    for (const [encoding, body] of ways)
      answers.push(await fetch(`${server.url}/frames`, { method: 'POST', body, headers: { 'content-encoding': encoding } }));
    expect(answers.map(({ headers }) => [headers.getSetCookie(), headers.get('content-type')])).toEqual(ways.map(() => [cookies, 'text/x-night']));
    check(times(4, request(server, 'POST', '/frames', { json: { seconds: 30 } })), once(request(server, 'POST', '/frames', { text: 'not so' })));
  });

  test('says what no plan fits, by the rules, and drops what a plan rejects', async () => {
    for (const rules of ['loose', 'strict'] as const) {
      ledger = openLedger({ rules });
      const server = await standInServer(ledger, 'archive');
      const answer = await fetch(`${server.url}/frames`, { method: 'PUT' });
      expect([answer.status, await answer.text()]).toEqual([501, expect.stringMatching(/has no plan|no plan matches/)]);
      if (rules === 'strict') expect(() => ledger.close()).toThrow(/archive\(.* has no plan/);
      else ledger.close();
    }
    ledger = openLedger({ rules: 'loose' });
    const server = await standInServer(ledger, 'archive');
    plan(request(server, 'GET', '/dropped'), rejects(new Error('cut')));
    plan(request(server, 'GET', '/odd'), gives(3 as never));
    await expect(fetch(`${server.url}/dropped`)).rejects.toThrow();
    expect(await (await fetch(`${server.url}/odd`)).text()).toMatch(/gave 3, which is not a response/);
  });

  test('takes a thousand requests at once, and closes with its ledger whatever is open', async () => {
    ledger = openLedger({ rules: 'loose' });
    const server = await standInServer(ledger, 'archive');
    plan(
      request(server, 'POST', '/frames/:id'),
      computes(async ({ params, text }) => new Response(`${params['id']} ${text}`)),
    );
    plan(request(server, 'GET', '/never'), stalls());
    const texts = await Promise.all(
      Array.from({ length: 1_000 }, async (_, at) => (await fetch(`${server.url}/frames/${at}`, { method: 'POST', body: `frame ${at}` })).text()),
    );
    expect(texts).toEqual(Array.from({ length: 1_000 }, (_, at) => `${at} frame ${at}`));
    check(times(1_000, request(server, 'POST', '/frames/:id')));
    const open = fetch(`${server.url}/never`);
    await reach(once(request(server, 'GET', '/never')));
    ledger.close();
    await expect(open).rejects.toThrow();
    await expect(fetch(server.url)).rejects.toThrow();
  }, 60_000);
});

test('parts of a body stop when nobody reads them any more: the client of a server, or of fetch, has gone', async () => {
  for (const way of ['server', 'fetch'] as const) {
    const fake = open();
    const server = await standInServer(ledger, 'archive');
    let stopped = () => {};
    const isStopped = new Promise<void>((resolve) => {
      stopped = resolve;
    });
    async function* parts() {
      try {
        for (;;) {
          yield 'x'.repeat(1_000);
          await new Promise((later) => setTimeout(later, 1));
        }
      } finally {
        stopped();
      }
    }
    const leaving = new AbortController();
    const { signal } = leaving;
    const url = `${server.url}/frames`;
    plan(way === 'server' ? request(server, 'GET', '/frames') : request(fake, 'GET', url), responds({ parts }));
    const answer = await (way === 'server' ? fetch : fake)(url, { signal });
    const reader = answer.body?.getReader();
    await reader?.read();
    leaving.abort();
    await isStopped;
    await expect(reader?.read()).rejects.toThrow();
    ledger.close();
  }
});

test('a slow reader of a large body brings no warning', async () => {
  open();
  const warnings: Error[] = [];
  const hear = (warning: Error) => warnings.push(warning);
  process.on('warning', hear);
  const server = await standInServer(ledger, 'archive');
  const parts = () => Array.from({ length: 200 }, () => 'x'.repeat(100_000));
  plan(request(server, 'GET', '/frames'), responds({ parts }));
  const size = await new Promise<number>((resolve) => {
    get(`${server.url}/frames`, async (answer) => {
      let read = 0;
      for await (const part of answer) {
        read += (part as Buffer).length;
        await new Promise(setImmediate);
      }
      resolve(read);
    });
  });
  process.off('warning', hear);
  expect([size, warnings]).toEqual([20_000_000, []]);
});

test('a server whose ledger is closed before it listens does not stay open, and says so', async () => {
  open();
  const opening = standInServer(ledger, 'archive');
  ledger.close();
  await expect(opening).rejects.toThrow('ledger "unnamed" was closed before the server "archive" was open');
});

test('what is really requested is a source to follow', async () => {
  ledger = openLedger({ rules: 'loose' });
  const server = await standInServer(ledger, 'archive');
  plan(request(server, '*', '/*'), responds({ status: 204 }));
  const network = ledger.follow(networkRequests(), 'network');
  await fetch(`${server.url}/fetched?of=night`);
  await new Promise<void>((resolve) => get(`${server.url}/got`, (answer) => answer.resume().on('end', resolve)));
  check(
    once(item(network, { method: 'GET', url: `${server.url}/fetched?of=night` })),
    once(item(network, { method: 'GET', url: `${server.url}/got` })),
  );
});
