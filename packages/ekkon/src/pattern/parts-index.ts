import { matchingOf } from '../match/matcher.ts';
import { claimedOriginal } from '../record/claimed-copy.ts';
import { isPrimitive } from '../record/is-primitive.ts';
import type { HeldEntry } from '../record/journal.ts';
import { callsOf, type HeldEvent } from './event.ts';

/** What a pattern claims of the first argument that a glance can tell: primitives in some of its properties. */
export interface Glance {
  readonly keys: readonly string[];
  readonly values: string;
  /** The very object that was claimed, which fits itself whatever became of it; `undefined` for a part. */
  readonly original: object | undefined;
}

/** Those who claim primitives in the same properties. */
interface Group<T> {
  readonly keys: readonly string[];
  readonly all: Set<T>;
  readonly byValues: Map<string, Set<T>>;
  readonly byOriginal: Map<object, Set<T>>;
}

/** How many properties a glance looks at, and how much of a text. */
const [keysSeen, lettersSeen] = [6, 64];

/** Fewer than this are asked one by one: that costs no more. */
const few = 8;

/**
 * Finds those whose pattern an entry may fit by primitives in its first argument: `{ id: 'frame-7', … }` among a
 * thousand others. Only what surely differs is left out.
 */
export class PartsIndex<T> {
  private readonly groups = new Map<string, Group<T>>();

  /** The sets that who waits for an event has to be in; `undefined` if a glance at it tells nothing. */
  setsFor(event: HeldEvent): readonly Set<T>[] | undefined {
    const glance = glanceOf(event);
    if (glance === undefined) return undefined;
    const { keys, values, original } = glance;
    const { all, byValues, byOriginal } = madeIn(this.groups, keys.join('\0'), () => ({
      keys,
      all: new Set<T>(),
      byValues: new Map<string, Set<T>>(),
      byOriginal: new Map<object, Set<T>>(),
    }));
    const sets = [all, madeIn(byValues, values, () => new Set<T>())];
    if (original !== undefined) sets.push(madeIn(byOriginal, original, () => new Set<T>()));
    return sets;
  }

  /** Those whose pattern an entry may fit, each once. */
  find({ args, given }: HeldEntry): ReadonlySet<T> {
    if (this.groups.size === 0 || args.length === 0 || isPrimitive(args[0])) return new Set();
    const live = (given?.args ?? args)[0] as object;
    const found = new Set<T>();
    for (const { keys, all, byValues, byOriginal } of this.groups.values()) {
      const values = all.size < few ? undefined : valuesIn(args[0], keys);
      if (values === undefined) addAll(found, all);
      else {
        addAll(found, byValues.get(values));
        addAll(found, byOriginal.get(live));
      }
    }
    return found;
  }
}

function addAll<T>(found: Set<T>, more: ReadonlySet<T> | undefined): void {
  if (more !== undefined) for (const each of more) found.add(each);
}

function madeIn<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}

/** What a glance tells of a pattern: the same for all that mean the same, but for the very object that was claimed twice. */
export function glanceOf(event: HeldEvent): Glance | undefined {
  const { claimed, lens } = callsOf(event);
  const item = claimed?.items[0];
  if (lens !== undefined || isPrimitive(item)) return undefined;
  const matching = matchingOf(item);
  const isPart = matching?.family === 'partial';
  const whole: unknown = isPart ? matching?.parameters[0] : item;
  if ((matching !== undefined && !isPart) || !isPlain(whole)) return undefined;
  const keys = Object.keys(whole).filter((key) => isTold(whole[key]));
  const seen = keys.sort().slice(0, keysSeen);
  const values = valuesIn(whole, seen);
  if (seen.length === 0 || values === undefined) return undefined;
  return { keys: seen, values, original: isPart ? undefined : claimedOriginal(whole) };
}

/** What an object holds in some properties, as one text: the same for all that are equal there. */
function valuesIn(value: unknown, keys: readonly string[]): string | undefined {
  if (!isPlain(value)) return undefined;
  let text = '';
  for (const key of keys) {
    if (!Object.hasOwn(value, key)) return undefined;
    const held = value[key];
    if (!isTold(held)) return undefined;
    text += `${String(held).slice(0, lettersSeen)}\0`;
  }
  return text;
}

function isTold(value: unknown): boolean {
  return isPrimitive(value) && typeof value !== 'symbol';
}

function isPlain(value: unknown): value is Readonly<Record<string, unknown>> {
  return (
    typeof value === 'object' &&
    value !== null &&
    Object.getPrototypeOf(value) === Object.prototype &&
    !Array.isArray(value)
  );
}
