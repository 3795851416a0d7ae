import type { Comparison } from './comparison.ts';
import { hasExtras } from './extras.ts';
import { kindOf } from './kind.ts';
import { type NameSearch, nearNames, startNameSearch } from './near-names.ts';
import { descriptorOf, listedKeys } from './prototype-chain.ts';
import { isSnapshot } from './snapshot.ts';

const { keys: keysOf, hasOwn } = Object;

/**
 * Compares two objects by their own properties: those that can be enumerated, or all that were recorded.
 *
 * A key that is missing beside one that is too many, with a name like it, is a likely rename.
 */
export function compareProperties(
  comparison: Comparison,
  expected: object,
  received: object,
  which: 'listed' | 'all' = 'listed',
): void {
  const hasMore = hasExtras(expected) || hasExtras(received);
  const keysIn = which === 'all' ? allIn : listedKeys;
  const claimedKeys = hasMore ? keysIn(expected) : keysOf(expected);
  const recordedKeys = hasMore ? keysIn(received) : keysOf(received);
  if (!sameKeys(claimedKeys, recordedKeys)) {
    compareKeys(comparison, expected, claimedKeys, received, recordedKeys);
    return;
  }
  for (let at = 0; at < claimedKeys.length; at++) {
    const key = claimedKeys[at] as PropertyKey;
    const [one, other] = [read(expected, key), read(received, key)];
    if (one !== other) comparison.below(key, one, other);
  }
}

/** Whether two lists of keys are the same, in the same order. */
function sameKeys(one: readonly PropertyKey[], other: readonly PropertyKey[]): boolean {
  if (one.length !== other.length) return false;
  for (let at = 0; at < one.length; at++) if (one[at] !== other[at]) return false;
  return true;
}

function compareKeys(
  comparison: Comparison,
  expected: object,
  claimedKeys: readonly PropertyKey[],
  received: object,
  recordedKeys: readonly PropertyKey[],
): void {
  const missing: PropertyKey[] = [];
  for (const key of claimedKeys) {
    if (hasOwn(received, key)) comparison.below(key, read(expected, key), read(received, key));
    else missing.push(key);
    if (comparison.full) return;
  }
  const surplus = new Set(recordedKeys.filter((key) => !hasOwn(expected, key)));
  const search = startNameSearch();
  for (const key of missing) {
    const renamed = comparison.asksOnlyWhether
      ? undefined
      : likelyRename(comparison, key, read(expected, key), received, surplus, search);
    if (renamed === undefined) {
      noteMissing(comparison, key, read(expected, key), received);
    } else {
      surplus.delete(renamed);
      noteRename(comparison, key, read(expected, key), renamed, read(received, renamed));
    }
  }
  for (const key of surplus) comparison.surplus(key, read(received, key));
}

/** Notes that nothing was recorded below a key, unless that is an accessor of the object's class, which was not run. */
export function noteMissing(
  comparison: Comparison,
  key: PropertyKey,
  expected: unknown,
  received: object,
): void {
  if (!isInherited(received, key)) {
    comparison.missing(key, expected);
    return;
  }
  comparison.path.push(key);
  comparison.add('opaque', expected, received, { why: 'inherited', reason: key });
  comparison.path.pop();
}

/** Whether an object has an accessor that its class gives it. */
export function isInherited(value: object, key: PropertyKey): boolean {
  return descriptorOf(isSnapshot(value) ? value.of : value, key)?.get !== undefined;
}

/** The surplus key whose name is nearest, if near at all; among equally near ones, one with an equal value. */
function likelyRename(
  comparison: Comparison,
  missing: PropertyKey,
  expected: unknown,
  received: object,
  surplus: ReadonlySet<PropertyKey>,
  search: NameSearch,
): PropertyKey | undefined {
  if (typeof missing !== 'string' || search.letters <= 0) return undefined;
  const names = [...surplus].filter((key) => typeof key === 'string');
  const near = nearNames(missing, names, search);
  return near.find((key) => comparison.fitOf(expected, read(received, key)) === 'fits') ?? near[0];
}

function noteRename(
  comparison: Comparison,
  from: PropertyKey,
  expected: unknown,
  key: PropertyKey,
  received: unknown,
): void {
  comparison.path.push(key);
  comparison.add('renamed', expected, received, { from });
  comparison.walk(expected, received);
  comparison.path.pop();
}

/** The keys of all properties that a copy has; where an error was thrown is none of them. */
function allIn(value: object): readonly PropertyKey[] {
  const keys = Reflect.ownKeys(value);
  return kindOf(value) === 'error' ? keys.filter((key) => key !== 'stack') : keys;
}

function read(value: object, key: PropertyKey): unknown {
  return (value as Readonly<Record<PropertyKey, unknown>>)[key];
}
