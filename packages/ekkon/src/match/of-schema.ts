import { shortValue } from '../notation/value.ts';
import type { Difference } from '../value/difference.ts';
import { makeOwn, printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { askAbout } from './ask.ts';
import { type Matcher, makeMatcher, makeReference } from './matcher.ts';

/** The Standard Schema interface, version 1 (standardschema.dev). */
interface StandardSchema {
  readonly '~standard': {
    readonly version: 1;
    readonly vendor?: string;
    validate(value: unknown): unknown;
  };
}

interface Issue {
  readonly message: string;
  readonly path?: readonly (PropertyKey | { readonly key: PropertyKey })[];
}

/**
 * Accepts values that a schema accepts: any schema with the Standard Schema interface. Each issue of the schema is a
 * difference at its path. The schema's output value is not used.
 *
 * A claim is judged at once: if the schema returns a promise, or throws, it is unknown whether the value matches, and
 * a claim that depends on it does not hold.
 *
 * @throws TypeError if it is given no such schema
 * @example
 * import { z } from 'zod';
 *
 * const frame = z.object({ id: z.string().startsWith('frame-'), seconds: z.number().positive() });
 * await archive.store({ id: 'frame-1', seconds: 30 });
 * check(once(call(archive.store, [ofSchema(frame)])));
 */
export function ofSchema(schema: {
  readonly '~standard': { readonly version: 1 };
}): Matcher<never> {
  takesOnly(1, arguments, ofSchema);
  const standard = (schema as Partial<StandardSchema> | undefined | null)?.['~standard'];
  if (standard?.version !== 1 || typeof standard.validate !== 'function') {
    refuse(
      `ofSchema() takes a schema with the Standard Schema interface ("~standard", version 1), and was given ${shortValue(schema)}.`,
      ofSchema,
    );
  }
  const name = `ofSchema(${standard.vendor ?? 'schema'})`;
  const matcher: Matcher<never> = makeMatcher({
    family: 'ofSchema',
    asks: true,
    parameters: [makeReference(schema)],
    prints: name,
    differences(received, context) {
      const undecided = (why: 'failed' | 'answer', reason: unknown) =>
        [{ path: [], kind: 'opaque', expected: matcher, received, why, reason }] as const;
      try {
        const answer = askAbout(received, context, (value) => standard.validate?.(value));
        if (isThenable(answer)) {
          answer.then(undefined, () => undefined);
          return undecided('answer', answer);
        }
        const issues = issuesIn(answer);
        if (issues === undefined) return undecided('answer', answer);
        return issues.map((issue) => differenceOf(issue, received));
      } catch (reason) {
        return undecided('failed', reason);
      }
    },
  });
  return matcher;
}

/** The issues of a result; none if it is a success, `undefined` if it is not a result of a Standard Schema. */
function issuesIn(answer: unknown): readonly Issue[] | undefined {
  if (typeof answer !== 'object' || answer === null) return undefined;
  const { issues } = answer as { readonly issues?: unknown };
  if (issues === undefined) return 'value' in answer ? [] : undefined;
  return Array.isArray(issues) && issues.length > 0 && issues.every(isIssue) ? issues : undefined;
}

function isIssue(value: unknown): value is Issue {
  return (
    typeof value === 'object' &&
    value !== null &&
    'message' in value &&
    typeof value.message === 'string'
  );
}

function isThenable(
  value: unknown,
): value is { then(yes: undefined, no: () => undefined): unknown } {
  return (
    typeof value === 'object' &&
    value !== null &&
    'then' in value &&
    typeof value.then === 'function'
  );
}

function differenceOf({ message, path = [] }: Issue, received: unknown): Difference {
  const keys = path.map((segment) => (typeof segment === 'object' ? segment.key : segment));
  const expected = makeOwn({ [printsAs]: `‹${message}›` });
  let held: unknown = received;
  for (const key of keys) {
    if (typeof held !== 'object' || held === null || !Object.hasOwn(held, key)) {
      return { path: keys, kind: 'missing', expected };
    }
    held = Reflect.get(held, key);
  }
  return { path: keys, kind: 'changed', expected, received: held };
}
