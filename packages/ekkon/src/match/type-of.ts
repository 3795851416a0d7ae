import { shortValue } from '../notation/value.ts';
import { areNamedAlike, isNamed } from '../value/named-class.ts';
import { chainOf } from '../value/prototype-chain.ts';
import { refuse } from '../value/refuse.ts';
import { isRevealed } from '../value/revealed.ts';
import { isSnapshot } from '../value/snapshot.ts';
import { takesOnly } from '../value/takes-only.ts';
import { type Matcher, makeTest } from './matcher.ts';

type Method = (...args: never[]) => unknown;

interface TypeNames {
  string: string;
  number: number;
  boolean: boolean;
  bigint: bigint;
  symbol: symbol;
  function: Method;
  object: object;
  undefined: undefined;
}

const names: ReadonlySet<string> = new Set<keyof TypeNames>([
  'string',
  'number',
  'boolean',
  'bigint',
  'symbol',
  'function',
  'object',
  'undefined',
]);

/**
 * Accepts values for which `typeof` returns this name. `"object"` does not accept `null`.
 *
 * @throws TypeError if there is no such name
 * @example
 * alarm.sound('wind');
 * check(once(call(alarm.sound, [typeOf('string')])));
 * @see instanceOf for classes
 */
export function typeOf<N extends keyof TypeNames>(
  name: N,
): Matcher<N extends 'object' | 'function' ? never : TypeNames[N]> {
  takesOnly(1, arguments, typeOf);
  if (!names.has(name)) {
    refuse(
      `typeOf(${shortValue(name)}): there is no such type. These are: ${[...names].join(', ')}.`,
      typeOf,
    );
  }
  return makeTest(
    'typeOf',
    [name],
    `typeOf(${shortValue(name)})`,
    (received) => received !== null && typeof received === name,
  );
}

/**
 * Accepts instances of a class and of its subclasses.
 *
 * @throws TypeError if it is given no class
 * @example
 * nightLog.write('dome not moved', new TypeError('jammed'));
 * check(once(call(nightLog.write, ['dome not moved', instanceOf(TypeError)])));
 */
export function instanceOf<T>(type: { readonly prototype: T }): Matcher<T> {
  takesOnly(1, arguments, instanceOf);
  if (!isClass(type)) {
    refuse(
      `instanceOf() takes a class, and was given ${shortValue(type)}. For primitives write typeOf('number').`,
      instanceOf,
    );
  }
  // By prototype, so neither a class's own test for instances nor the making of the copy matters.
  const prototype = type.prototype as object;
  const isInstance = (value: object) =>
    Object.prototype.isPrototypeOf.call(prototype, value) ||
    (isNamed(prototype) && chainOf(value).some((each) => areNamedAlike(each, prototype)));
  return makeTest(
    'instanceOf',
    [type],
    `instanceOf(${(type as { readonly name?: string }).name || 'class'})`,
    (received) => {
      // Whatever realm it is of: a function is recorded as itself.
      if ((type as unknown) === Function) return typeof received === 'function';
      if (isSnapshot(received)) return isInstance(received.of);
      if (isRevealed(received))
        return (received.revealed as unknown) === type || isInstance(received.revealed.prototype);
      return (
        ((typeof received === 'object' && received !== null) || typeof received === 'function') &&
        isInstance(received)
      );
    },
  );
}

function isClass(type: unknown): boolean {
  return typeof type === 'function' && (typeof type.prototype === 'object' || type === Function);
}
