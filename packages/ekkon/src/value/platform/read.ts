import { platformMember } from '../prototype-chain.ts';
import { quietly } from '../quiet.ts';
import type { PlatformClass, Read } from './platform-class.ts';
import type { Recognised } from './table.ts';

/** The state that was read of a platform object. */
export interface PlatformState {
  readonly content: Record<PropertyKey, unknown>;
  readonly state: unknown;
  readonly unseen: string | undefined;
}

/** Reads the visible state of a platform object, only through the platform's own accessors. */
export function readState(instance: object, recognised: Recognised): PlatformState {
  return quietly(() => readNow(instance, recognised));
}

function readNow(instance: object, { classes, prototype }: Recognised): PlatformState {
  const read: Read = (key) => readOne(instance, prototype, key);
  const content: Record<PropertyKey, unknown> = {};
  let state: unknown;
  let unseen: string | undefined;
  for (const { keys = [], isNamed = false, isCaseless = false, ...each } of classes) {
    for (const key of keys) content[key] = read(key);
    if (isNamed) addNamed(content, instance, prototype, isCaseless);
    state = each.state?.(read) ?? state;
    unseen = each.unseen?.(read) ?? unseen;
  }
  addFields(content, instance, classes);
  return { content, state, unseen };
}

/**
 * Whether the platform's accessors work on an instance. They do not on a proxy of one, nor on a fake that was made
 * on its prototype.
 */
export function isGenuine(instance: object, { classes: [root], prototype }: Recognised): boolean {
  for (const key of root?.has ?? []) {
    if (Object.hasOwn(instance, key)) return true;
    const get = memberOf(prototype, key)?.get;
    if (get === undefined) continue;
    try {
      Reflect.apply(get, instance, []);
      return true;
    } catch {
      return false;
    }
  }
  return true;
}

/** Adds the unchanging properties of an instance before those that were read when it was recorded. */
export function readFixed(
  content: Record<PropertyKey, unknown>,
  instance: object,
  { classes, prototype }: Recognised,
): void {
  quietly(() => {
    for (const { fixed = [] } of classes) {
      for (const key of fixed)
        if (!Object.hasOwn(content, key)) content[key] = readOne(instance, prototype, key);
    }
  });
}

/** An own field, or the result of the platform's accessor or method; one that throws has none. */
function readOne(instance: object, prototype: object, key: string): unknown {
  const own = Object.getOwnPropertyDescriptor(instance, key);
  if (own !== undefined && 'value' in own) return own.value;
  const found = memberOf(prototype, key);
  try {
    if (found?.get !== undefined) return Reflect.apply(found.get, instance, []);
    return typeof found?.value === 'function'
      ? Reflect.apply(found.value, instance, [])
      : found?.value;
  } catch {
    return undefined;
  }
}

/** The member of a prototype of the platform's, as it was when it was first read. */
function memberOf(prototype: object, key: PropertyKey): PropertyDescriptor | undefined {
  const members = read.get(prototype) ?? new Map<PropertyKey, PropertyDescriptor | undefined>();
  if (!read.has(prototype)) read.set(prototype, members);
  if (!members.has(key)) members.set(key, platformMember(prototype, key));
  return members.get(key);
}

const read = new WeakMap<object, Map<PropertyKey, PropertyDescriptor | undefined>>();

function addNamed(
  content: Record<PropertyKey, unknown>,
  instance: object,
  prototype: object,
  isCaseless: boolean,
): void {
  const forEach = platformMember(prototype, 'forEach')?.value;
  if (typeof forEach !== 'function') return;
  Reflect.apply(forEach, instance, [
    (value: unknown, given: string) => {
      const name = isCaseless ? given.toLowerCase() : given;
      const held = Object.hasOwn(content, name) ? content[name] : undefined;
      if (Array.isArray(held)) held.push(value);
      else define(content, name, held === undefined ? value : [held, value]);
    },
  ]);
}

/** The fields of a class derived from the platform's; a DOM written in JavaScript has its constants there. */
function addFields(content: object, instance: object, classes: readonly PlatformClass[]): void {
  for (const key of Object.keys(instance)) {
    if (classes.some(({ fixed }) => fixed?.includes(key))) continue;
    const own = Object.getOwnPropertyDescriptor(instance, key);
    const isAdded = own !== undefined && 'value' in own && !Object.hasOwn(content, key);
    if (isAdded && !/^[A-Z][A-Z_]*$/.test(key)) define(content, key, own.value);
  }
}

/** A field may be called `__proto__`. */
function define(content: object, key: string, value: unknown): void {
  Object.defineProperty(content, key, {
    value,
    writable: true,
    enumerable: true,
    configurable: true,
  });
}

/** How an instance of these classes prints; `undefined` if it prints as its class with its properties. */
export function printerOf(classes: readonly PlatformClass[]): PlatformClass['print'] {
  return classes.findLast(({ print }) => print !== undefined)?.print;
}
