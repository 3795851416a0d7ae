import { compare } from '../match/compare.ts';
import { type Context, type Matcher, makeMatcher } from '../match/matcher.ts';
import { printTarget } from '../notation/label.ts';
import { printClaimed, shortValue } from '../notation/value.ts';
import { claimedValues } from '../pattern/call.ts';
import type { HeldPattern, Lens } from '../pattern/event.ts';
import type { CallPattern } from '../pattern/types.ts';
import { readBodiesOf } from '../record/bodies.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Member } from '../record/member.ts';
import { noteWritten } from '../record/slip.ts';
import { tied } from '../record/tie.ts';
import type { Difference } from '../value/difference.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { ownPrinting, type printsAs } from '../value/prints-as.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { readRequestBody, readTextBody, requestIn, requestServed, type SeenParts } from './seen.ts';
import type { Fetch, PlatformResponse, RequestParts, RequestSeen, StandInServer } from './types.ts';
import { type ReadAddress, readPattern } from './url-pattern.ts';

/**
 * Says which requests are meant: those that a `fetch`-compatible function made, or that a stand-in server got, by
 * method and address. It can stand wherever a pattern of calls can: in plans, claims, orders and waits.
 *
 * @param on a function that is recorded and takes what `fetch` takes, or a stand-in server
 * @param method `'GET'`, `'POST'`, …; `'*'`: any
 * @param url a pattern of the URLPattern standard: a path, `'/frames/:id'`, or a whole address
 * @param parts what else is expected: `headers`, `query` and `params` at least these; `json`, `text` or `form` whole
 * @throws TypeError if nothing records `on`, if the pattern is invalid, or if a part is none
 * @example
 * import { request, responds } from 'ekkon/requests';
 *
 * ledger.takeOver(globalThis, 'fetch');
 * plan(request(fetch, 'POST', '/frames/:id', { json: partial({ seconds: 30 }) }), responds({ status: 201 }));
 * @see responds
 */
export function request(
  on: Fetch | StandInServer,
  method: string,
  url: string,
  parts: RequestParts = {},
): CallPattern<[RequestSeen], Promise<PlatformResponse>> {
  takesOnly(4, arguments, request);
  const member = memberOf(on);
  if (typeof method !== 'string' || !/^(\*|[A-Za-z-]+)$/.test(method)) {
    refuse(
      `request(…) takes a method, 'GET' or '*' for any, and was given ${shortValue(method)}.`,
      request,
    );
  }
  const address = addressFor(url);
  readOptions(parts, partNames, request);
  const bodies = bodyParts.filter((name) => parts[name] !== undefined);
  if (bodies.length > 1) {
    refuse(
      `request(…) was given ${bodies.join(' and ')}: a request has one body. Claim it as one of them.`,
      request,
    );
  }
  const [held] = claimedValues([parts], member, request) as readonly [RequestParts];
  const isWanted = bodies.length > 0;
  if (!isServer(on)) readBodiesOf(member, isWanted ? readRequestBody : readTextBody, isWanted);
  const wanted: Wanted = { method: method.toUpperCase(), url, address, parts: held };
  const pattern: HeldPattern = makePattern({
    of: 'call',
    member,
    claimed: { items: [matcherFor(wanted)], rest: false },
    lens: lensFor(member, wanted, isServer(on)),
  });
  return noteWritten(member.journal, 'pattern', pattern, request) as never;
}

/** A request as it is claimed. */
interface Wanted {
  readonly method: string;
  readonly url: string;
  readonly address: ReadAddress;
  readonly parts: RequestParts;
}

const bodyParts = ['json', 'text', 'form'] as const;
const namedParts = ['headers', 'query', 'params'] as const;
const partNames: readonly string[] = [...namedParts, ...bodyParts];

const makePattern = ownPrinting<Omit<HeldPattern, typeof printsAs>>(
  ({ member, claimed }) => `${printTarget(member.target)}(${printClaimed(claimed?.items[0])})`,
);

/** Member behind what requests are made of. */
function memberOf(on: unknown): Member {
  const server = serverMember(on);
  const held = tied(server ?? on);
  if (held?.is === 'member') return held;
  return refuse(
    `request() takes a function that a ledger records, or a stand-in server, and was given ${shortValue(on)}. Take it over first: ledger.takeOver(globalThis, 'fetch').`,
    request,
  );
}

/** The member that stands for a server's requests, by the server. */
const servers = new WeakMap<object, object>();

/** Notes what records the requests of a stand-in server. */
export function noteServer(server: object, received: object): void {
  servers.set(server, received);
}

function serverMember(on: unknown): object | undefined {
  return typeof on === 'object' && on !== null ? servers.get(on) : undefined;
}

function isServer(on: unknown): boolean {
  return serverMember(on) !== undefined;
}

function addressFor(url: unknown): ReadAddress {
  try {
    if (typeof url === 'string' && url !== '') return readPattern(url);
  } catch (error) {
    refuse(
      `request(…): ${shortValue(url)} is no URL pattern: ${error instanceof Error ? error.message : error}. Write '/frames/:id', or a whole address.`,
      request,
    );
  }
  return refuse(
    `request(…) takes a path or an address, and was given ${shortValue(url)}. Write request(fetch, 'GET', '/frames/:id').`,
    request,
  );
}

function lensFor(member: Member, { address }: Wanted, isOfServer: boolean): Lens {
  const seenIn = (entry: HeldEntry) =>
    isOfServer ? requestServed(entry) : requestIn(entry, member.journal);
  return {
    see: (entry) => [seenIn(entry)],
    show(entry) {
      const seen = seenIn(entry);
      return [seen === undefined ? undefined : shown(seen, address(seen.url) ?? {})];
    },
  };
}

/** A request as plain data for somebody else's code. */
export function shown(seen: SeenParts, params: Readonly<Record<string, string>>): RequestSeen {
  const { method, url, headers, query, body } = seen;
  return {
    method,
    url,
    headers: { ...headers },
    query: { ...query },
    params,
    ...(body.is === 'text' ? { text: body.text, ...jsonIn(body.text) } : {}),
    ...(body.is === 'form' ? { form: { ...body.form } } : {}),
  };
}

function jsonIn(text: string): { readonly json?: unknown } {
  try {
    return { json: intrinsics.parse(text) as unknown };
  } catch {
    return {};
  }
}

function matcherFor(wanted: Wanted): unknown {
  const { method, url, parts } = wanted;
  const said = Object.entries(parts).map(([name, part]) => `, ${name} ${printClaimed(part)}`);
  const matcher: Matcher<RequestSeen> = makeMatcher<RequestSeen>({
    family: 'request',
    parameters: [method, url, parts],
    prints: `‹${method} ${url}${said.join('')}›`,
    differences: (received, context) => differences(wanted, matcher, received, context),
  });
  return matcher;
}

/** Where a request is not as expected: method, address, then part by part. */
function differences(
  { method, url, address, parts }: Wanted,
  matcher: unknown,
  received: unknown,
  context: Context,
): readonly Difference[] {
  const seen = received as SeenParts | undefined;
  if (seen === undefined) return [{ path: [], kind: 'type', expected: matcher, received }];
  const found: Difference[] = [];
  if (method !== '*' && seen.method !== method)
    found.push({ path: ['method'], kind: 'changed', expected: method, received: seen.method });
  const params = address(seen.url);
  if (params === undefined) {
    const isPath = url.startsWith('/');
    const { pathname, search } = new intrinsics.URL(seen.url);
    const path = isPath ? 'path' : 'url';
    const is = isPath ? `${pathname}${url.includes('?') ? search : ''}` : seen.url;
    found.push({ path: [path], kind: 'changed', expected: url, received: is });
  }
  const held = { headers: seen.headers, query: seen.query, params: params ?? {} };
  for (const name of namedParts) {
    // What an address that does not fit would have named says nothing more.
    if (name === 'params' && params === undefined) continue;
    found.push(...namedDifferences(name, parts[name] ?? {}, held[name], context));
  }
  for (const name of bodyParts) {
    if (parts[name] === undefined) continue;
    const below = bodyDifferences(name, parts[name], seen, context);
    found.push(...below.map((each) => ({ ...each, path: [name, ...each.path] })));
  }
  return found;
}

/** At least these are there; the names of headers are the same in capitals and in small letters. */
function namedDifferences(
  part: 'headers' | 'query' | 'params',
  expected: Readonly<Record<string, unknown>>,
  received: Readonly<Record<string, unknown>>,
  context: Context,
): readonly Difference[] {
  return Object.entries(expected).flatMap(([name, value]) => {
    const key = part === 'headers' ? name.toLowerCase() : name;
    if (!Object.hasOwn(received, key))
      return [{ path: [part, name], kind: 'missing' as const, expected: value }];
    const below = compare(value, received[key], context);
    return below.map((each) => ({ ...each, path: [part, name, ...each.path] }));
  });
}

function bodyDifferences(
  part: 'json' | 'text' | 'form',
  expected: unknown,
  { body }: SeenParts,
  context: Context,
): readonly Difference[] {
  switch (body.is) {
    case 'unread':
      return [{ path: [], kind: 'opaque', expected, why: 'body', reason: body.reason }];
    case 'none':
      return [{ path: [], kind: 'missing', expected }];
    case 'form':
      return part === 'form'
        ? compare(expected, body.form, context)
        : [{ path: [], kind: 'type', expected, received: body.form }];
    case 'text': {
      if (part === 'text') return compare(expected, body.text, context);
      const { json } = jsonIn(body.text);
      return part === 'json' && json !== undefined
        ? compare(expected, json, context)
        : [{ path: [], kind: 'type', expected, received: body.text }];
    }
  }
}
