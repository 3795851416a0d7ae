import type { HeldEntry, Journal } from '../record/journal.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import type { FoundCause } from './cause.ts';
import type { Diagnosis } from './finding.ts';
import { tellsMuch } from './source.ts';

/** How many entries are looked through for the arguments of a call that is missing. */
const entriesSearched = 2_000;

/** How deep texts and numbers of arguments are looked for. */
const depthSearched = 3;

/** Tells when findings on a record happened. */
export function whensIn(journal: Journal): Whens {
  return new Whens(journal);
}

/**
 * Tells at which tick of a record something went wrong, so findings can stand in the order of time. If there are too few
 * calls, that is after the last of them; a call that is missing altogether belongs to the first call of its member since
 * its arguments first occurred. A finding without any place comes last.
 */
class Whens {
  private readonly journal: Journal;
  private readonly byId: ReadonlyMap<number, HeldEntry>;
  private firsts: ReadonlyMap<unknown, First> | undefined;

  constructor(journal: Journal) {
    this.journal = journal;
    this.byId = new Map(journal.entries.map((entry) => [entry.id, entry]));
  }

  ofFinding(diagnosis: Diagnosis): number {
    // The event that never occurred may be missing for the reason that others tell.
    if (diagnosis.code === 'vacuousClaim') return Number.POSITIVE_INFINITY;
    // The first culprit is the one that is told.
    const [culprit = 0] = diagnosis.culprits;
    const told = this.byId.get(culprit);
    return told?.began ?? this.ofLack(diagnosis);
  }

  /** When a call was missing, as far as that can be told. */
  private ofLack(diagnosis: Diagnosis): number {
    if (diagnosis.code !== 'missingCall') return Number.POSITIVE_INFINITY;
    const last = diagnosis.fitting.at(-1);
    if (last !== undefined) return last.began;
    const args = diagnosis.claimedArguments ?? [];
    const heard = this.firstHeard(args);
    if (heard !== undefined) return this.firstOf(diagnosis.member, heard) ?? heard;
    // Nothing says when it should have come.
    if (args.length > 0) return Number.POSITIVE_INFINITY;
    return this.firstOf(diagnosis.member) ?? Number.POSITIVE_INFINITY;
  }

  /** @param explained the findings that the cause explains */
  ofCause(cause: FoundCause, explained: readonly Diagnosis[]): number {
    const [after, before] = cause.between ?? [];
    const [only, another] = explained;
    if (cause.alteration === 'insert' || cause.alteration === 'tail') {
      // Then the finding's own sentence is told, which names the last call.
      if (another === undefined && only?.code === 'missingCall' && only.fitting.length > 0)
        return this.ofFinding(only);
      // An item comes of what was called before it.
      const isItem = explained.every(({ code }) => code === 'wrongItems');
      if (isItem && before !== undefined) return before.began - 0.5;
      if (after !== undefined) return after.began + 0.5;
      if (before !== undefined) return before.began - 0.5;
      return this.ofMissing(explained, cause.claimed !== undefined);
    }
    const ids = cause.entries.map(({ id }) => id);
    // Then the finding's own sentence is told, and names its first culprit.
    if (another === undefined && only !== undefined && ids.includes(only.culprits[0] ?? 0))
      return this.ofFinding(only);
    const began = this.began(ids);
    // Of equal entries, a later one is too much.
    const isRepeat = cause.alteration === 'drop' && cause.together !== true;
    return (isRepeat ? began.at(-1) : began[0]) ?? Number.POSITIVE_INFINITY;
  }

  /** When one call is missing that explains some findings, or the first of several calls; last without any place. */
  private ofMissing(explained: readonly Diagnosis[], isOne: boolean): number {
    // Where others matched, it could have come before them; its arguments say more.
    const heard = this.placed(explained.filter(hasNoMatch));
    const placed = heard.length > 0 ? heard : this.placed(explained);
    if (placed.length === 0) return Number.POSITIVE_INFINITY;
    // One call cannot have been missing before any of them.
    return isOne ? Math.max(...placed) : Math.min(...placed);
  }

  private placed(lacking: readonly Diagnosis[]): readonly number[] {
    return lacking.map((each) => this.ofLack(each)).filter(Number.isFinite);
  }

  private began(ids: readonly number[]): readonly number[] {
    return ids.flatMap((id) => this.byId.get(id)?.began ?? []).sort((one, other) => one - other);
  }

  /** The tick of the first call of a member, from a tick on. */
  private firstOf(member: string, from = 0): number | undefined {
    return this.journal.entries.find(
      ({ target, began }) => began >= from && target.label === member,
    )?.began;
  }

  /** The tick of the first entry that has a text or a number of some arguments which few entries have. */
  private firstHeard(args: readonly unknown[]): number | undefined {
    this.firsts ??= firstsIn(this.journal.entries.slice(0, entriesSearched));
    let rarest: First | undefined;
    for (const part of partsIn(args)) {
      const found = this.firsts.get(part);
      if (found !== undefined && (rarest === undefined || found.count < rarest.count))
        rarest = found;
    }
    const isRare = rarest !== undefined && 2 * rarest.count < this.journal.entries.length;
    return isRare ? rarest?.tick : undefined;
  }
}

function hasNoMatch(diagnosis: Diagnosis): boolean {
  return diagnosis.code === 'missingCall' && diagnosis.fitting.length === 0;
}

/** Where a value first stands in the arguments of a record, and in how many entries. */
interface First {
  readonly tick: number;
  count: number;
}

function firstsIn(entries: readonly HeldEntry[]): ReadonlyMap<unknown, First> {
  const firsts = new Map<unknown, First>();
  for (const { args, began } of entries) {
    for (const part of new Set(partsIn(args))) {
      const known = firsts.get(part);
      if (known === undefined) firsts.set(part, { tick: began, count: 1 });
      else known.count++;
    }
  }
  return firsts;
}

/** Telling texts and numbers that are looked at of the arguments of one entry. */
const partsSearched = 100;

/** The telling texts and numbers in some values, to a depth; the first hundred. */
function partsIn(value: unknown, depth = depthSearched, found: unknown[] = []): readonly unknown[] {
  if (found.length >= partsSearched) return found;
  if ((typeof value === 'string' || typeof value === 'number') && tellsMuch(value))
    found.push(value);
  if (isPrimitive(value) || typeof value === 'function' || depth < 0) return found;
  for (const key of Object.keys(value as object).slice(0, partsSearched)) {
    const descriptor = Object.getOwnPropertyDescriptor(value, key);
    if (descriptor !== undefined && 'value' in descriptor)
      partsIn(descriptor.value, depth - 1, found);
  }
  return found;
}
