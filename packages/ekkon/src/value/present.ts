import { claimedOriginal } from './claimed-copy.ts';
import { copyState } from './copy-state.ts';
import { alike } from './copying.ts';
import { type Gap, isGap } from './gap.ts';
import { hidesState } from './hidden-state.ts';
import { type Kind, kindOf } from './kind.ts';
import { printsAs } from './prints-as.ts';
import { isRevealed } from './revealed.ts';
import { bytesOf, entriesOf, itemsOf } from './slots.ts';
import { isSnapshot } from './snapshot.ts';

/** The object that a copy was made of; `undefined` if that is not known. */
export type OriginalOf = (copy: object) => object | undefined;

/**
 * A recorded value as somebody else's code may have it: a copy of the copy, so that nothing that is done
 * to it is done to the record. What could not be copied is the object itself; to read what could not be
 * recorded throws.
 *
 * @param ofCut what becomes of a list that was too large to record as a whole
 * @throws TypeError if there is such a list, and it is to be refused
 */
export function present(
  value: unknown,
  originalOf: OriginalOf,
  ofCut: 'keep' | 'refuse' = 'keep',
): unknown {
  return presentAny({ originalOf, ofCut, made: new Map() }, value);
}

/** Whether nothing can be written to a value: one of plain data, frozen when it is first asked for. */
export function isFixed(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || fixed.has(value)) return true;
  const parts = plainParts(value, new Set());
  if (parts === undefined) return false;
  for (const part of parts) fixed.add(Object.freeze(part));
  return true;
}

const fixed = new WeakSet<object>();

/** The objects and arrays that plain data is made of; `undefined` if it holds anything else. */
function plainParts(value: object, found: Set<object>): ReadonlySet<object> | undefined {
  if (found.has(value)) return found;
  const kind = kindOf(value);
  if (kind !== 'plain' && kind !== 'array') return undefined;
  found.add(value);
  for (const key of Reflect.ownKeys(value)) {
    const held: unknown = Reflect.get(value, key);
    const isPart = typeof held === 'object' && held !== null;
    if (isPart && !fixed.has(held) && plainParts(held, found) === undefined) return undefined;
  }
  return found;
}

interface Presenting {
  readonly originalOf: OriginalOf;
  readonly ofCut: 'keep' | 'refuse';
  readonly made: Map<object, object>;
}

function presentAny(presenting: Presenting, value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (isSnapshot(value)) return value.of;
  if (isGap(value)) return presenting.ofCut === 'keep' ? value : refuseCut(value);
  if (isRevealed(value)) return presenting.originalOf(value) ?? claimedOriginal(value);
  const known = presenting.made.get(value);
  if (known !== undefined) return known;
  const kind = kindOf(value);
  return presentObject(presenting, value, kind);
}

function presentObject(presenting: Presenting, value: object, kind: Kind): unknown {
  switch (kind) {
    case 'hidden':
    case 'kept':
    case 'platform':
    case 'thing':
      return value;
    case 'plain':
    case 'instance': {
      if (kind === 'instance' && hidesState(value)) return presenting.originalOf(value) ?? value;
      return addOwn(presenting, value, Object.create(Object.getPrototypeOf(value)));
    }
    case 'array':
      return addOwn(presenting, value, alike(value, []));
    case 'map': {
      const map = remember(presenting, value, new Map());
      for (const [key, held] of entriesOf(value))
        map.set(presentAny(presenting, key), presentAny(presenting, held));
      return addOwn(presenting, value, alike(value, map));
    }
    case 'set': {
      const set = remember(presenting, value, new Set());
      for (const item of itemsOf(value)) set.add(presentAny(presenting, item));
      return addOwn(presenting, value, alike(value, set));
    }
    case 'typed':
    case 'buffer':
    case 'view':
      return bytesOfTheirOwn(value);
    default:
      return addOwn(presenting, value, alike(value, copyState(value, kind)));
  }
}

/** Bytes of their own, shown in the same way. */
function bytesOfTheirOwn(value: object): object {
  const { buffer } = new Uint8Array(bytesOf(value));
  if (!ArrayBuffer.isView(value)) return buffer;
  return alike(value, Reflect.construct(value.constructor, [buffer]));
}

function remember<T extends object>({ made }: Presenting, value: object, copy: T): T {
  made.set(value, copy);
  return copy;
}

function addOwn<T extends object>(presenting: Presenting, value: object, copy: T): T {
  remember(presenting, value, copy);
  for (const key of Reflect.ownKeys(value)) {
    const descriptor = Object.getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined) continue;
    // A text's letters, a list's length and a regular expression's place cannot be defined anew.
    if (Object.getOwnPropertyDescriptor(copy, key)?.configurable === false) {
      Reflect.set(copy, key, descriptor.value);
      continue;
    }
    if ('value' in descriptor && isGap(descriptor.value) && !Array.isArray(value))
      defineGap(copy, key, descriptor.value, descriptor.enumerable);
    else if ('value' in descriptor)
      Object.defineProperty(copy, key, {
        ...descriptor,
        value: presentAny(presenting, descriptor.value),
        writable: true,
        configurable: true,
      });
    else Object.defineProperty(copy, key, descriptor);
  }
  return copy;
}

function refuseCut(gap: Gap): never {
  throw new TypeError(`part of it was not recorded: ${gap[printsAs].replace(/^‹|›$/g, '')}`);
}

function defineGap(copy: object, key: PropertyKey, gap: Gap, enumerable = true): void {
  Object.defineProperty(copy, key, {
    enumerable,
    configurable: true,
    get() {
      throw new TypeError(
        `${String(key)} was not recorded: ${gap[printsAs].replace(/^‹|›$/g, '')}`,
      );
    },
  });
}
