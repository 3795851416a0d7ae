import { shortValue } from '../notation/value.ts';
import type { FollowedStream } from '../record/member.ts';
import { tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { makePattern } from './properties.ts';
import type { EntryPattern, Fitting } from './types.ts';

/** A source whose items, end and failure a ledger records. */
export interface Stream<T> {
  /** The items so far, as they were when they came. */
  readonly items: readonly T[];
}

/**
 * The items of a stream: any of them, or those of a value.
 *
 * @throws TypeError if it is given no stream
 * @example
 * import { Readable } from 'node:stream';
 *
 * const readings = ledger.follow(Readable.from([0, 0.4]), 'readings');
 * await reach(once(item(readings, about(0.4))));
 * @see exactItems for all of them
 */
export function item<T>(
  stream: Stream<T>,
  ...value: [value?: Fitting<T>]
): EntryPattern<[T], undefined> {
  takesOnly(2, arguments, item);
  const { member } = asStream(stream, item);
  return makePattern('item', member, value, item) as EntryPattern<[T], undefined>;
}

/**
 * The moment at which a stream comes to its end.
 *
 * @throws TypeError if it is given no stream
 * @example
 * import { Readable } from 'node:stream';
 *
 * const readings = ledger.follow(Readable.from([0.4]), 'readings');
 * await reach(once(completed(readings)));
 * dome.close();
 * check(inTurn(item(readings), completed(readings), call(dome.close)));
 */
export function completed(stream: Stream<unknown>): EntryPattern<[], undefined> {
  takesOnly(1, arguments, completed);
  const { member } = asStream(stream, completed);
  return makePattern('end', member, [], completed) as EntryPattern<[], undefined>;
}

/**
 * The moment at which a stream fails, for any reason or for this one.
 *
 * @throws TypeError if it is given no stream
 * @example
 * import { Readable } from 'node:stream';
 *
 * const readings = ledger.follow(Readable.from([0.4]), 'readings');
 * await reach(once(completed(readings)));
 * check(never(failed(readings)));
 */
export function failed(
  stream: Stream<unknown>,
  ...reason: [reason?: unknown]
): EntryPattern<[unknown], undefined> {
  takesOnly(2, arguments, failed);
  const { member } = asStream(stream, failed);
  return makePattern('failure', member, reason, failed) as EntryPattern<[unknown], undefined>;
}

/** The stream behind its public type. */
export function asStream(value: unknown, below: Below): FollowedStream {
  const held = tied(value);
  if (held?.is === 'stream') return held;
  refuse(
    `${below.name}() takes a stream that a ledger follows, and was given ${shortValue(value)}. Write ${below.name}(readings), if readings came from ledger.follow(source, 'readings').`,
    below,
  );
}
