import { fitOf, noContext } from '../match/compare.ts';
import { matchingOf } from '../match/matcher.ts';
import type { Outcome } from '../record/entry.ts';
import { kindOf } from '../value/kind.ts';
import type { HeldEnd, HeldPattern } from './event.ts';

/** No value is known that would fit. */
export const unknownValue: unique symbol = Symbol('unknown');

/**
 * Arguments that match a pattern: the recorded ones where they do, the expected ones elsewhere.
 *
 * @returns `undefined` if there is a matcher without a known matching value
 */
export function fittingArguments(
  { claimed, lens }: HeldPattern,
  recorded: readonly unknown[],
): readonly unknown[] | undefined {
  if (claimed === undefined) return recorded;
  // The arguments behind a certain view are unknown.
  if (lens !== undefined) return undefined;
  const { items, rest } = claimed;
  const made: unknown[] = [];
  for (let at = 0; at < items.length; at++) {
    const value = fitting(items[at], at < recorded.length ? recorded[at] : unknownValue);
    if (value === unknownValue) {
      if (matchingOf(items[at])?.acceptsAbsence === true && at >= recorded.length) break;
      return undefined;
    }
    made.push(value);
  }
  return rest ? [...made, ...recorded.slice(items.length)] : made;
}

/** An outcome that matches a pattern's expected end; `undefined` if none is known, or none is expected. */
export function fittingOutcome(event: HeldEnd, recorded: Outcome): Outcome | undefined {
  const state = event.states.includes(recorded.state) ? recorded.state : event.states[0];
  const before =
    'value' in recorded ? recorded.value : 'reason' in recorded ? recorded.reason : undefined;
  const value = event.claimed.length === 0 ? before : fitting(event.claimed[0], before);
  if (value === unknownValue) return undefined;
  switch (state) {
    case 'returned':
    case 'fulfilled':
      return { state, value };
    case 'threw':
    case 'rejected':
      return { state, reason: value };
    default:
      return undefined;
  }
}

/** The copies made for expected objects so far, for cycles and shared parts. */
type Made = Map<object, object>;

/** A value that fits a claimed one: the recorded one if it does. */
function fitting(claimed: unknown, recorded: unknown, known: Made = new Map()): unknown {
  if (recorded !== unknownValue && fitOf(claimed, recorded, noContext) === 'fits') return recorded;
  const matching = matchingOf(claimed);
  if (matching !== undefined) {
    const made = byFamily[matching.family]?.(matching.parameters, recorded) ?? unknownValue;
    return made !== unknownValue && fitOf(claimed, made, noContext) === 'fits'
      ? made
      : unknownValue;
  }
  if (typeof claimed !== 'object' || claimed === null) return claimed;
  const before = known.get(claimed);
  if (before !== undefined) return before;
  const kind = kindOf(claimed);
  if (kind === 'array') return fittingItems(claimed as readonly unknown[], recorded, known);
  return kind === 'plain' ? fittingProperties(claimed, recorded, known) : claimed;
}

function fittingItems(claimed: readonly unknown[], recorded: unknown, known: Made): unknown {
  const held = Array.isArray(recorded) ? (recorded as readonly unknown[]) : [];
  const made: unknown[] = [];
  known.set(claimed, made);
  claimed.forEach((item, at) => {
    made[at] = fitting(item, at < held.length ? held[at] : unknownValue, known);
  });
  return made.includes(unknownValue) ? unknownValue : made;
}

function fittingProperties(claimed: object, recorded: unknown, known: Made): unknown {
  const held = isObject(recorded) ? recorded : {};
  const made: Record<string, unknown> = {};
  known.set(claimed, made);
  for (const key of Object.keys(claimed)) {
    const value = fitting(
      (claimed as Readonly<Record<string, unknown>>)[key],
      Object.hasOwn(held, key) ? (held as Readonly<Record<string, unknown>>)[key] : unknownValue,
      known,
    );
    if (value === unknownValue) {
      const isAbsent =
        matchingOf((claimed as Readonly<Record<string, unknown>>)[key])?.acceptsAbsence === true;
      if (isAbsent) continue;
      return unknownValue;
    }
    Object.defineProperty(made, key, {
      value,
      writable: true,
      enumerable: true,
      configurable: true,
    });
  }
  return made;
}

type Make = (parameters: readonly unknown[], recorded: unknown) => unknown;

/** A matching value for each family of matchers that has one. It is tested before it is used. */
const byFamily: Readonly<Record<string, Make>> = {
  anything: () => 0,
  nullish: () => null,
  about: ([value]) => value,
  between: ([low]) => low,
  startsWith: ([part]) => part,
  endsWith: ([part]) => part,
  includes: ([part], recorded) => (Array.isArray(recorded) ? [...recorded, part] : part),
  typeOf: ([name]) => samples[String(name)] ?? unknownValue,
  allItems: () => [],
  sized: ([size]) =>
    typeof size === 'number' && size < 1_000 ? new Array(size).fill(0) : unknownValue,
  unordered: ([items], recorded) => fitting(items, recorded),
  partial: ([part], recorded) => {
    const made = isObject(part) ? fittingProperties(part, recorded, new Map()) : unknownValue;
    return made === unknownValue || !isObject(recorded)
      ? made
      : { ...recorded, ...(made as object) };
  },
  allOf: (claimed, recorded) =>
    claimed.reduce((made, each) => (made === unknownValue ? made : fitting(each, made)), recorded),
  anyOf: (claimed, recorded) =>
    claimed.reduce(
      (made, each) => (made === unknownValue ? fitting(each, recorded) : made),
      unknownValue as unknown,
    ),
};

const samples: Readonly<Record<string, unknown>> = {
  string: '',
  number: 0,
  boolean: true,
  bigint: 0n,
  object: {},
  function: () => {},
};

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
