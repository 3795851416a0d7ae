import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { brotliDecompressSync, unzipSync } from 'node:zlib';
import { doublesOn } from '../double/doubles.ts';
import type { DoubleOptions, Ledger } from '../ledger/ledger.ts';
import { shortValue } from '../notation/value.ts';
import { contentsOf, namesOf } from '../pattern/requests/seen.ts';
import type { StandInServer } from '../pattern/requests/types.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import { inQuotes } from '../value/escape.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { takenAtLoad } from '../value/platform/taken-at-load.ts';
import { refuse } from '../value/refuse.ts';
import { noteServer } from './request.ts';

export type { StandInServer } from '../pattern/requests/types.ts';

// Taken at load, so a `Response` that is taken over later has no effect.
const responseClass = takenAtLoad('Response');

/** Statuses with which bodies are never read. */
const withoutBody: ReadonlySet<string> = new Set(['GET', 'HEAD']);

/**
 * Opens an HTTP server on loopback that is a double: for code with its own client, and for other processes. Each
 * request is an entry, and plans on `request(server, …)` answer it. A request that matches no plan gets a 501 that
 * says so, and follows the ledger's rules. A plan that `rejects` drops the connection, one that `stalls` never
 * answers.
 *
 * @param name its name in labels
 * @returns the server, once it listens; it closes with the ledger, even if connections are open
 * @throws TypeError if it is given no open ledger, or no name; the platform's error if it cannot listen
 * @example
 * import { request, responds } from 'ekkon/requests';
 * import { standInServer } from 'ekkon/server';
 *
 * const archive = await standInServer(ledger, 'archive');
 * plan(request(archive, 'POST', '/frames'), responds({ status: 201, json: { id: 'frame-1' } }));
 * await fetch(`${archive.url}/frames`, { method: 'POST' });
 */
export async function standInServer(
  ledger: Ledger,
  name: string,
  options?: DoubleOptions,
): Promise<StandInServer> {
  const held = tied(ledger);
  if (held?.is !== 'ledger') {
    refuse(
      `standInServer() takes a ledger first, and was given ${shortValue(ledger)}. Write await standInServer(ledger, 'archive').`,
      standInServer,
    );
  }
  const { journal } = held;
  const recorded = ledger.callable<(made: object) => unknown>(name, options);
  const server = createServer((incoming, outgoing) => {
    void serve(journal, recorded, incoming, outgoing);
  });
  // A connection that is closed as a client sends on it is an error of the test that nobody can explain.
  server.keepAliveTimeout = 0;
  await listening(server);
  const { port } = server.address() as AddressInfo;
  const url = `http://127.0.0.1:${port}`;
  const close = () => {
    server.close();
    server.closeAllConnections();
    return true;
  };
  if (journal.closed) {
    close();
    refuse(
      `standInServer(): ledger ${inQuotes(journal.name)} was closed before the server ${inQuotes(name)} was open. Await standInServer(…) in the test.`,
      standInServer,
    );
  }
  doublesOn(journal).slots.push({ member: name, restore: close });
  const made = {
    url,
    async [Symbol.asyncDispose]() {
      close();
    },
  } as unknown as StandInServer;
  noteServer(made, recorded);
  return made;
}

function listening(server: Server): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      server.off('error', reject);
      resolve();
    });
  });
}

/** Records a request once its body is there, and sends the answer. */
async function serve(
  journal: Journal,
  recorded: (made: object) => unknown,
  incoming: IncomingMessage,
  outgoing: ServerResponse,
): Promise<void> {
  let entry: HeldEntry | undefined;
  try {
    const made = await readRequest(incoming);
    const at = journal.entries.length;
    let answer: unknown;
    try {
      const given = recorded(made);
      entry = journal.entries[at];
      answer = await given;
    } catch (reason) {
      entry ??= journal.entries[at];
      // A plan that fails is a connection that is dropped; a rule that has no plan says so.
      if (entry?.more?.answer !== undefined) {
        incoming.socket.destroy();
        return;
      }
      answer = unplanned(reason instanceof Error ? reason.message : String(reason));
    }
    await send(
      outgoing,
      answer instanceof responseClass() ? answer : unplannedFor(made, answer, entry),
    );
  } catch {
    // The client is gone, or the ledger was closed: nobody is left to answer.
    incoming.socket.destroy();
  }
}

/** A request as it is recorded: plain data. */
interface MadeRequest {
  readonly method: string;
  readonly url: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string | readonly string[]>>;
  readonly text?: string;
  readonly form?: unknown;
}

async function readRequest(incoming: IncomingMessage): Promise<MadeRequest> {
  const { method = 'GET', headers, url: path = '/' } = incoming;
  const url = new intrinsics.URL(path, `http://${headers.host ?? '127.0.0.1'}`);
  const chunks: Uint8Array[] = [];
  for await (const chunk of incoming) chunks.push(chunk as Uint8Array);
  const bytes = unpacked(Buffer.concat(chunks), headers['content-encoding']);
  const named = Object.fromEntries(
    Object.entries(headers).map(([name, value]) => [name, String(value ?? '')]),
  );
  const made = { method, url: url.href, headers: named, query: namesOf(url.searchParams) };
  if (bytes.length === 0 || withoutBody.has(method)) return made;
  const type = headers['content-type'];
  const body = new (responseClass())(
    bytes,
    type === undefined ? {} : { headers: { 'content-type': type } },
  );
  const read = await contentsOf(body).catch(() => bytes.toString('utf8'));
  return typeof read === 'string' ? { ...made, text: read } : { ...made, form: read };
}

/** A body as it was before it was made shorter for the way; as it came, if that is not known or does not work. */
function unpacked(bytes: Buffer<ArrayBuffer>, encoding: string | undefined): Buffer<ArrayBuffer> {
  const unpack = encoding === 'br' ? brotliDecompressSync : unzipSync;
  if (encoding === undefined || !/^(x-)?(gzip|deflate|br)$/i.test(encoding)) return bytes;
  try {
    return Buffer.from(unpack(bytes));
  } catch {
    return bytes;
  }
}

function unplannedFor(
  { method, url }: MadeRequest,
  answer: unknown,
  entry: HeldEntry | undefined,
): Response {
  const { pathname } = new intrinsics.URL(url);
  const why =
    entry?.more?.answer === undefined
      ? `no plan matches ${method} ${pathname}`
      : `the plan for ${method} ${pathname} gave ${shortValue(answer)}, which is not a response`;
  return unplanned(
    `${why}. Write plan(request(server, '${method}', '${pathname}'), responds({ status: 200 })).`,
  );
}

function unplanned(why: string): Response {
  return new (responseClass())(`${why}\n`, {
    status: 501,
    headers: { 'content-type': 'text/plain; charset=utf-8' },
  });
}

async function send(outgoing: ServerResponse, response: Response): Promise<void> {
  // As a list, since cookies are set by a header each.
  outgoing.writeHead(response.status, [...response.headers].flat());
  if (response.body === null) outgoing.end();
  // If the client disconnects, the maker of the body is told to stop.
  else await pipeline(Readable.fromWeb(response.body as WebStream), outgoing);
}
