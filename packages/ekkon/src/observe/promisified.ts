import { type Answering, type RecordedFunction, respond } from '../double/recorded.ts';
import { type HeldEntry, isRunning } from '../record/journal.ts';
import type { RealFunction } from '../record/member.ts';
import { finish, recordCall } from '../record/record-call.ts';

/** The property by which a function of Node's says how it is called by `util.promisify`. */
const way: unique symbol = Symbol.for('nodejs.util.promisify.custom') as never;

type Callback = (...results: unknown[]) => void;

/** How such a function of Node's takes its callback, if not as its last argument with the error first. */
interface Form {
  readonly isCallbackFirst?: boolean;
  /** Whether its callback gets no error. */
  readonly hasNoError?: boolean;
  /** The names of several results. */
  readonly results?: readonly string[];
}

const forms: Readonly<Record<string, Form>> = {
  exec: { results: ['stdout', 'stderr'] },
  execFile: { results: ['stdout', 'stderr'] },
  exists: { hasNoError: true },
  question: { hasNoError: true },
  setImmediate: { isCallbackFirst: true, hasNoError: true },
  setTimeout: { isCallbackFirst: true, hasNoError: true },
};

/**
 * Makes `util.promisify` of a replacement a call of the replacement. Without this it would find the way of the
 * real function, which the replacement inherits, and run that unrecorded.
 *
 * A call is recorded with the arguments that the caller wrote. A plan may answer with a promise, or by calling
 * back: it gets a callback as `util.promisify` adds one.
 */
export function recordPromisified(
  recorded: RecordedFunction,
  answering: Answering,
  real: RealFunction,
): void {
  const realWay: unknown = Reflect.get(real, way);
  if (typeof realWay !== 'function') return;
  const { journal, target, otherwise } = answering.member;
  const form = forms[real.name] ?? {};
  function answer(entry: HeldEntry, receiver: unknown, args: unknown[]): unknown {
    if (otherwise === 'real' && answering.plans.length === 0)
      return finish(journal, entry, Reflect.apply(realWay as RealFunction, receiver, args), 'real');
    let settle: { resolve(value: unknown): void; reject(reason: unknown): void } | undefined;
    const promise = new Promise((resolve, reject) => {
      settle = { resolve, reject };
    });
    const callback: Callback = (...results) => {
      const [error, ...values] = form.hasNoError === true ? [null, ...results] : results;
      if (error !== null && error !== undefined) settle?.reject(error);
      else settle?.resolve(named(values, form.results));
    };
    const given = form.isCallbackFirst === true ? [callback, ...args] : [...args, callback];
    const result = respond(entry, receiver, given, answering);
    if (!isRunning(entry)) return result;
    return result instanceof Promise ? result : promise;
  }
  function promisified(this: unknown, ...args: unknown[]): unknown {
    return recordCall(journal, target, 'call', this, args, promisified, answer, undefined);
  }
  Object.defineProperty(recorded, way, { value: promisified, configurable: true });
}

function named(values: readonly unknown[], names: readonly string[] | undefined): unknown {
  if (names === undefined) return values[0];
  return Object.fromEntries(names.map((name, at) => [name, values[at]]));
}
