import { addAll, copyKeys, copyOpen, copyTelling, hasAccessor } from './copy-properties.ts';
import {
  alike,
  budget,
  type Copying,
  copyAny,
  copyObserved,
  lookupGetter,
  remember,
  tooLarge,
} from './copying.ts';
import { tellingKeys } from './framework-parts.ts';
import { type Gap, makeGap } from './gap.ts';
import { isPrimitive } from './is-primitive.ts';
import { observedState } from './observed-state.ts';
import { isGenuine, printerOf, readState } from './platform/read.ts';
import { recognise } from './platform/table.ts';
import { Snapshot } from './snapshot.ts';

const { getPrototypeOf, getOwnPropertyDescriptor, getOwnPropertySymbols } = Object;

/** A class instance with all its own properties; nested values have less room. */
export function copyInstance(copying: Copying, value: object): unknown {
  const telling = tellingKeys(value);
  if (telling !== undefined) return copyTelling(copying, value, telling);
  const symbols = getOwnPropertySymbols(value);
  if (copying.isWithin)
    return isInner(value, symbols) ? innerPart(value) : copyParts(copying, value, symbols);
  const { nodes } = copying;
  copying.isWithin = true;
  copying.nodes = Math.min(nodes, budget.withinInstances);
  const room = copying.nodes;
  try {
    return copyParts(copying, value, symbols);
  } finally {
    copying.nodes = nodes - (room - Math.max(0, copying.nodes));
    copying.isWithin = false;
  }
}

/**
 * Whether a nested instance is part of the machinery of the one around it, and not of its content: a logger with
 * methods of its own, a framework's property under a symbol, a node of its tree.
 */
function isInner(value: object, symbols: readonly symbol[]): boolean {
  if (symbols.length > 0) return observedState(value, symbols) === undefined;
  const keys = Object.keys(value);
  if (keys.includes('memoizedProps') && keys.includes('stateNode')) return true;
  return keys.some((key) => typeof getOwnPropertyDescriptor(value, key)?.value === 'function');
}

function innerPart(value: object): Gap {
  return makeGap('inner', value, 'inner part, not recorded');
}

function copyParts(copying: Copying, value: object, symbols: readonly symbol[]): unknown {
  const keys = Object.keys(value);
  const names = Object.getOwnPropertyNames(value);
  const isListed = names.length === keys.length;
  if (symbols.length === 0 && isListed) return copyKeys(copying, value, keys);
  const observed = observedState(value, symbols);
  if (observed !== undefined) return copyObserved(copying, value, observed);
  copying.nodes -= names.length + symbols.length;
  if (copying.nodes < 0) return tooLarge(value);
  const isOpen = !hasAccessor(value, names) && !hasAccessor(value, symbols);
  const copy = isOpen ? copyOpen(copying, value, keys, symbols) : remember(copying, value, {});
  const isAll = isOpen && isListed && symbols.every((key) => Object.hasOwn(copy, key));
  // The prototype comes last: a setter on it would receive the copied properties.
  return alike(value, isAll ? copy : addAll(copying, value, copy));
}

/** An instance of a platform class by its visible state. */
export function copyPlatform(copying: Copying, value: object): unknown {
  const recognised = recognise(getPrototypeOf(value));
  if (recognised === undefined) return value;
  const { classes } = recognised;
  if (!isGenuine(value, recognised) && Object.keys(value).length === 0)
    return makeGap('unreadable', value, 'could not be read');
  const { content, state, unseen } = readState(value, recognised);
  const told = { recognised, type: classes.at(-1)?.name, state, unseen, print: printerOf(classes) };
  const copy = remember(copying, value, new Snapshot(value, content, told));
  for (const key of Object.keys(content)) {
    const held = content[key];
    if (!isPrimitive(held)) content[key] = copyAny(copying, held);
  }
  return copy;
}

/** An object with an identity; for a stream with its purpose, such as a request's method. */
export function copyThing(value: object): unknown {
  if (recognise(getPrototypeOf(value))?.isTelling !== true) return value;
  let content: Record<string, unknown> | undefined;
  for (const key of telling) {
    if (!Object.hasOwn(value, key) || lookupGetter.call(value, key) !== undefined) continue;
    const held = (value as Readonly<Record<string, unknown>>)[key];
    if (!isPrimitive(held)) continue;
    content ??= {};
    content[key] = held;
  }
  return content === undefined ? value : new Snapshot(value, content, noneTold);
}

const noneTold = {};

/** The properties of a stream that show its purpose. */
const telling: readonly string[] = [
  'method',
  'url',
  'originalUrl',
  'path',
  'host',
  'statusCode',
  'statusMessage',
  'connecting',
  'fd',
];
