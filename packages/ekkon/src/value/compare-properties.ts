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
  claimed: object,
  recorded: object,
  which: 'listed' | 'all' = 'listed',
): void {
  const hasMore = hasExtras(claimed) || hasExtras(recorded);
  const keysIn = which === 'all' ? allIn : listedKeys;
  const claimedKeys = hasMore ? keysIn(claimed) : keysOf(claimed);
  const recordedKeys = hasMore ? keysIn(recorded) : keysOf(recorded);
  if (!sameKeys(claimedKeys, recordedKeys)) {
    compareKeys(comparison, claimed, claimedKeys, recorded, recordedKeys);
    return;
  }
  for (let at = 0; at < claimedKeys.length; at++) {
    const key = claimedKeys[at] as PropertyKey;
    const [one, other] = [read(claimed, key), read(recorded, key)];
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
  claimed: object,
  claimedKeys: readonly PropertyKey[],
  recorded: object,
  recordedKeys: readonly PropertyKey[],
): void {
  const missing: PropertyKey[] = [];
  for (const key of claimedKeys) {
    if (hasOwn(recorded, key)) comparison.below(key, read(claimed, key), read(recorded, key));
    else missing.push(key);
    if (comparison.full) return;
  }
  const surplus = new Set(recordedKeys.filter((key) => !hasOwn(claimed, key)));
  const search = startNameSearch();
  for (const key of missing) {
    const renamed = comparison.asksOnlyWhether
      ? undefined
      : likelyRename(comparison, key, read(claimed, key), recorded, surplus, search);
    if (renamed === undefined) {
      noteMissing(comparison, key, read(claimed, key), recorded);
    } else {
      surplus.delete(renamed);
      noteRename(comparison, key, read(claimed, key), renamed, read(recorded, renamed));
    }
  }
  for (const key of surplus) comparison.surplus(key, read(recorded, key));
}

/** Notes that nothing was recorded below a key, unless that is an accessor of the object's class, which was not run. */
export function noteMissing(
  comparison: Comparison,
  key: PropertyKey,
  claimed: unknown,
  recorded: object,
): void {
  if (!isInherited(recorded, key)) {
    comparison.missing(key, claimed);
    return;
  }
  comparison.path.push(key);
  comparison.add('opaque', claimed, recorded, { why: 'inherited', reason: key });
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
  claimed: unknown,
  recorded: object,
  surplus: ReadonlySet<PropertyKey>,
  search: NameSearch,
): PropertyKey | undefined {
  if (typeof missing !== 'string' || search.letters <= 0) return undefined;
  const names = [...surplus].filter((key) => typeof key === 'string');
  const near = nearNames(missing, names, search);
  return near.find((key) => comparison.fitOf(claimed, read(recorded, key)) === 'fits') ?? near[0];
}

function noteRename(
  comparison: Comparison,
  from: PropertyKey,
  claimed: unknown,
  key: PropertyKey,
  recorded: unknown,
): void {
  comparison.path.push(key);
  comparison.add('renamed', claimed, recorded, { from });
  comparison.walk(claimed, recorded);
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
