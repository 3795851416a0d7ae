import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { grouped } from '../value/grouped.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Json } from '../value/json.ts';
import {
  compareRecords,
  type FoundChange,
  type Pair,
  type RecordComparison,
} from './compare-records.ts';
import {
  argumentsText,
  cameIn,
  isTelling,
  jsonOf,
  type Learned,
  type Marks,
  nothingUnsteady,
  older,
  type Path,
  Steadiness,
  type Unsteady,
} from './unsteady.ts';

/** Calls that come only sometimes, of which so many are kept. */
const sometimesKept = 500;

/** Learned from a passing run: its record, and which of its calls go together with those of the run before. */
export interface Learning {
  readonly unsteady: Unsteady;
  readonly pairs: readonly Pair[];
}

/**
 * The unsteady places after one more passing run: the earlier ones, and all differences between the two records.
 *
 * @param before the record of the passing run before, and its unsteady places
 */
export function learn(last: Learned, now: Journal): Learning {
  const others = pathsOfOthers(last.journal, now);
  const marked = { ...last.unsteady.entries };
  for (const { id, target } of last.journal.entries)
    for (const args of others.get(target.label) ?? [])
      marked[id] = withMarks(marked[id], { args: [args] });
  const before = { journal: last.journal, unsteady: { ...last.unsteady, entries: marked } };
  const steadiness = new Steadiness(before);
  const comparison = compareRecords(before.journal, now, steadiness);
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
  const learned = new Steadiness({ journal: now, unsteady: { entries, sometimes: {} } });
  const seen = comparison.changes
    .flatMap(cameIn)
    .flatMap((entry) => [steadiness.keyOf(entry), learned.keyOf(entry)]);
  const sometimes = sometimesAfter(last.unsteady, new Set(seen));
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

function distinct(paths: readonly Path[]): readonly Path[] {
  return [...new Map(paths.map((path) => [intrinsics.stringify(path), path])).values()];
}

/** The paths of differences; for an object that lost one key and got another, and for a list, the whole. */
function unsteadyPaths(differences: readonly Difference[]): readonly Path[] {
  const certain = differences.filter(isTelling);
  const parentOf = ({ path }: Difference) => intrinsics.stringify(path.slice(0, -1).map(String));
  const parents = grouped(certain, parentOf);
  return distinct(
    certain.map((difference) => {
      const { kind, path } = difference;
      const beside = parents.get(parentOf(difference)) ?? [];
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

/** @param seen the calls that came in one of the records alone, as `keyOf` has them */
function sometimesAfter({ sometimes }: Unsteady, seen: ReadonlySet<string>): Unsteady['sometimes'] {
  const all = new Map(
    Object.entries(sometimes).flatMap(([key, each]) => {
      const kept = seen.has(key) ? each : older(each);
      return kept === undefined ? [] : [[key, kept]];
    }),
  );
  for (const key of seen) {
    const times = (all.get(key)?.times ?? 0) + 1;
    all.delete(key);
    all.set(key, { age: 0, times });
  }
  return Object.fromEntries([...all].slice(-sometimesKept));
}
