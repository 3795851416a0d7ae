import { printLine, shortValue } from '../notation/value.ts';
import { copyList } from '../record/copy.ts';
import { ownPrinting, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, noteWritten } from '../record/written.ts';
import type { HeldEnd } from './event.ts';
import { type CallPattern, type EventPattern, type Fitting, patternOf } from './pattern.ts';

/**
 * The same calls at the moment they return, with any value or with this one.
 *
 * @throws TypeError where it is given no pattern of calls
 * @example
 * check(once(gave(call(weather.rain), 0)));
 * @see fulfilled for calls that give a promise
 */
export function gave<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...value: [value?: Fitting<R>]
): EventPattern {
  return makeEnd('gave', ['returned'], p, value, gave);
}

/** The same calls at the moment they throw, with any reason or with this one. */
export function raised(p: EventPattern, ...reason: [reason?: unknown]): EventPattern {
  return makeEnd('raised', ['threw'], p, reason, raised);
}

/**
 * The same calls at the moment their promise fulfils, with any value or with this one.
 *
 * @example
 * inTurn(fulfilled(call(mount.slewTo)), call(camera.expose))
 */
export function fulfilled<A extends readonly unknown[], R>(
  p: CallPattern<A, R>,
  ...value: [value?: Fitting<Awaited<R>>]
): EventPattern {
  return makeEnd('fulfilled', ['fulfilled'], p, value, fulfilled);
}

/** The same calls at the moment their promise rejects, with any reason or with this one. */
export function rejected(p: EventPattern, ...reason: [reason?: unknown]): EventPattern {
  return makeEnd('rejected', ['rejected'], p, reason, rejected);
}

/** The same calls at the moment their promise settles, either way. */
export function settled(p: EventPattern): EventPattern {
  return makeEnd('settled', ['fulfilled', 'rejected'], p, [], settled);
}

/**
 * The same calls, begun and not ended: for counts, not for steps.
 *
 * @example
 * check(never(unfinished(call(archive.store))));
 */
export function unfinished(p: EventPattern): EventPattern {
  return makeEnd('unfinished', ['running', 'pending'], p, [], unfinished);
}

function makeEnd(
  word: string,
  states: HeldEnd['states'],
  pattern: unknown,
  value: readonly unknown[],
  below: (...args: never[]) => unknown,
): EventPattern {
  const calls = patternOf(pattern);
  if (calls === undefined || calls.of !== 'call') {
    refuse(
      `${word}() takes a pattern of calls, and was given ${shortValue(pattern)}. Write ${word}(call(mount.slewTo)).`,
      below,
    );
  }
  const { record } = calls.member;
  noteUsed(record, calls);
  const claimed = copyList(value, record).values;
  const of = word === 'unfinished' ? 'unfinished' : 'end';
  const end: HeldEnd = makeEndPattern({ of, word, calls, states, claimed });
  return noteWritten(record, 'pattern', end, below) as unknown as EventPattern;
}

const makeEndPattern = ownPrinting<Omit<HeldEnd, typeof printsAs> & { readonly word: string }>(
  ({ word, calls, claimed }) => {
    const result = claimed.length === 0 ? '' : ` → ${printLine(claimed[0])}`;
    return `${word} ${calls[printsAs]}${result}`;
  },
);
