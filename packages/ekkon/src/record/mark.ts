import { inQuotes } from '../value/escape.ts';
import { isOwn, makeOwn, printsAs } from '../value/prints-as.ts';
import type { Journal } from './journal.ts';

/** A moment that the test marked. */
export interface Mark {
  readonly tick: number;
}

/** A mark behind its public type. */
export interface HeldMark extends Mark {
  readonly journal: Journal;
  /** The test's name for it; `undefined` if it gave none. */
  readonly label: string | undefined;
  readonly [printsAs]: string;
}

/** The mark behind its public type; `undefined` if the value is none. */
export function markOf(value: unknown): HeldMark | undefined {
  return isMark(value) ? value : undefined;
}

/** Whether an event of a journal, or a bound of a stretch, is a mark. */
export function isMark(value: unknown): value is HeldMark {
  return isOwn(value) && 'tick' in value && 'journal' in value;
}

/** Makes a mark at a tick; one without a label cannot be named in a text. */
export function makeMark(journal: Journal, tick: number, label: string | undefined): HeldMark {
  const said = label === undefined ? 'mark' : `mark ${inQuotes(label)}`;
  return makeOwn({ tick, journal, label, [printsAs]: said });
}
