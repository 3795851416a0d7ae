import { shortValue } from '../notation/value.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { encode } from '../value/encode.ts';
import { grouped } from '../value/grouped.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import type { FoundChange } from './compare-records.ts';

/**
 * Whether a difference of two records says something: not if it is undecided, nor if only the identity of an object
 * differs, as it does in every run.
 */
export function isTelling({ kind, why, expected, received }: Difference): boolean {
  if (kind === 'opaque' || why === 'another' || why === 'identity') return false;
  if (typeof expected !== 'object' || typeof received !== 'object') return true;
  const [was, is] = [shortValue(expected, 200), shortValue(received, 200)];
  return was !== is || was.includes('…');
}

/** Keys from the list of arguments inwards. */
export type Path = readonly (string | number)[];

/** When something differed from one passing run to another. */
interface Seen {
  /** How many passing runs ago it did last, and in how many it did. */
  readonly age: number;
  readonly times: number;
}

/** The differences of a call between two passing runs. */
export interface Marks extends Seen {
  /** The parts of its arguments. */
  readonly args?: readonly Path[];
  readonly outcome?: true;
  /** Its place among other calls, or that of its end. */
  readonly order?: true;
}

/** The differences between passing runs: they are never told as changes. */
export interface Unsteady {
  /** By the ids of the calls of the record that it stands with. */
  readonly entries: Readonly<Record<number, Marks>>;
  /** Calls that come only sometimes, each as `keyOf` has it, and when one came or was missing. */
  readonly sometimes: Readonly<Record<string, Seen>>;
}

export const nothingUnsteady: Unsteady = { entries: {}, sometimes: {} };

/** Passing runs after which a place without a new difference counts as steady. */
const steadyAfter = 30;

/** The same for a place that differed once: the program may have been changed on purpose. */
const changedBefore = 3;

/** The mark after one more passing run; `undefined` once it counts as steady. */
export function older<S extends Seen>(seen: S): S | undefined {
  const age = seen.age + 1;
  return age > (seen.times === 1 ? changedBefore : steadyAfter) ? undefined : { ...seen, age };
}

/** The unsteady places after a passing run that did not differ from the one before. */
export function afterTheSame({ entries, sometimes }: Unsteady): Unsteady {
  const agedIn = <S extends Seen>(seen: Readonly<Record<string, S>>) =>
    Object.fromEntries(
      Object.entries(seen).flatMap(([key, each]) => {
        const aged = older(each);
        return aged === undefined ? [] : [[key, aged]];
      }),
    );
  return { entries: agedIn(entries), sometimes: agedIn(sometimes) };
}

/** A record, and its unsteady places. */
export interface Learned {
  readonly journal: Journal;
  readonly unsteady: Unsteady;
}

/** Knows the unsteady places of a record. */
export class Steadiness {
  private readonly marks: Readonly<Record<number, Marks>>;
  private readonly sometimes: Readonly<Record<string, Seen>>;
  /** The parts of arguments that differ in most calls of a member, so they count as unsteady in all. */
  private readonly ofMember: ReadonlyMap<string, readonly Path[]>;

  /** The members of which most calls come in any order. */
  private readonly looseMembers: ReadonlySet<string>;

  constructor({ journal, unsteady }: Learned) {
    this.marks = unsteady.entries;
    this.looseMembers = looseMembersIn(journal, unsteady.entries);
    this.sometimes = unsteady.sometimes;
    this.ofMember = pathsByMember(journal, unsteady.entries);
  }

  /** A text that is equal for equal calls, except for places that are unsteady in all calls of the member. */
  readonly keyOf = (entry: HeldEntry): string => {
    const paths = this.ofMember.get(entry.target.label) ?? [];
    const args = paths.reduce(masked, jsonOf(entry));
    return `${entry.kind} ${entry.target.label} ${intrinsics.stringify(args)}`;
  };

  readonly isLoose = ({ id, target }: HeldEntry): boolean =>
    this.marks[id]?.order === true || this.looseMembers.has(target.label);

  /** The differences of a call's arguments that are certain and not unsteady. */
  readonly steady = (
    { id, target }: HeldEntry,
    differences: readonly Difference[],
  ): readonly Difference[] => {
    const paths = [...(this.marks[id]?.args ?? []), ...(this.ofMember.get(target.label) ?? [])];
    const isUnsteady = ({ path }: Difference) => paths.some((each) => isWithin(each, path));
    return differences.filter((each) => isTelling(each) && !isUnsteady(each));
  };

  /** The steady part of a change: the change with the differences that count, or nothing. */
  steadyPart(change: FoundChange): FoundChange | undefined {
    const unless = (isUnsteady: boolean) => (isUnsteady ? undefined : change);
    switch (change.is) {
      case 'gone':
      case 'new':
      case 'replaced':
        return unless(cameIn(change).every((entry) => this.keyOf(entry) in this.sometimes));
      case 'changed': {
        const differences = this.steady(change.was, change.differences);
        return differences.length === 0 ? undefined : { ...change, differences };
      }
      case 'outcome':
        return unless(this.marks[change.was.id]?.outcome === true);
      case 'moved':
      case 'ended':
        return unless(
          this.isLoose(change.was) ||
            (change.wasBeside !== undefined && this.isLoose(change.wasBeside)),
        );
    }
  }
}

/** The calls that came in one of the records alone. */
export function cameIn(change: FoundChange): readonly HeldEntry[] {
  switch (change.is) {
    case 'gone':
      return [change.was];
    case 'new':
      return [change.now];
    case 'replaced':
      return [change.was, change.now];
    case 'changed':
    case 'outcome':
    case 'moved':
    case 'ended':
      return [];
  }
}

/** Whether a path leads into another: the unsteady place may be an object around the difference, or a part of it. */
function isWithin(one: Path, other: readonly PropertyKey[]): boolean {
  return one.slice(0, other.length).every((key, at) => String(key) === String(other[at]));
}

function pathsByMember(
  { entries }: Journal,
  marks: Unsteady['entries'],
): ReadonlyMap<string, readonly Path[]> {
  const counts = new Map<string, Map<string, number>>();
  const calls = new Map<string, number>();
  for (const { id, target } of entries) {
    calls.set(target.label, (calls.get(target.label) ?? 0) + 1);
    for (const path of marks[id]?.args ?? []) {
      const ofMember = counts.get(target.label) ?? new Map<string, number>();
      const key = intrinsics.stringify(path);
      counts.set(target.label, ofMember.set(key, (ofMember.get(key) ?? 0) + 1));
    }
  }
  return new Map(
    [...counts].map(([label, paths]) => [
      label,
      [...paths].flatMap(([path, count]) =>
        2 * count >= (calls.get(label) ?? 0) ? [intrinsics.parse(path) as Path] : [],
      ),
    ]),
  );
}

function looseMembersIn({ entries }: Journal, marks: Unsteady['entries']): ReadonlySet<string> {
  const byLabel = grouped(entries, ({ target }) => target.label);
  return new Set(
    [...byLabel].flatMap(([label, calls]) =>
      2 * calls.filter(({ id }) => marks[id]?.order === true).length >= calls.length ? [label] : [],
    ),
  );
}

/** Arguments as JSON without the value at a path, as far as it leads through lists and plain objects. */
function masked(json: Json, path: Path): Json {
  const [key, ...rest] = path;
  if (key === undefined || typeof json !== 'object' || json === null) return masks;
  if (Array.isArray(json)) {
    const at = Number(key);
    return at < json.length ? json.with(at, masked(json[at] as Json, rest)) : json;
  }
  const object = json as { readonly [key: string]: Json };
  if ('$' in object) return masks;
  const part = object[key];
  if (rest.length > 0) return part === undefined ? json : { ...object, [key]: masked(part, rest) };
  const { [key]: _, ...others } = object;
  return others;
}

const masks = '~';

/** The arguments of a call as a text with everything that is known of them. */
export function argumentsText(entry: HeldEntry): string {
  return intrinsics.stringify(jsonOf(entry));
}

/** The arguments of calls as JSON: used several times, and the most expensive part here. */
const asJson = new WeakMap<HeldEntry, Json>();

export function jsonOf(entry: HeldEntry): Json {
  const known = asJson.get(entry);
  if (known !== undefined) return known;
  const json = encode(entry.args, shortValue);
  asJson.set(entry, json);
  return json;
}
