import { compareProperties } from './compare-properties.ts';
import type { Comparison } from './comparison.ts';
import { hidesState } from './hidden-state.ts';
import { kindOf } from './kind.ts';
import { recognise } from './platform/table.ts';
import { isSnapshot, type Snapshot } from './snapshot.ts';

/** Whether a value is an object that cannot be copied: one of the platform, or what was seen of it. */
export function isSeen(value: object): boolean {
  return isSnapshot(value) || kindOf(value) === 'platform';
}

/** Compares what cannot be copied by what it showed; a thing with an identity is none but itself. */
export function compareSeen(comparison: Comparison, one: object, other: object): void {
  const seen = (value: object) => (kindOf(value) === 'platform' ? comparison.copyOf(value) : value);
  const [claimed, recorded] = [seen(one), seen(other)];
  if (!isSnapshot(recorded) || recorded.type === undefined) {
    const areThings = isThing(claimed) && isThing(recorded);
    if (areThings) comparison.add('changed', claimed, recorded, { why: 'another' });
    else comparison.add('type', claimed, recorded);
    return;
  }
  if (!isSnapshot(claimed)) {
    const isDescribed = kindOf(claimed) === 'plain';
    if (isDescribed) compareProperties(comparison, claimed, recorded.content);
    else comparison.add('type', claimed, recorded);
    return;
  }
  if (claimed.type !== recorded.type || !areOfOneClass(claimed.of, recorded.of)) {
    comparison.add('type', claimed, recorded);
  } else if (claimed.state !== recorded.state) {
    comparison.add('changed', claimed, recorded);
  } else {
    compareShown(comparison, claimed, recorded);
  }
}

function compareShown(comparison: Comparison, claimed: Snapshot, recorded: Snapshot): void {
  const before = comparison.certain;
  if (comparison.isNew(claimed.content, recorded.content))
    compareProperties(comparison, claimed.content, recorded.content);
  if (comparison.certain > before) return;
  const unseen = claimed.unseen ?? recorded.unseen;
  if (unseen !== undefined)
    comparison.add('opaque', claimed, recorded, { why: 'unread', reason: unseen });
  else if (hidesState(recorded.of)) comparison.add('opaque', claimed, recorded, { why: 'hidden' });
}

function isThing(value: object): boolean {
  return isSnapshot(value) ? value.type === undefined : kindOf(value) === 'thing';
}

/** Whether two instances are of the same class; each realm has its own of the platform's. */
function areOfOneClass(one: object, other: object): boolean {
  const [first, second] = [Object.getPrototypeOf(one), Object.getPrototypeOf(other)];
  if (first === second) return true;
  const [made, found] = [recognise(first), recognise(second)];
  return made?.prototype === first && found?.prototype === second;
}
