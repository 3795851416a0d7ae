import { shortValue } from '../notation/value.ts';
import type { PlatformResponse } from '../pattern/requests/types.ts';
import { makeReply, type Reply, type ResponseParts } from '../plan/reply.ts';
import type { Clock } from '../record/clock.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { takenAtLoad } from '../value/platform/taken-at-load.ts';
import { printsAs } from '../value/prints-as.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';

/** How a request is answered. */
export interface ResponseOptions {
  /** From 200 to 599. Default 200. */
  readonly status?: number;
  /** By their names; several values, as for `set-cookie`, are a list. */
  readonly headers?: Readonly<Record<string, string | readonly string[]>>;
  /** The body, as JSON, with the content type of JSON. */
  readonly json?: unknown;
  /** The body, as a text. */
  readonly text?: string;
  /** Makes the parts of a body that comes in parts: server-sent events, say. Run anew for each response. */
  readonly parts?: () => AsyncIterable<string | Uint8Array> | Iterable<string | Uint8Array>;
  /** Milliseconds until the answer comes. Default 0. */
  readonly delay?: number;
}

// Taken at load, so a `Response` that is taken over later has no effect.
const responseClass = takenAtLoad('Response');
const { ReadableStream: MadeStream } = globalThis;

/** Answers that have no body, by their status. */
const bodiless: ReadonlySet<number> = new Set([204, 205, 304]);

/**
 * Answers requests with a response, a fresh one each time. A request that is aborted meanwhile rejects as the
 * platform's does, and ends so in the record. For a network that fails write `rejects(new TypeError('failed'))`.
 *
 * @throws TypeError if an option is unknown or invalid, or if there are two bodies
 * @example
 * import { request, responds } from 'ekkon/requests';
 *
 * ledger.takeOver(globalThis, 'fetch');
 * plan(request(fetch, 'GET', '/frames/:id'), responds({ json: { id: 'frame-1' } }), responds({ status: 404 }));
 */
export function responds(reply: ResponseOptions): Reply<Promise<PlatformResponse>> {
  takesOnly(1, arguments, responds);
  const response = readResponse(reply);
  const { status, body } = response;
  const said = body === undefined ? '' : ` ${shortValue(body, 40)}`;
  return makeReply({
    kind: 'responds',
    response,
    run: (args, clock) => answer(response, signalIn(args), clock),
    [printsAs]: `responds ${status}${said}`,
  });
}

function readResponse(reply: ResponseOptions): ResponseParts {
  readOptions(reply ?? null, ['status', 'headers', 'json', 'text', 'parts', 'delay'], responds);
  const { status = 200, headers = {}, json, text, parts, delay = 0 } = reply;
  if (!Number.isInteger(status) || status < 200 || status > 599)
    refuse(
      `responds(): status must be a whole number from 200 to 599, not ${shortValue(status)}.`,
      responds,
    );
  if (!Number.isFinite(delay) || delay < 0)
    refuse(
      `responds(): delay must be milliseconds, 0 or more, not ${shortValue(delay)}.`,
      responds,
    );
  const bodies = Object.entries({ json, text, parts }).filter(([, body]) => body !== undefined);
  if (bodies.length > 1)
    refuse(
      `responds(): a response has one body, and was given ${bodies.map(([name]) => name).join(' and ')}.`,
      responds,
    );
  if (text !== undefined && typeof text !== 'string')
    refuse(
      `responds(): text must be a string, not ${shortValue(text)}. Write json for a value.`,
      responds,
    );
  if (parts !== undefined && typeof parts !== 'function')
    refuse(
      'responds(): parts must be a function that gives the parts anew for each response.',
      responds,
    );
  if (bodies.length > 0 && bodiless.has(status))
    refuse(`responds(): a response with status ${status} has no body.`, responds);
  const named = Object.entries(headers).flatMap(([name, value]) =>
    [value].flat().map((each) => [name.toLowerCase(), String(each)] as const),
  );
  const isTyped = named.some(([name]) => name === 'content-type');
  if (json !== undefined && !isTyped) named.push(['content-type', 'application/json']);
  return {
    status,
    headers: named,
    body: json === undefined ? text : intrinsics.stringify(json),
    parts,
    delay,
  };
}

/** The signal that may abort a request. */
function signalIn([input, init]: readonly unknown[]): AbortSignal | undefined {
  const held = (value: unknown) =>
    typeof value === 'object' && value !== null
      ? (value as { signal?: unknown }).signal
      : undefined;
  const signal = held(init) ?? held(input);
  const isSignal = typeof signal === 'object' && signal !== null && 'aborted' in signal;
  return isSignal ? (signal as AbortSignal) : undefined;
}

/** A response after its delay, unless the request is aborted before. */
function answer(
  response: ResponseParts,
  signal: AbortSignal | undefined,
  clock: Clock,
): Promise<unknown> {
  return new Promise((resolve, reject) => {
    if (signal?.aborted === true) {
      reject(signal.reason);
      return;
    }
    let cancel: unknown;
    const abort = () => {
      if (typeof cancel === 'function') cancel();
      reject(signal?.reason);
    };
    const give = () => {
      signal?.removeEventListener('abort', abort);
      resolve(makeResponse(response, signal));
    };
    signal?.addEventListener('abort', abort, { once: true });
    if (response.delay > 0) cancel = clock.after(response.delay, give);
    else give();
  });
}

function makeResponse(
  { status, headers, body, parts }: ResponseParts,
  signal: AbortSignal | undefined,
): unknown {
  const content = parts === undefined ? (body ?? null) : streamOf(parts(), signal);
  return new (responseClass())(content, { status, headers: headers as [string, string][] });
}

/** Parts as the platform's stream, which fails if the request is aborted while it is read. */
function streamOf(
  parts: AsyncIterable<string | Uint8Array> | Iterable<string | Uint8Array>,
  signal: AbortSignal | undefined,
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  const iterator =
    Symbol.asyncIterator in parts ? parts[Symbol.asyncIterator]() : parts[Symbol.iterator]();
  /** Lets the parts clean up; an error of that has no reader any more. */
  const stop = async () => {
    await iterator.return?.();
  };
  return new MadeStream<Uint8Array>({
    start(controller) {
      const abort = () => {
        controller.error(signal?.reason);
        void stop();
      };
      signal?.addEventListener('abort', abort, { once: true });
    },
    async pull(controller) {
      const { done, value } = await iterator.next();
      if (done === true) controller.close();
      else controller.enqueue(typeof value === 'string' ? encoder.encode(value) : value);
    },
    cancel: stop,
  });
}
