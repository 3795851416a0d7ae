import { bodyOf } from '../../record/bodies.ts';
import type { HeldEntry, Journal } from '../../record/journal.ts';
import { copyOf } from '../../value/copy.ts';
import { budget } from '../../value/copying.ts';
import { intrinsics } from '../../value/intrinsics.ts';
import { kindOf } from '../../value/kind.ts';
import { takenAtLoad } from '../../value/platform/taken-at-load.ts';
import { isSnapshot } from '../../value/snapshot.ts';

/** The body of a request, as far as it is known. */
export type SeenBody =
  | { readonly is: 'none' }
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'form'; readonly form: Readonly<Record<string, unknown>> }
  /** It cannot be known yet, or at all, for this reason. */
  | { readonly is: 'unread'; readonly reason: string };

/** A request in parts, whichever way it was made. */
export interface SeenParts {
  /** In capitals. */
  readonly method: string;
  /** Whole, as far as the platform knows where it is. */
  readonly url: string;
  /** By their names in small letters. */
  readonly headers: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string | readonly string[]>>;
  readonly body: SeenBody;
}

// Taken at load, so a `Response` that is taken over later has no effect.
const responseClass = takenAtLoad('Response');

/** The base of a relative address, if the platform has none. */
const elsewhere = 'http://localhost/';

/** The request that a call of a `fetch` made; `undefined` if its arguments are none of a request's. */
export function requestIn(entry: HeldEntry, { unread }: Journal): SeenParts | undefined {
  const known = seen.get(entry);
  const read = bodyOf(entry);
  if (known !== undefined && known.read === read) return known.parts;
  const parts = partsOf(entry.args, read);
  if (parts !== undefined && unread.has(entry)) return { ...parts, body: stillRead };
  seen.set(entry, { read, parts });
  return parts;
}

const stillRead: SeenBody = {
  is: 'unread',
  reason: 'its body is still being read; wait for it: await reach(…)',
};

const seen = new WeakMap<
  HeldEntry,
  { readonly read: object | undefined; readonly parts: SeenParts | undefined }
>();

function partsOf(
  [first, given]: readonly unknown[],
  read: { readonly body: unknown } | undefined,
): SeenParts | undefined {
  const input = asCopied(first);
  const made = contentOf(input, 'Request');
  const init = plainOf(given);
  const address = made?.['url'] ?? addressOf(input);
  if (typeof address !== 'string') return undefined;
  const url = absolute(address);
  return {
    method: String(init['method'] ?? made?.['method'] ?? 'GET').toUpperCase(),
    url: url.href,
    headers: { ...headersOf(made?.['headers']), ...headersOf(init['headers']) },
    query: namesOf(url.searchParams),
    body: read === undefined ? bodyIn(init, input) : readBody(read.body),
  };
}

/** The request that a stand-in server recorded, in parts. */
export function requestServed({ args: [made] }: HeldEntry): SeenParts | undefined {
  if (typeof made !== 'object' || made === null || !('method' in made)) return undefined;
  const { text, form, ...parts } = made as Omit<SeenParts, 'body'> & {
    readonly text?: string;
    readonly form?: Readonly<Record<string, unknown>>;
  };
  const body: SeenBody =
    form !== undefined
      ? { is: 'form', form }
      : text !== undefined
        ? { is: 'text', text }
        : { is: 'none' };
  return { ...parts, body };
}

/** An address as a whole, where the code under test runs. */
function absolute(address: string): URL {
  const { location } = globalThis as { readonly location?: { readonly href?: string } };
  for (const base of [location?.href, elsewhere]) {
    try {
      return new intrinsics.URL(address, base);
    } catch {
      // A page that has no address, as `about:blank` has none, cannot be built on.
    }
  }
  return new intrinsics.URL(elsewhere);
}

/** A platform object as a record has it; from a file it comes as its recorded state. */
function asCopied(value: unknown): unknown {
  const isLive = typeof value === 'object' && value !== null && kindOf(value) === 'platform';
  return isLive && !isSnapshot(value) ? copyOf(value) : value;
}

function addressOf(input: unknown): unknown {
  if (typeof input === 'string') return input;
  return isSnapshot(input) && input.type === 'URL' ? String(input.state) : undefined;
}

function contentOf(value: unknown, type: string): Readonly<Record<string, unknown>> | undefined {
  return isSnapshot(value) && value.type === type
    ? (value.content as Readonly<Record<string, unknown>>)
    : undefined;
}

function plainOf(value: unknown): Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !isSnapshot(value)
    ? (value as Readonly<Record<string, unknown>>)
    : {};
}

/** Headers by their names in small letters: from the platform's own, from pairs, or from an object. */
function headersOf(given: unknown): Readonly<Record<string, string>> {
  const content = contentOf(asCopied(given), 'Headers') ?? given;
  if (typeof content !== 'object' || content === null) return {};
  const pairs = Array.isArray(content)
    ? (content as readonly (readonly unknown[])[])
    : Object.entries(content);
  return Object.fromEntries(
    pairs.map(([name, value]) => [String(name).toLowerCase(), String(value)]),
  );
}

/** Named values by their names; a repeated name has a list. */
export function namesOf(
  all: Iterable<readonly [string, unknown]>,
): Readonly<Record<string, string | readonly string[]>> {
  const found: Record<string, string | string[]> = Object.create(null);
  for (const [name, value] of all) {
    const before = found[name];
    const text = String(value);
    if (before === undefined) found[name] = text;
    else if (typeof before === 'string') found[name] = [before, text];
    else before.push(text);
  }
  return { ...found };
}

/** The body that arguments hold, if it can be told without waiting. */
function bodyIn(init: Readonly<Record<string, unknown>>, input: unknown): SeenBody {
  const body = asCopied(init['body']);
  if (body === undefined || body === null) {
    const isUnread = isSnapshot(input) && input.unseen !== undefined;
    return isUnread ? { is: 'unread', reason: unasked } : { is: 'none' };
  }
  if (typeof body === 'string') return { is: 'text', text: body };
  if (isSnapshot(body)) {
    if (body.type === 'URLSearchParams') {
      const text = String(body.state);
      return { is: 'form', form: namesOf(new intrinsics.URLSearchParams(text)) };
    }
    if (body.type === 'FormData') return { is: 'form', form: { ...body.content } };
  }
  if (ArrayBuffer.isView(body) || body instanceof ArrayBuffer)
    return { is: 'text', text: new TextDecoder().decode(body) };
  const isBlob = isSnapshot(body) && (body.type === 'Blob' || body.type === 'File');
  return { is: 'unread', reason: isBlob ? unasked : 'its body is a stream, which is not read' };
}

const unasked =
  'its body was not read; write the pattern that asks for it before the request is made';

/** A body that was read: a text, or a form by its names. */
function readBody(body: unknown): SeenBody {
  if (typeof body === 'string') return { is: 'text', text: body };
  return typeof body === 'object' && body !== null
    ? { is: 'form', form: body as Readonly<Record<string, unknown>> }
    : { is: 'unread', reason: 'its body could not be read' };
}

/**
 * Reads the body of a request that is about to be made, if it can only be read asynchronously: from a clone, so the
 * caller has its own to itself.
 */
export function readRequestBody([input, given]: readonly unknown[]): Promise<unknown> | undefined {
  const init = typeof given === 'object' && given !== null ? (given as { body?: unknown }) : {};
  const { Request: PlatformRequest, Blob: PlatformBlob } = globalThis;
  const { body } = init;
  if (typeof PlatformBlob === 'function' && body instanceof PlatformBlob) return body.text();
  const isGiven = body !== undefined && body !== null;
  if (isGiven || typeof PlatformRequest !== 'function' || !(input instanceof PlatformRequest))
    return undefined;
  if (input.body === null || input.bodyUsed) return undefined;
  return contentsOfClone(input);
}

/**
 * The same for patterns that do not mention the body, so later ones can: of a `Request` whose type is text or form.
 * Other bodies, such as an endless stream, are left alone.
 */
export function readTextBody(args: readonly unknown[]): Promise<unknown> | undefined {
  const { Request: PlatformRequest } = globalThis;
  const [input] = args;
  if (typeof PlatformRequest !== 'function' || !(input instanceof PlatformRequest))
    return undefined;
  const type = input.headers.get('content-type') ?? '';
  return textTypes.test(type) ? readRequestBody(args) : undefined;
}

const textTypes =
  /^(application\/([\w.+-]+\+)?json|application\/x-www-form-urlencoded|multipart\/form-data|text\/(?!event-stream)[\w.+-]+)\b/i;

/** Cloned before the wait. A body that cannot be cloned is no fault of the caller. */
async function contentsOfClone(held: Request): Promise<unknown> {
  const { body } = held.clone();
  const bytes = body === null ? undefined : await bytesOf(body);
  if (bytes === undefined) return undefined;
  const type = held.headers.get('content-type');
  return await contentsOf(
    new (responseClass())(bytes, type === null ? {} : { headers: { 'content-type': type } }),
  );
}

/** The bytes of a stream up to its end; `undefined` if there are more than a record takes. */
async function bytesOf(
  stream: ReadableStream<Uint8Array>,
): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const reader = stream.getReader();
  const parts: Uint8Array[] = [];
  let length = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    parts.push(value);
    length += value.length;
    if (length > budget.bytes || parts.length > budget.nodes) {
      // It ends when the other half does, which is not waited for.
      void reader.cancel().catch(() => {});
      return undefined;
    }
  }
  const bytes = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

/** The content of a request or a response: its text, or its form by the names of its fields. */
export async function contentsOf(held: Request | Response): Promise<unknown> {
  const type = held.headers.get('content-type') ?? '';
  if (/^(multipart\/form-data|application\/x-www-form-urlencoded)\b/i.test(type))
    return formOf(await held.formData());
  return await held.text();
}

/** The fields of a form; a file is a copy of its visible state. */
export function formOf(form: FormData): Readonly<Record<string, unknown>> {
  const fields: Record<string, unknown> = Object.create(null);
  for (const [name, value] of form as unknown as Iterable<[string, unknown]>) {
    const held = typeof value === 'string' ? value : copyOf(value);
    const before = fields[name];
    if (before === undefined) fields[name] = held;
    else if (Array.isArray(before)) before.push(held);
    else fields[name] = [before, held];
  }
  return { ...fields };
}
