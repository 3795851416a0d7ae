import { printArguments } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { copyList } from '../record/copy.ts';
import type { FollowedStream } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import type { EventPattern, Fitting, HeldPattern } from './pattern.ts';
import { makePattern } from './properties.ts';

type Below = (...args: never[]) => unknown;

/** A source whose items, end and failure a ledger records. */
export interface Stream<T> {
  /** The items so far, as they were when they came. */
  readonly items: readonly T[];
}

/**
 * The items of a stream: any of them, or those of a value.
 *
 * @throws TypeError where it is given no stream
 * @example
 * await reach(once(item(readings, about(0.4))));
 * @see exactItems for all of them
 */
export function item<T>(stream: Stream<T>, ...value: [value?: Fitting<T>]): EventPattern {
  return makeStreamPattern('item', stream, value, item);
}

/**
 * The moment at which a stream comes to its end.
 *
 * @throws TypeError where it is given no stream
 * @example
 * inTurn(item(readings), completed(readings), call(dome.close))
 */
export function completed(stream: Stream<unknown>): EventPattern {
  return makeStreamPattern('end', stream, [], completed);
}

/**
 * The moment at which a stream fails, for any reason or for this one.
 *
 * @throws TypeError where it is given no stream
 * @example
 * check(never(failed(readings)));
 */
export function failed(stream: Stream<unknown>, ...reason: [reason?: unknown]): EventPattern {
  return makeStreamPattern('failure', stream, reason, failed);
}

function makeStreamPattern(
  of: HeldPattern['of'],
  stream: unknown,
  value: readonly unknown[],
  below: Below,
): EventPattern {
  const { record, member, name } = streamOf(stream, below);
  const claimed =
    value.length === 0 ? undefined : { items: copyList(value, record).values, rest: false };
  const said = claimed === undefined ? '' : `, ${printArguments(claimed.items)}`;
  return makePattern({ of, member, claimed, [printsAs]: `${below.name}(${name}${said})` }, below);
}

/** The stream behind its public type. */
export function streamOf(value: unknown, below: Below): FollowedStream {
  const held = tied(value);
  if (held?.is === 'stream') return held;
  refuse(
    `${below.name}() takes a stream that a ledger follows, and was given ${shortValue(value)}. Write ${below.name}(readings), where readings came from ledger.follow(source, 'readings').`,
    below,
  );
}
