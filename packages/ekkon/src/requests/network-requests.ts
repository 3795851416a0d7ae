import { intrinsics } from '../value/intrinsics.ts';
import { builtinModules } from '../value/platform/builtin-modules.ts';

/** A real request. */
export interface RequestMade {
  /** In capitals; `'*'` where the platform does not tell, as a browser's resource timing does not. */
  readonly method: string;
  readonly url: string;
}

/**
 * The real requests, as a source for `ledger.follow`: in Node those of `fetch` and `node:http`, from the platform's
 * diagnostics channels; in a browser those in its resource timing, after the fact and without methods.
 *
 * @returns a source for `ledger.follow`; it begins when it is followed, and ends with the ledger
 * @throws TypeError when it is followed, if the platform has neither
 * @example
 * const network = ledger.follow(networkRequests(), 'network');
 * await reach(once(item(network, partial({ url: textLike(/star-chart/) }))));
 */
export function networkRequests(): (emit: (made: RequestMade) => void) => () => void {
  return (emit) => {
    const channels = diagnosticsChannels();
    if (channels !== undefined) return hearChannels(channels, emit);
    if (typeof PerformanceObserver === 'function') return hearTiming(emit);
    throw new TypeError(
      'networkRequests(): this platform tells nobody of its requests: it has neither diagnostics channels nor resource timing',
    );
  };
}

interface Channels {
  subscribe(name: string, hear: (message: unknown) => void): void;
  unsubscribe(name: string, hear: (message: unknown) => void): void;
}

function diagnosticsChannels(): Channels | undefined {
  return builtinModules()?.('node:diagnostics_channel');
}

interface FetchRequest {
  readonly method: string;
  readonly origin: string | URL;
  readonly path: string;
}

interface HttpRequest {
  readonly method: string;
  readonly protocol: string;
  readonly host: string;
  readonly path: string;
  getHeader(name: string): unknown;
}

function hearChannels(channels: Channels, emit: (made: RequestMade) => void): () => void {
  const fetched = (message: unknown) => {
    const { method, origin, path } = (message as { readonly request: FetchRequest }).request;
    emit({ method: method.toUpperCase(), url: new intrinsics.URL(path, origin).href });
  };
  const sent = (message: unknown) => {
    const { request } = message as { readonly request: HttpRequest };
    const host = String(request.getHeader('host') ?? request.host);
    emit({
      method: request.method.toUpperCase(),
      url: new intrinsics.URL(request.path, `${request.protocol}//${host}`).href,
    });
  };
  channels.subscribe('undici:request:create', fetched);
  channels.subscribe('http.client.request.start', sent);
  return () => {
    channels.unsubscribe('undici:request:create', fetched);
    channels.unsubscribe('http.client.request.start', sent);
  };
}

function hearTiming(emit: (made: RequestMade) => void): () => void {
  const observer = new PerformanceObserver((list) => {
    for (const { name } of list.getEntries()) emit({ method: '*', url: name });
  });
  observer.observe({ type: 'resource' });
  return () => observer.disconnect();
}
