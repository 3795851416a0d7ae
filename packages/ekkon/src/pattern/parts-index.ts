import { matchingOf } from '../match/matcher.ts';
import type { HeldEntry } from '../record/journal.ts';
import { claimedOriginal } from '../value/claimed-copy.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { kindOf } from '../value/kind.ts';
import { callsOf, type HeldEvent } from './event.ts';

/** A place in arguments: one of them, or a property of it. */
interface ArgumentPlace {
  readonly at: number;
  readonly key: string | undefined;
}

/** The part of a pattern that a glance can check: primitives among its arguments, and in their properties. */
export interface Glance {
  readonly places: readonly ArgumentPlace[];
  /** The places as a text. */
  readonly shape: string;
  /** The expected values there as a text: equal values have equal texts. `undefined` if there is no such place. */
  readonly values: string | undefined;
  /** The very objects that were claimed, which fit themselves whatever became of them; a part is none. */
  readonly originals: readonly object[];
}

/** Those who claim primitives at the same places. */
interface Group<T> {
  readonly places: readonly ArgumentPlace[];
  readonly all: Set<T>;
  readonly byValues: Map<string, Set<T>>;
  readonly byOriginal: Map<object, Set<T>>;
}

/** How many places a glance looks at, and how much of a text. */
const [placesSeen, lettersSeen] = [6, 64];

/** Fewer than this are compared one by one, which costs no more: of one group, and of all. */
const [few, fewInAll] = [8, 16];

/**
 * Finds the patterns that an entry may match by primitives among its arguments: `{ id: 'frame-7', … }` among a
 * thousand others. Only patterns that certainly differ are left out.
 */
export class PartsIndex<T> {
  /** All of them. */
  readonly all = new Set<T>();
  private readonly others = new Set<T>();
  private readonly groups = new Map<string, Group<T>>();
  private readonly from: number;

  /** @param from the first argument that is looked at; those before it are known to be as claimed */
  constructor(from: number) {
    this.from = from;
  }

  /** The sets that a listener for one event must join so that it is found once. */
  setsFor(event: HeldEvent): readonly Set<T>[] {
    const glance = glanceOf(event, this.from);
    if (glance?.values === undefined) return this.setsForAny();
    const { places, shape, values, originals } = glance;
    const { all, byValues, byOriginal } = madeIn(this.groups, shape, () => ({
      places,
      all: new Set<T>(),
      byValues: new Map<string, Set<T>>(),
      byOriginal: new Map<object, Set<T>>(),
    }));
    return [
      this.all,
      all,
      madeIn(byValues, values, () => new Set<T>()),
      ...originals.map((original) => madeIn(byOriginal, original, () => new Set<T>())),
    ];
  }

  /** The sets that a listener for several events must join so that it is found once. */
  setsForAny(): readonly Set<T>[] {
    return [this.all, this.others];
  }

  /** Whether it always finds all of them. */
  get findsAll(): boolean {
    return this.all.size < fewInAll || this.groups.size === 0;
  }

  /** Those whose pattern an entry may fit, each once. */
  find({ args, given }: HeldEntry): ReadonlySet<T> {
    if (this.findsAll) return this.all;
    const live = given?.args ?? args;
    const found = new Set<T>(this.others);
    for (const { places, all, byValues, byOriginal } of this.groups.values()) {
      const values = all.size < few ? undefined : valuesIn(args, places);
      if (values === undefined) {
        addAll(found, all);
        continue;
      }
      addAll(found, byValues.get(values));
      if (byOriginal.size > 0)
        for (const each of live)
          if (!isPrimitive(each)) addAll(found, byOriginal.get(each as object));
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

/**
 * The part of a pattern that a glance can check: equal for patterns that mean the same, except for one very object
 * that was expected twice.
 *
 * @param from the first argument to check
 */
export function glanceOf(event: HeldEvent, from: number): Glance | undefined {
  const { claimed, lens } = callsOf(event);
  if (claimed === undefined || lens !== undefined) return undefined;
  const [places, originals]: [ArgumentPlace[], object[]] = [[], []];
  const told: unknown[] = [];
  for (let at = 0; at < claimed.items.length; at++) {
    const item = claimed.items[at];
    const matching = matchingOf(item);
    const isPart = matching?.family === 'partial';
    const whole: unknown = isPart ? matching?.parameters[0] : item;
    told.push(whole);
    if (at < from) continue;
    if (isTold(item)) places.push({ at, key: undefined });
    else if (isPlain(whole) && (isPart || matching === undefined)) {
      const keys = Object.keys(whole).filter((key) => isTold(whole[key]));
      places.push(...keys.sort().map((key) => ({ at, key })));
      if (!isPart) originals.push(claimedOriginal(whole));
    }
  }
  const seen = places.slice(0, placesSeen);
  const values = seen.length === 0 ? undefined : valuesIn(told, seen);
  const shape = seen.map(({ at, key }) => `${at}${key === undefined ? '' : `.${key}`}`).join('\0');
  return { places: seen, shape, values, originals };
}

/** The values at some places, as one text; `undefined` if a glance does not show them. */
function valuesIn(args: readonly unknown[], places: readonly ArgumentPlace[]): string | undefined {
  let text = '';
  for (const { at, key } of places) {
    if (at >= args.length) return undefined;
    let value = args[at];
    if (key !== undefined) {
      if (!isPlain(value) || !Object.hasOwn(value, key)) return undefined;
      value = value[key];
    }
    if (!isTold(value)) return undefined;
    text += `${String(value).slice(0, lettersSeen)}\0`;
  }
  return text;
}

function isTold(value: unknown): boolean {
  return isPrimitive(value) && typeof value !== 'symbol';
}

function isPlain(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && kindOf(value) === 'plain';
}
