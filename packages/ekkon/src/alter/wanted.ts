import { partsOf } from '../claim/kinds.ts';
import type { Wanted } from '../claim/parts.ts';
import type { FoundCause } from '../explain/cause.ts';
import { nearnessTo } from '../explain/nearness.ts';
import { printTarget } from '../notation/label.ts';
import { type HeldEvent, targetOf, tells } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';
import { missingArguments, missingEntry, type Search } from './candidates.ts';
import { type Change, tickBehind } from './change.ts';
import { type FailedClaim, wantedBy } from './failed-claim.ts';

/** Several entries changed at once. */
export interface Several {
  readonly change: Change;
  /** The failed claims that it has to mend. */
  readonly needs?: readonly FailedClaim[];
  /** Whether it inserts missing entries. */
  readonly mendsMissing: boolean;
  /** What is reported of it. */
  tell(): Pick<FoundCause, 'alteration' | 'entries'> & Partial<FoundCause>;
}

/**
 * Missing entries that are put in.
 *
 * @param tell what is reported of them beside their members
 */
export function inserted(added: readonly HeldEntry[], tell: () => Partial<FoundCause>): Several {
  return {
    change: { without: [], added },
    mendsMissing: true,
    tell: () => ({ alteration: 'insert', entries: [], missing: labelsOf(added), ...tell() }),
  };
}

/** Entries that came too much, taken out together. */
export function dropped(entries: readonly HeldEntry[]): Several {
  return {
    change: { without: entries, added: [] },
    mendsMissing: false,
    tell: () => ({ alteration: 'drop', entries: entries.map(entryData), together: true }),
  };
}

/** How many entries are put in at most. */
const addedMost = 40;

/** A pattern that failed claims want more of, and whether a claim says where. */
export type Want = Wanted & { readonly isInOrder: boolean; readonly failed: FailedClaim };

/** What failed claims want more of: the most certain first. */
export function wantedIn({ failed }: Search): readonly Want[] {
  return failed
    .flatMap((failed) =>
      wantedBy(failed).map((want) => ({ ...want, isInOrder: isInOrder(failed), failed })),
    )
    .sort((one, other) => rankWanted(one) - rankWanted(other));
}

/** Whether a claim fixes the order of its events. */
function isInOrder({ claim }: FailedClaim): boolean {
  return partsOf(claim).patternAt !== undefined;
}

/** Steps of a sequence come first, patterns without arguments last, because other entries may be meant by them. */
export function rankWanted(want: Want): number {
  return (tells(want.event) ? 0 : 2) + (want.isInOrder ? 0 : 1);
}

/**
 * The missing entries after a tick, in their order; an entry that several claims need comes once.
 *
 * @param placeOf the tick after which one comes, if that is another one
 */
export function entriesFor(
  search: Search,
  wanted: readonly Want[],
  behind: number,
  placeOf: (event: HeldEvent) => number | undefined = () => undefined,
): readonly HeldEntry[] {
  const added: HeldEntry[] = [];
  const isLacking = ({ event, missing }: Want) =>
    added.filter((entry) => eventFit(event, entry) === 'fits').length < missing;
  for (const want of wanted) {
    while (isLacking(want)) {
      const args = missingArguments(
        want.event,
        wanted.filter(isLacking).map(({ event }) => event),
      );
      if (args === undefined || added.length >= addedMost) return needed(added, wanted);
      const tick = tickBehind(placeOf(want.event) ?? behind, 8 * added.length + 8);
      const entry = missingEntry(search, want.event, args, tick, added.length);
      added.push(entry);
      if (eventFit(want.event, entry) !== 'fits') break;
    }
  }
  return needed(added, wanted);
}

/** Those of some entries that are needed: an entry that was made for a wide pattern may be left out beside narrower ones. */
function needed(added: readonly HeldEntry[], wanted: readonly Want[]): readonly HeldEntry[] {
  const wants = wanted.map(({ event, missing }) => {
    const fitting = new Set(added.filter((entry) => eventFit(event, entry) === 'fits'));
    return { fitting, spare: fitting.size - missing };
  });
  return added.filter((entry) => {
    const its = wants.filter(({ fitting }) => fitting.has(entry));
    if (its.some(({ spare }) => spare <= 0)) return true;
    for (const want of its) want.spare--;
    return false;
  });
}

/**
 * The members of which calls have gone wrong: calls that no claim wants came, about as many as are missing, or one that
 * agrees with what is wanted.
 */
export function goneWrong(
  { journal, isClaimed }: Search,
  wanted: readonly Want[],
  missing: readonly HeldEntry[],
): readonly Target[] {
  const { entries } = journal;
  return [...grouped(missing, ({ target }) => target)].flatMap(([target, those]) => {
    const unclaimed = callsIn(entries, target).filter((entry) => !isClaimed(entry));
    if (unclaimed.length === 0) return [];
    const isNear = ({ event }: Want) => {
      const nearness = nearnessTo(event, entries);
      return unclaimed.some((entry) => nearness.of(entry).agrees);
    };
    const own = wanted.filter(({ event }) => targetOf(event) === target);
    // As many are missing as a claim on all calls of the member counts.
    const areCounted = own.some(({ event, missing }) => !tells(event) && missing >= those.length);
    const areNear = !areCounted && own.filter(({ event }) => tells(event)).some(isNear);
    return areNear || 2 * unclaimed.length > those.length ? [target] : [];
  });
}

export function distinctTargets(wanted: readonly Want[]): readonly Target[] {
  return [...new Set(wanted.map(({ event }) => targetOf(event)))];
}

export function callsIn(entries: readonly HeldEntry[], target: Target): readonly HeldEntry[] {
  return entries.filter((entry) => entry.target === target);
}

export function labelsOf(entries: readonly HeldEntry[]): readonly string[] {
  return [...new Set(entries.map(({ target }) => printTarget(target)))];
}
