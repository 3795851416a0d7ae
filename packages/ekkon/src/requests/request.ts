import { shortValue } from '../notation/value.ts';
import { makeRequestPattern } from '../pattern/requests/request-pattern.ts';
import type {
  Fetch,
  PlatformResponse,
  RequestParts,
  RequestSeen,
  StandInServer,
} from '../pattern/requests/types.ts';
import type { CallPattern } from '../pattern/types.ts';
import type { Member } from '../record/member.ts';
import { tied } from '../record/tie.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';

/**
 * Selects requests by method and address: those of a `fetch`-compatible function, or those to a stand-in server. Use
 * it wherever a pattern of calls can stand: in plans, claims, orders and waits.
 *
 * @param on a recorded function with the arguments of `fetch`, or a stand-in server
 * @param method `'GET'`, `'POST'`, …; `'*'`: any
 * @param url a pattern of the URLPattern standard: a path, `'/frames/:id'`, or a whole address
 * @param parts further expectations: `headers`, `query` and `params` at least these; `json`, `text` or `form` whole
 * @throws TypeError if nothing records `on`, if the pattern is invalid, or if a part is unknown
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
  return makeRequestPattern(memberOf(on), [method, url, parts], request) as never;
}

/** The member behind a pattern of requests. */
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

/** Notes the receiver that records the requests of a stand-in server. */
export function noteServer(server: object, received: object): void {
  servers.set(server, received);
}

function serverMember(on: unknown): object | undefined {
  return typeof on === 'object' && on !== null ? servers.get(on) : undefined;
}
