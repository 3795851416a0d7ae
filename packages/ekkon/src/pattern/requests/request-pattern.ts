import { compare } from '../../match/compare.ts';
import { type Context, type Matcher, makeMatcher, matchingOf } from '../../match/matcher.ts';
import { printTarget } from '../../notation/label.ts';
import { printClaimed, shortValue } from '../../notation/value.ts';
import { readBodiesOf } from '../../record/bodies.ts';
import type { HeldEntry } from '../../record/journal.ts';
import type { Member } from '../../record/member.ts';
import { noteWritten } from '../../record/slip.ts';
import type { Below } from '../../value/below.ts';
import type { Difference } from '../../value/difference.ts';
import { intrinsics } from '../../value/intrinsics.ts';
import { ownPrinting, type printsAs } from '../../value/prints-as.ts';
import { readOptions } from '../../value/read-options.ts';
import { refuse } from '../../value/refuse.ts';
import { claimedValues } from '../call.ts';
import type { HeldPattern, Lens } from '../event.ts';
import { readRequestBody, readTextBody, requestIn, requestServed, type SeenParts } from './seen.ts';
import type { RequestParts, RequestSeen } from './types.ts';
import { type ReadAddress, readPattern } from './url-pattern.ts';

/**
 * A pattern of the requests that a member made, or that a stand-in server got.
 *
 * @param below the public function that was called, or the word that was read
 */
export function makeRequestPattern(
  member: Member,
  [method, url, parts = {}]: readonly unknown[],
  below: Below,
): HeldPattern {
  if (typeof method !== 'string' || !/^(\*|[A-Za-z-]+)$/.test(method)) {
    refuse(
      `request(…) takes a method, 'GET' or '*' for any, and was given ${shortValue(method)}.`,
      below,
    );
  }
  const address = addressFor(url, below);
  readOptions(parts, partNames, below);
  const given = parts as RequestParts;
  const bodies = bodyParts.filter((name) => given[name] !== undefined);
  if (bodies.length > 1) {
    refuse(
      `request(…) was given ${bodies.join(' and ')}: a request has one body. Claim it as one of them.`,
      below,
    );
  }
  const [held] = claimedValues([given], member, below) as readonly [RequestParts];
  const isWanted = bodies.length > 0;
  readBodiesOf(member, isWanted ? readRequestBody : readTextBody, isWanted);
  const wanted: Wanted = {
    method: method.toUpperCase(),
    url: url as string,
    address,
    parts: held,
  };
  const pattern: HeldPattern = makePattern({
    of: 'call',
    member,
    claimed: { items: [matcherFor(wanted)], rest: false },
    lens: lensFor(member, wanted),
  });
  return noteWritten(member.journal, 'pattern', pattern, below);
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

const makePattern = ownPrinting<Omit<HeldPattern, typeof printsAs>>(({ member, claimed }) => {
  const { parameters = [] } = matchingOf(claimed?.items[0]) ?? {};
  const [method, url, parts = {}] = parameters;
  const said = Object.keys(parts as object).length === 0 ? [method, url] : [method, url, parts];
  return `request ${printTarget(member.target)}(${said.map(printClaimed).join(', ')})`;
});

function addressFor(url: unknown, below: Below): ReadAddress {
  try {
    if (typeof url === 'string' && url !== '') return readPattern(url);
  } catch (error) {
    refuse(
      `request(…): ${shortValue(url)} is not a URL pattern: ${error instanceof Error ? error.message : error}. Write '/frames/:id', or a whole address.`,
      below,
    );
  }
  return refuse(
    `request(…) takes a path or an address, and was given ${shortValue(url)}. Write request(fetch, 'GET', '/frames/:id').`,
    below,
  );
}

function lensFor(member: Member, { method, address, parts }: Wanted): Lens {
  // A stand-in server records the request that it received; a function that makes requests, its arguments.
  const seenIn = (entry: HeldEntry) => requestServed(entry) ?? requestIn(entry, member.journal);
  return {
    // A method and an address say which requests are meant, as a member does.
    tells: Object.keys(parts).length > 0,
    minds([part, name]) {
      if (part === 'method') return method !== '*';
      const named = namedParts.find((each) => each === part);
      if (named !== undefined)
        return Object.keys(parts[named] ?? {}).some(
          (key) => keyIn(named, key) === keyIn(named, String(name)),
        );
      return bodyParts.every((each) => each !== part) || bodyParts.some((each) => each in parts);
    },
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
    // The parameters of an address that does not match add nothing.
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

/** The key of a named part: the names of headers are the same in capitals and in small letters. */
function keyIn(part: (typeof namedParts)[number], name: string): string {
  return part === 'headers' ? name.toLowerCase() : name;
}

/** At least these are there. */
function namedDifferences(
  part: (typeof namedParts)[number],
  expected: Readonly<Record<string, unknown>>,
  received: Readonly<Record<string, unknown>>,
  context: Context,
): readonly Difference[] {
  return Object.entries(expected).flatMap(([name, value]) => {
    const key = keyIn(part, name);
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
