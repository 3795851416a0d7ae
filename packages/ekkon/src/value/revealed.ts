import { isOwn, makeOwn, printsAs } from './prints-as.ts';
import { refuse } from './refuse.ts';

type Class = abstract new (...args: never[]) => unknown;

/** How to read the hidden state of a class's instances. */
export interface Reveal {
  readonly type: Class;
}

/** A reveal behind its public type. */
export interface HeldReveal extends Reveal {
  readonly content: (value: object) => unknown;
  readonly [printsAs]: string;
}

/**
 * Reveals the hidden state of a class's instances, such as private fields. Such an instance is copied, compared and
 * printed by this. Pass it to the option `reveals` of a ledger. It applies to subclasses as well, and the last
 * matching one is used.
 *
 * @param content returns the state to compare; it must change nothing
 * @throws TypeError if the first is not a class, or the second not a function
 * @example
 * openLedger({ reveals: [reveal(Gauge, (gauge) => ({ celsius: gauge.read() }))] });
 */
export function reveal<T>(
  type: abstract new (...args: never[]) => T,
  content: (value: T) => unknown,
): Reveal {
  if (
    typeof type !== 'function' ||
    typeof type.prototype !== 'object' ||
    typeof content !== 'function'
  ) {
    refuse(
      'reveal() takes a class and a function that returns the state of an instance: reveal(Gauge, (gauge) => gauge.read()).',
      reveal,
    );
  }
  const held: HeldReveal = {
    type,
    content: content as (value: object) => unknown,
    [printsAs]: `reveal(${type.name}, …)`,
  };
  return makeOwn(held);
}

/** The reveal behind its public type; `undefined` if the value is none. */
export function revealOf(value: unknown): HeldReveal | undefined {
  return isOwn(value) && 'content' in value && 'type' in value
    ? (value as unknown as HeldReveal)
    : undefined;
}

/** An instance in a copy: its class, and the state that was revealed at that moment. */
export interface Revealed {
  readonly revealed: Class;
  readonly content: unknown;
  readonly [printsAs]: string;
}

/** Makes the stand-in for an instance in a copy. */
export function makeRevealed(type: Class, content: unknown): Revealed {
  return makeOwn({ revealed: type, content, [printsAs]: `‹${type.name}›` });
}

/** Whether a value found in a copy stands for a revealed instance. */
export function isRevealed(value: unknown): value is Revealed {
  return isOwn(value) && 'revealed' in value;
}

/** The reveal for a value's class, if there is one; the last one given comes first. */
export function revealFor(reveals: readonly HeldReveal[], value: object): HeldReveal | undefined {
  return reveals.findLast(({ type }) => Object.prototype.isPrototypeOf.call(type.prototype, value));
}
