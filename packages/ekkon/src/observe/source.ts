import { shortValue } from '../notation/value.ts';
import { nextTurn } from '../record/clock.ts';
import type { Below } from '../value/below.ts';
import { refuse } from '../value/refuse.ts';
import { realBehind } from '../value/tie.ts';

/** Passes its items to an observer. */
export interface Subscribable<T> {
  /** Gives its items, its failure and its end to an observer. */
  subscribe(observer: {
    next(value: T): void;
    error(reason: unknown): void;
    complete(): void;
  }): unknown;
}

/** Passes its items to a function, without an end. */
export interface SubscribableByCallback<T> {
  /** Gives its items to a function. */
  subscribe(callback: (value: T) => void): unknown;
}

/** A stream that is read: the platform's, whichever types the program has for it. */
export interface ReadableStreamLike<T> {
  // As many signatures as the platform's, so the one without options keeps the type of the items.
  /** Locks the stream to a reader that fills buffers. */
  getReader(options: { readonly mode: 'byob' }): unknown;
  /** Locks the stream to a reader. */
  getReader(): {
    /** The next item, or the end. */
    read(): Promise<
      | { readonly done: false; readonly value?: T | undefined }
      | { readonly done: true; readonly value?: unknown }
    >;
    /** Releases the lock. */
    releaseLock(): void;
  };
  /** Locks the stream to a reader, as the options have it. */
  getReader(options?: object): unknown;
}

/** Passes events to listeners as objects. */
export interface EventTargetLike {
  /** Adds a listener. */
  // biome-ignore lint/suspicious/noExplicitAny: events of any kind.
  addEventListener(type: string, listener: (event: any) => void): void;
  /** Removes it. */
  // biome-ignore lint/suspicious/noExplicitAny: events of any kind.
  removeEventListener(type: string, listener: (event: any) => void): void;
}

/** Calls listeners by the name of an event. */
export interface EmitterLike {
  /** Adds a listener, which receives the arguments of an event. */
  on(event: string, listener: (...args: unknown[]) => void): unknown;
  /** Removes it. */
  off(event: string, listener: (...args: unknown[]) => void): unknown;
}

/** Receives the items of a source. */
export interface Sink {
  /** @param below the function that the source called, if it called one: its caller is the call site */
  item(value: unknown, below?: Below): void;
  end(below?: Below): void;
  fail(reason: unknown, below?: Below): void;
}

/** Ends a subscription. May throw, or return a promise of the remaining work. */
export type Release = () => unknown;

/** Connects a source, and returns the function that ends it. May throw the source's error. */
export type Connect = (sink: Sink) => Release;

type Method = (...args: unknown[]) => unknown;
type Members = { readonly [key in PropertyKey]?: unknown };

/**
 * Returns the kind of a source.
 *
 * @param below the public function it was given to
 * @throws TypeError if it is none, if it needs the name of an event, or if it is locked
 */
export function readSource(
  source: unknown,
  on: { readonly event: string } | undefined,
  below: Below,
): Connect {
  if (on !== undefined) return readEvents(source, on, below);
  if (typeof source === 'function') return connectFunction(source as Method);
  if (typeof source !== 'object' || source === null) refuseSource(source, below);
  const members = source as Members;
  if (typeof members['getReader'] === 'function') return readStream(source, below);
  const observable = members[observableKey()];
  if (typeof observable === 'function')
    return connectObservable(() => Reflect.apply(observable, source, []));
  if (isPlatformObservable(source)) return connectPlatformObservable(source);
  if (typeof members['subscribe'] === 'function') return connectSubscribable(source);
  if (typeof members[Symbol.asyncIterator] === 'function') return connectIterable(source);
  if (typeof members['addEventListener'] === 'function' || typeof members['on'] === 'function') {
    refuse(
      `follow(${shortValue(source, 30)}, …): which event? Write follow(source, 'name', { event: 'data' }).`,
      below,
    );
  }
  refuseSource(source, below);
}

function refuseSource(source: unknown, below: Below): never {
  const isList = typeof source === 'object' && source !== null && Symbol.iterator in source;
  const hint = isList ? ' Values that already exist need no following; pass them to the code.' : '';
  refuse(
    `follow() takes an async iterable, a ReadableStream, an object with subscribe, an event target or emitter, or a function that takes emit, and was given ${shortValue(source)}.${hint}`,
    below,
  );
}

/** `(emit) => stop`. */
function connectFunction(source: Method): Connect {
  return (sink) => {
    const emit = (value: unknown) => sink.item(value, emit);
    const stop = source(emit);
    return typeof stop === 'function' ? (stop as Release) : () => {};
  };
}

function readEvents(source: unknown, on: unknown, below: Below): Connect {
  const { event } = (on ?? {}) as { readonly event?: unknown };
  if (typeof event !== 'string' && typeof event !== 'symbol') {
    refuse(
      `follow(): the event's name must be a string, not ${shortValue(event)}. Write follow(source, 'name', { event: 'data' }).`,
      below,
    );
  }
  const members = (
    (typeof source === 'object' || typeof source === 'function') && source !== null ? source : {}
  ) as Members;
  // A source of both kinds passes emitted values to its listeners, but as a target only events.
  const names = [
    ['on', 'off'],
    ['addListener', 'removeListener'],
    ['addEventListener', 'removeEventListener'],
  ] as const;
  const found = names.find((pair) => pair.every((name) => typeof members[name] === 'function'));
  if (found === undefined) {
    refuse(
      `follow(${shortValue(source, 30)}, …, { event: ${shortValue(event)} }) takes an event target or an emitter: an object with addEventListener and removeEventListener, or on and off.`,
      below,
    );
  }
  const [add, remove] = found;
  return (sink) => {
    const listener = (...args: unknown[]) => sink.item(args.length > 1 ? args : args[0], listener);
    (members[add] as Method).call(source, event, listener);
    return () => {
      (members[remove] as Method).call(source, event, listener);
    };
  };
}

/** The key by which an object declares itself observable, as far as there is a convention. */
function observableKey(): PropertyKey {
  return (Symbol as { readonly observable?: symbol }).observable ?? '@@observable';
}

function isPlatformObservable(source: object): boolean {
  const { Observable } = globalThis as { readonly Observable?: unknown };
  return typeof Observable === 'function' && source instanceof Observable;
}

/** An observable by agreement, which takes an observer. */
function connectObservable(observable: () => unknown): Connect {
  return (sink) =>
    unsubscriber((observable() as Subscribable<unknown>).subscribe(observerFor(sink)));
}

/** An observable of the platform's own, whose subscription is ended by a signal. */
function connectPlatformObservable(source: object): Connect {
  return (sink) => {
    const end = new (realBehind(globalThis.AbortController))();
    (source as { subscribe: Method }).subscribe(observerFor(sink), { signal: end.signal });
    return () => end.abort();
  };
}

/**
 * Anything else with `subscribe`. It gets a function that is an observer as well, since nothing tells
 * whether it wants the one or the other; or three functions, as some do.
 */
function connectSubscribable(source: object): Connect {
  return (sink) => {
    const { next, error, complete } = observerFor(sink);
    const both = Object.assign(next, { next, error, complete });
    return unsubscriber((source as { subscribe: Method }).subscribe(both, error, complete));
  };
}

function observerFor(sink: Sink) {
  const next = (value: unknown) => sink.item(value, next);
  const error = (reason: unknown) => sink.fail(reason, error);
  const complete = () => sink.end(complete);
  return { next, error, complete };
}

function unsubscriber(subscription: unknown): Release {
  if (typeof subscription === 'function') return subscription as Release;
  const held = subscription as { readonly unsubscribe?: unknown } | null | undefined;
  return () => (typeof held?.unsubscribe === 'function' ? held.unsubscribe() : undefined);
}

function readStream(source: object, below: Below): Connect {
  const stream = source as ReadableStream<unknown>;
  if (stream.locked) {
    refuse(
      'follow(): the stream is locked, because other code reads it already. Write const [followed, own] = stream.tee() before, follow the first, and hand the second to the code under test.',
      below,
    );
  }
  return (sink) => {
    const reader = stream.getReader();
    return pull(sink, { next: () => reader.read(), return: () => reader.cancel() });
  };
}

function connectIterable(source: object): Connect {
  return (sink) => pull(sink, (source as AsyncIterable<unknown>)[Symbol.asyncIterator]());
}

/** A source from which items are pulled one by one. */
interface Pulled {
  next(): PromiseLike<{ readonly done?: boolean; readonly value?: unknown }>;
  return?(): PromiseLike<unknown>;
}

/** How many items are taken in a row before others have their turn. */
const inARow = 1_000;

/** Takes one item after the other, until there is none or it is ended. */
function pull(sink: Sink, source: Pulled): Release {
  let isOver = false;

  async function run(): Promise<void> {
    try {
      for (let taken = 1; !isOver; taken++) {
        const { done, value } = await source.next();
        if (isOver) return;
        if (done === true) {
          isOver = true;
          sink.end();
          return;
        }
        sink.item(value);
        // A source that always has another item ready would never let other code run.
        if (taken % inARow === 0) await new Promise<void>(nextTurn);
      }
    } catch (reason) {
      // After its subscription has ended, who ended it is told.
      if (isOver) throw reason;
      isOver = true;
      sink.fail(reason);
    }
  }

  const running = run();
  return () => {
    if (isOver) return undefined;
    isOver = true;
    return Promise.all([running, source.return?.()]);
  };
}
