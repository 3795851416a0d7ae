import { printClaimed, shortValue } from '../notation/value.ts';
import { kindOf } from '../value/kind.ts';
import { refuse } from '../value/refuse.ts';
import { flagsOf, regexpSource } from '../value/slots.ts';
import { takesOnly } from '../value/takes-only.ts';
import { type Matcher, makeTest } from './matcher.ts';

/**
 * Accepts texts in which a regular expression finds a match. Each text is searched from its start, even if the flags
 * `g` or `y` are set.
 *
 * @throws TypeError if it is given no regular expression
 * @example
 * call(nightLog.write, [textLike(/^frame-\d+ stored/)])
 */
export function textLike(pattern: RegExp): Matcher<string> {
  takesOnly(1, arguments, textLike);
  if (typeof pattern !== 'object' || pattern === null || kindOf(pattern) !== 'regexp') {
    refuse(
      `textLike() takes a regular expression, and was given ${shortValue(pattern)}. For a part of a text write includes(${shortValue(pattern)}).`,
      textLike,
    );
  }
  const own = new RegExp(regexpSource.call(pattern), flagsOf(pattern).replace(/[gy]/g, ''));
  return makeTest(
    'textLike',
    [own],
    `textLike(${printClaimed(pattern)})`,
    (received) => typeof received === 'string' && own.test(received),
  );
}

/**
 * Accepts texts that start with a part.
 *
 * @throws TypeError if the part is not a string, or empty, because it would accept every text
 * @example
 * call(nightLog.write, [startsWith('night'), anyRest])
 */
export function startsWith(part: string): Matcher<string> {
  takesOnly(1, arguments, startsWith);
  return affix('startsWith', part, startsWith, (received) => received.startsWith(part));
}

/**
 * Accepts texts that end with a part.
 *
 * @throws TypeError if the part is not a string, or empty, because it would accept every text
 * @example
 * call(nightLog.write, [endsWith('.fits')])
 */
export function endsWith(part: string): Matcher<string> {
  takesOnly(1, arguments, endsWith);
  return affix('endsWith', part, endsWith, (received) => received.endsWith(part));
}

function affix(
  name: string,
  part: string,
  below: (part: string) => unknown,
  holds: (received: string) => boolean,
): Matcher<string> {
  if (typeof part !== 'string' || part === '') {
    refuse(
      `${name}() takes a string that is not empty, not ${shortValue(part)}. For any text write typeOf('string').`,
      below,
    );
  }
  return makeTest(
    name,
    [part],
    `${name}(${printClaimed(part)})`,
    (received) => typeof received === 'string' && holds(received),
  );
}
