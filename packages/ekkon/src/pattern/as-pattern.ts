import { shortValue } from '../notation/value.ts';
import type { Journal } from '../record/journal.ts';
import { noteUsed } from '../record/slip.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { eventOf, type HeldEvent, type HeldPattern, isEnd, journalOf, patternOf } from './event.ts';

/**
 * The pattern behind its public type; this counts as a use of it.
 *
 * @param example what could be written instead, for the error
 * @throws TypeError if it is none, with the name of the public function
 */
export function asPattern(value: unknown, example: string, below: Below): HeldEvent {
  const event = eventOf(value);
  if (event === undefined) {
    refuse(
      `${below.name}() takes a pattern, and was given ${shortValue(value)}. Write ${example}.`,
      below,
    );
  }
  noteUsed(journalOf(event), event);
  return event;
}

/** A pattern of calls, constructions or reads: events that can be answered and can end. */
export function asCalls(value: unknown, example: string, below: Below): HeldPattern {
  const calls = patternOf(value);
  if (calls === undefined || (calls.of !== 'call' && calls.of !== 'read')) {
    refuse(
      `${below.name}() takes a pattern of calls, and was given ${shortValue(value)}. Write ${example}.`,
      below,
    );
  }
  noteUsed(calls.member.journal, calls);
  return calls;
}

/** A pattern that means a moment: `unfinished` does not. */
export function asMoment(value: unknown, example: string, below: Below): HeldEvent {
  const event = asPattern(value, example, below);
  if (isEnd(event) && event.of === 'unfinished') {
    refuse(
      `${below.name}(): ${event[printsAs]} is not a moment and has no place in an order; use it in a count: never(unfinished(…)).`,
      below,
    );
  }
  return event;
}

/**
 * The one ledger of some parts of a claim.
 *
 * @param what the parts, in words: `steps`
 * @throws TypeError if they belong to two
 */
export function oneLedger(journals: readonly Journal[], what: string, below: Below): Journal {
  const [first, other] = new Set(journals);
  if (first === undefined) throw new RangeError('a claim speaks of at least one ledger');
  if (other !== undefined) {
    refuse(
      `${below.name}() was given ${what} of two ledgers, ${bothNames(first, other)}. A claim is about one ledger: make both doubles with the same ledger.`,
      below,
    );
  }
  return first;
}

/** Two ledgers by name: `"dusk" and "dawn"`, `both named "dusk"`. */
export function bothNames(one: Journal, other: Journal): string {
  return one.name === other.name ? `both named "${one.name}"` : `"${one.name}" and "${other.name}"`;
}
