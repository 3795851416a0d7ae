import { printClaimed } from '../notation/value.ts';
import { noteWritten } from '../record/slip.ts';
import type { Below } from '../value/below.ts';
import { ownPrinting, printsAs } from '../value/prints-as.ts';
import { takesOnly } from '../value/takes-only.ts';
import { asCalls } from './as-pattern.ts';
import { claimedValues } from './call.ts';
import type { EndWord, HeldEnd } from './event.ts';
import type { CallPattern, EntryPattern, Fitting } from './types.ts';

type AnyEntries = EntryPattern<readonly unknown[], unknown>;

/**
 * Calls at the moment they return, with any value or with this one.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * check(once(returned(call(weather.rain), 0)));
 * @see fulfilled for calls that return a promise
 */
export function returned<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...value: [value?: Fitting<R>]
): EntryPattern<A, R> {
  takesOnly(2, arguments, returned);
  return makeEnd('returned', ['returned'], p, value, returned) as EntryPattern<A, R>;
}

/**
 * Calls at the moment they throw, with any reason or with this one.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * check(never(threw(call(dome.open))));
 */
export function threw<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...reason: [reason?: unknown]
): EntryPattern<A, R> {
  takesOnly(2, arguments, threw);
  return makeEnd('threw', ['threw'], p, reason, threw) as EntryPattern<A, R>;
}

/**
 * Calls at the moment their promise fulfils, with any value or with this one. If a call returned a promise that cannot
 * be followed, it is unknown whether it matches.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * inTurn(fulfilled(call(mount.slewTo)), call(camera.expose))
 */
export function fulfilled<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...value: [value?: Fitting<Awaited<R>>]
): EntryPattern<A, R> {
  takesOnly(2, arguments, fulfilled);
  return makeEnd('fulfilled', ['fulfilled'], p, value, fulfilled) as EntryPattern<A, R>;
}

/**
 * Calls at the moment their promise rejects, with any reason or with this one.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * check(never(rejected(call(archive.store))));
 */
export function rejected<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...reason: [reason?: unknown]
): EntryPattern<A, R> {
  takesOnly(2, arguments, rejected);
  return makeEnd('rejected', ['rejected'], p, reason, rejected) as EntryPattern<A, R>;
}

/**
 * Calls at the moment their promise settles, either way.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * during({ from: call(mount.slewTo), until: settled(call(mount.slewTo)) }, never(call(camera.expose)))
 */
export function settled<A extends readonly unknown[], R>(p: CallPattern<A, R>): EntryPattern<A, R> {
  takesOnly(1, arguments, settled);
  return makeEnd('settled', ['fulfilled', 'rejected'], p, [], settled) as EntryPattern<A, R>;
}

/**
 * Calls that have begun and not ended. Use it in counts; it cannot be a step.
 *
 * @throws TypeError if it is given no pattern of calls
 * @example
 * check(never(unfinished(call(archive.store))));
 */
export function unfinished<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
): EntryPattern<A, R> {
  takesOnly(1, arguments, unfinished);
  return makeEnd('unfinished', ['running', 'pending'], p, [], unfinished) as EntryPattern<A, R>;
}

function makeEnd(
  word: EndWord,
  states: HeldEnd['states'],
  pattern: unknown,
  value: readonly unknown[],
  below: Below,
): AnyEntries {
  const calls = asCalls(pattern, `${word}(call(mount.slewTo))`, below);
  const claimed = claimedValues(value, calls.member, below);
  const of = word === 'unfinished' ? 'unfinished' : 'ends';
  const end: HeldEnd = makeEndPattern({ of, word, calls, states, claimed });
  return noteWritten(calls.member.journal, 'pattern', end, below) as unknown as AnyEntries;
}

const makeEndPattern = ownPrinting<Omit<HeldEnd, typeof printsAs>>(
  ({ word, calls, claimed }) => `${word} ${calls[printsAs]}${withValue(claimed)}`,
);

/** The value at an end, or that of an item, as a pattern of it is written; nothing if none is claimed. */
export function withValue(claimed: readonly unknown[]): string {
  return claimed.length === 0 ? '' : ` with ${printClaimed(claimed[0])}`;
}
