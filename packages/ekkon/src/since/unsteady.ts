import { shortValue } from '../notation/value.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { encode } from '../value/encode.ts';
import { grouped } from '../value/grouped.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import {
  compareRecords,
  type FoundChange,
  type Pair,
  type RecordComparison,
} from './compare-records.ts';

/** Keys from the list of arguments inwards. */
export type Path = readonly (string | number)[];

/** When something differed from one passing run to another. */
interface Seen {
  /** How many passing runs ago it did last, and in how many it did. */
  readonly age: number;
  readonly times: number;
}

/** What differed of a call from one passing run to another. */
export interface Marks extends Seen {
  /** The parts of its arguments. */
  readonly args?: readonly Path[];
  readonly outcome?: true;
  /** Its place among other calls, or that of its end. */
  readonly order?: true;
}

/** What differs from one passing run to another: it is never told as a change. */
export interface Unsteady {
  /** By the ids of the calls of the record that it stands with. */
  readonly entries: Readonly<Record<number, Marks>>;
  /** Calls that come only sometimes, each as `keyOf` has it, and when one came or was missing. */
  readonly sometimes: Readonly<Record<string, Seen>>;
}

export const nothingUnsteady: Unsteady = { entries: {}, sometimes: {} };

/** Passing runs after which what did not differ again counts as steady. */
const steadyAfter = 30;

/** The same for what differed once: somebody may have changed the program, rightfully. */
const changedBefore = 3;

/** What is known after one more passing run; `undefined` once it counts as steady. */
function older<S extends Seen>(seen: S): S | undefined {
  const age = seen.age + 1;
  return age > (seen.times === 1 ? changedBefore : steadyAfter) ? undefined : { ...seen, age };
}

/** What is unsteady after a passing run that did not differ from the one before. */
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

/** Calls that come only sometimes, of which so many are kept. */
const sometimesKept = 500;

/** A record, and what of it differs from run to run. */
export interface Learned {
  readonly journal: Journal;
  readonly unsteady: Unsteady;
}

/** Tells of a record what of it differs from run to run. */
export class Steadiness {
  private readonly marks: Readonly<Record<number, Marks>>;
  private readonly sometimes: Readonly<Record<string, Seen>>;
  /** The parts of arguments that differ in most calls of a member, so that they count as unsteady in all. */
  private readonly ofMember: ReadonlyMap<string, readonly Path[]>;

  /** The members of which most calls come in any order. */
  private readonly looseMembers: ReadonlySet<string>;

  constructor({ journal, unsteady }: Learned) {
    this.marks = unsteady.entries;
    this.looseMembers = looseMembersIn(journal, unsteady.entries);
    this.sometimes = unsteady.sometimes;
    this.ofMember = pathsByMember(journal, unsteady.entries);
  }

  /** A text that calls have in common which are the same, but for what is unsteady in all calls of the member. */
  readonly keyOf = (entry: HeldEntry): string => {
    const paths = this.ofMember.get(entry.target.label) ?? [];
    const args = paths.reduce(masked, jsonOf(entry));
    return `${entry.kind} ${entry.target.label} ${intrinsics.stringify(args)}`;
  };

  readonly isLoose = ({ id, target }: HeldEntry): boolean =>
    this.marks[id]?.order === true || this.looseMembers.has(target.label);

  /** The differences of a call's arguments that are certain, and not of what is unsteady. */
  readonly steady = (
    { id, target }: HeldEntry,
    differences: readonly Difference[],
  ): readonly Difference[] => {
    const paths = [...(this.marks[id]?.args ?? []), ...(this.ofMember.get(target.label) ?? [])];
    const isUnsteady = ({ path }: Difference) => paths.some((each) => isWithin(each, path));
    return differences.filter((each) => each.kind !== 'opaque' && !isUnsteady(each));
  };

  /** Whether a change is one of those that come and go by themselves. */
  isUnsteady(change: FoundChange): boolean {
    switch (change.is) {
      case 'gone':
        return this.keyOf(change.was) in this.sometimes;
      case 'new':
        return this.keyOf(change.now) in this.sometimes;
      case 'replaced':
        return this.keyOf(change.was) in this.sometimes && this.keyOf(change.now) in this.sometimes;
      case 'changed':
        return this.steady(change.was, change.differences).length === 0;
      case 'outcome':
        return this.marks[change.was.id]?.outcome === true;
      case 'moved':
      case 'ended':
        return (
          this.isLoose(change.was) ||
          (change.wasBeside !== undefined && this.isLoose(change.wasBeside))
        );
    }
  }
}

/** Whether a path leads into another: what is unsteady may be an object that holds the difference, or a part of it. */
function isWithin(one: Path, other: readonly PropertyKey[]): boolean {
  const length = Math.min(one.length, other.length);
  for (let at = 0; at < length; at++) if (String(one[at]) !== String(other[at])) return false;
  return true;
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

/** Arguments as JSON without what is at a path, as far as it leads through lists and plain objects. */
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

/** What was learned of a passing run, and which calls of it go together with those of the run before. */
export interface Learning {
  readonly unsteady: Unsteady;
  readonly pairs: readonly Pair[];
}

/**
 * What is unsteady after one more passing run: what was, and whatever differs between the two records.
 *
 * @param before the record of the passing run before, and what was unsteady then
 */
export function learn(last: Learned, now: Journal): Learning {
  const others = pathsOfOthers(last.journal, now);
  const marked = { ...last.unsteady.entries };
  for (const { id, target } of last.journal.entries)
    for (const args of others.get(target.label) ?? [])
      marked[id] = withMarks(marked[id], { args: [args] });
  const before = { journal: last.journal, unsteady: { ...last.unsteady, entries: marked } };
  const comparison = compareRecords(before.journal, now, new Steadiness(before));
  if (comparison === undefined)
    return { unsteady: { ...nothingUnsteady, sometimes: before.unsteady.sometimes }, pairs: [] };
  const entries: Record<number, Marks> = {};
  const differed = new Set<number>();
  const mark = ({ id }: HeldEntry, marks: Pick<Marks, 'args' | 'outcome' | 'order'>) => {
    const known = withMarks(entries[id], marks);
    entries[id] = { ...known, age: 0, times: known.times + (differed.has(id) ? 0 : 1) };
    differed.add(id);
  };
  for (const { was, now: entry } of comparison.pairs) {
    const known = last.unsteady.entries[was.id];
    if (known === undefined) continue;
    const differs = known.args !== undefined && argumentsText(was) !== argumentsText(entry);
    const kept = differs ? known : older(known);
    if (kept !== undefined) entries[entry.id] = kept;
    if (differs) mark(entry, {});
  }
  for (const entry of now.entries)
    for (const args of others.get(entry.target.label) ?? []) mark(entry, { args: [args] });
  for (const change of comparison.changes) {
    if (change.is === 'changed') {
      const args = unsteadyPaths(change.differences);
      if (args.length > 0) mark(change.now, { args });
    } else if (change.is === 'outcome') mark(change.now, { outcome: true });
    else if (change.is === 'moved' || change.is === 'ended')
      for (const entry of crossedBy(change, comparison)) mark(entry, { order: true });
  }
  for (const entry of overlapping(now, entries)) mark(entry, { order: true });
  const sometimes = sometimesAfter(before, now, entries, comparison);
  return { unsteady: { entries, sometimes }, pairs: comparison.pairs };
}

function withMarks(
  known: Marks = { age: 0, times: 0 },
  marks: Pick<Marks, 'args' | 'outcome' | 'order'>,
): Marks {
  const args = distinct([...(known.args ?? []), ...(marks.args ?? [])]);
  return { ...known, ...marks, ...(args.length > 0 ? { args } : {}) };
}

/**
 * The parts of the arguments of each member at which two passing runs have no value in common, like times and random
 * ids: they are unsteady in every call, whichever calls go together.
 */
function pathsOfOthers(before: Journal, now: Journal): ReadonlyMap<string, readonly Path[]> {
  const [then, later] = [valuesIn(before), valuesIn(now)];
  return new Map(
    [...then].map(([label, paths]) => {
      const known = later.get(label);
      const found = [...paths].filter(([path, values]) => {
        const others = known?.get(path);
        return others !== undefined && [...values].every((value) => !others.has(value));
      });
      return [label, found.map(([path]) => intrinsics.parse(path) as Path)];
    }),
  );
}

/** The primitive values of arguments, by member and by path. */
function valuesIn({ entries }: Journal): ReadonlyMap<string, Map<string, Set<Json>>> {
  const found = new Map<string, Map<string, Set<Json>>>();
  for (const entry of entries) {
    const { target } = entry;
    const paths = found.get(target.label) ?? new Map<string, Set<Json>>();
    found.set(target.label, paths);
    // Paths are put together as JSON writes them, from their last comma.
    const add = (json: Json, path: string, depth: number) => {
      if (typeof json === 'object' && json !== null) {
        if (depth > depthSearched || '$' in json) return;
        for (const [key, part] of Object.entries(json)) {
          const step = Array.isArray(json) ? key : intrinsics.stringify(key);
          add(part, `${path},${step}`, depth + 1);
        }
        return;
      }
      const key = `[${path.slice(1)}]`;
      const values = paths.get(key);
      if (values === undefined) paths.set(key, new Set([json]));
      else values.add(json);
    };
    add(jsonOf(entry), '', 0);
  }
  return found;
}

/** How deep in arguments values are looked for. */
const depthSearched = 6;

/** The arguments of a call as a text that tells what can be told of them. */
export function argumentsText(entry: HeldEntry): string {
  return intrinsics.stringify(jsonOf(entry));
}

/** The arguments of calls as JSON: asked for several times, and what costs most here. */
const asJson = new WeakMap<HeldEntry, Json>();

function jsonOf(entry: HeldEntry): Json {
  const known = asJson.get(entry);
  if (known !== undefined) return known;
  const json = encode(entry.args, shortValue);
  asJson.set(entry, json);
  return json;
}

function distinct(paths: readonly Path[]): readonly Path[] {
  return [...new Map(paths.map((path) => [intrinsics.stringify(path), path])).values()];
}

/** The paths of what differs; of an object that lost one key and got another, and of a list, the whole. */
function unsteadyPaths(differences: readonly Difference[]): readonly Path[] {
  const certain = differences.filter(({ kind }) => kind !== 'opaque');
  const parents = grouped(certain, ({ path }) =>
    intrinsics.stringify(path.slice(0, -1).map(String)),
  );
  return distinct(
    certain.map(({ kind, path }) => {
      const beside = parents.get(intrinsics.stringify(path.slice(0, -1).map(String))) ?? [];
      const isKey = kind === 'missing' || kind === 'surplus' || kind === 'renamed';
      const isWhole =
        kind === 'moved' ||
        kind === 'renamed' ||
        (isKey && (beside.length > 1 || typeof path.at(-1) === 'number'));
      const whole = isWhole && path.length > 1 ? path.slice(0, -1) : path;
      const symbol = whole.findIndex((key) => typeof key === 'symbol');
      return (symbol < 0 ? whole : whole.slice(0, symbol)) as Path;
    }),
  );
}

/** The calls of the later record whose order to a call, or to its end, is another than it was. */
function crossedBy(change: FoundChange, { pairs }: RecordComparison): readonly HeldEntry[] {
  if (change.is !== 'moved' && change.is !== 'ended') return [];
  const placeOf = ({ began, ended }: HeldEntry) =>
    change.is === 'moved' ? began : (ended ?? Number.POSITIVE_INFINITY);
  const [then, place] = [placeOf(change.was), placeOf(change.now)];
  const crossed = pairs.filter(({ was, now }) => was.began < then !== now.began < place);
  return [change.now, change.beside, ...crossed.map(({ now }) => now)];
}

/**
 * The calls that were under way at one time with one whose place is unsteady, directly or through others: whatever
 * runs beside each other may come in any order.
 */
function overlapping(
  { entries }: Journal,
  marks: Readonly<Record<number, Marks>>,
): readonly HeldEntry[] {
  const found: HeldEntry[] = [];
  let [together, latest, isLoose]: [HeldEntry[], number, boolean] = [[], 0, false];
  const settle = () => {
    if (isLoose) found.push(...together.filter(({ id }) => marks[id]?.order !== true));
    [together, isLoose] = [[], false];
  };
  for (const entry of entries) {
    if (entry.began > latest) settle();
    together.push(entry);
    isLoose ||= marks[entry.id]?.order === true;
    latest = Math.max(latest, entry.ended ?? entry.began);
  }
  settle();
  return found;
}

function sometimesAfter(
  { journal, unsteady }: Learned,
  now: Journal,
  entries: Unsteady['entries'],
  { changes }: RecordComparison,
): Unsteady['sometimes'] {
  const known = new Steadiness({ journal, unsteady });
  const learned = new Steadiness({ journal: now, unsteady: { entries, sometimes: {} } });
  const seen = changes.flatMap((change): readonly string[] => {
    const came =
      change.is === 'gone'
        ? [change.was]
        : change.is === 'new'
          ? [change.now]
          : change.is === 'replaced'
            ? [change.was, change.now]
            : [];
    return came.flatMap((entry) => [known.keyOf(entry), learned.keyOf(entry)]);
  });
  const all = new Map(
    Object.entries(unsteady.sometimes).flatMap(([key, each]) => {
      const kept = seen.includes(key) ? each : older(each);
      return kept === undefined ? [] : [[key, kept]];
    }),
  );
  for (const key of new Set(seen)) {
    const times = (all.get(key)?.times ?? 0) + 1;
    all.delete(key);
    all.set(key, { age: 0, times });
  }
  return Object.fromEntries([...all].slice(-sometimesKept));
}
