import { printClaimed } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { takesOnly } from '../value/takes-only.ts';
import { compare } from './compare.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

/**
 * Accepts texts of JSON whose value matches. Spaces and the order of keys do not matter, and reports show differences
 * inside by their path.
 *
 * @param value the expected value, which may contain matchers
 * @example
 * call(nightLog.write, [jsonText({ id: 'frame-1', seconds: between(29, 31) }), anyRest])
 */
export function jsonText(value: unknown): Matcher<string> {
  takesOnly(1, arguments, jsonText);
  const expected = copyClaimed(value);
  const matcher: Matcher<string> = makeMatcher({
    family: 'jsonText',
    parameters: [expected],
    get prints() {
      return `jsonText(${printClaimed(expected)})`;
    },
    differences(received, context) {
      if (typeof received !== 'string')
        return [{ path: [], kind: 'type', expected: matcher, received }];
      let parsed: unknown;
      try {
        parsed = intrinsics.parse(received);
      } catch {
        return [{ path: [], kind: 'changed', expected: matcher, received }];
      }
      return compare(expected, parsed, context);
    },
  });
  return matcher;
}
