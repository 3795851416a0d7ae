import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Diagnosis } from '../explain/finding.ts';
import type { Change, ChangeGroup, Since } from '../explain/since.ts';
import { fitOf } from '../match/compare.ts';
import { callsOf } from '../pattern/event.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Fit } from '../value/comparison.ts';
import { compareRecords, type FoundChange, type Pair } from './compare-records.ts';
import { callsIn, type FoundGroup, groupChanges } from './group.ts';
import { asRead, type LastPass, readLastPass } from './last-pass.ts';
import { argumentsText, isTelling, Steadiness } from './unsteady.ts';

/** How far a test has come. */
export type Progress =
  /** At a check: only the part of the earlier record counts that was there at the same check. */
  | { readonly is: 'checking'; readonly checksOver: number }
  /** At its end, or where it stopped on an error of its own. */
  | { readonly is: 'over' | 'stopped' };

/**
 * The changes in a record since its test last passed, in the order of time; differences between passing runs are left
 * out.
 *
 * @param kept the kept text of the passing run
 * @param found the findings of its claims, for the members that they mention
 * @param at the progress of the test
 * @returns `undefined` if the text is not one that this version writes
 */
export function changesSince(
  journal: Journal,
  kept: string,
  found: readonly Diagnosis[],
  at: Progress,
): Since | undefined {
  const lastPass = readLastPass(kept);
  if (lastPass === undefined) return undefined;
  return changesBetween(lastPass, asRead(journal), found, { at, live: journal });
}

/**
 * The changes from one record to another, both as they were read from their lines.
 *
 * @param live the later record as it is held, if it is
 */
export function changesBetween(
  lastPass: LastPass,
  after: Journal,
  found: readonly Diagnosis[],
  { at, live = after }: { readonly at: Progress; readonly live?: Journal },
): Since {
  const upTo = at.is === 'checking' ? lastPass.checks[at.checksOver] : undefined;
  const before = lastPass.journal;
  const about = { passedAt: lastPass.passedAt, calls: before.entries.length };
  const none = {
    ...about,
    groups: [],
    firstClaimed: undefined,
    changedCalls: 0,
    unsteady: 0,
    undecided: 0,
  };
  const steadiness = new Steadiness(lastPass);
  const isToCome = ({ began }: HeldEntry) => upTo !== undefined && began > upTo;
  const { keyOf, isLoose, steady } = steadiness;
  const comparison = compareRecords(before, after, { keyOf, isLoose, steady, isToCome });
  if (comparison === undefined) return { ...none, counts: countsOf(before, after) };
  const last = after.entries.at(-1);
  const isLater = (change: FoundChange) =>
    at.is === 'stopped' && change.is === 'gone' && change.after?.id === last?.id;
  const later = comparison.changes.filter(isLater).length;
  const certain = comparison.changes.filter(
    (change) => !isYetToCome(change, upTo) && !isLater(change) && isCertain(change),
  );
  const changes = certain.flatMap((change) => steadiness.steadyPart(change) ?? []);
  const dataOf = (entry: HeldEntry) => entryData(live.entries[entry.id - 1] ?? entry);
  const all = groupChanges(changes);
  const groups = all.map((group) => groupData(group, dataOf));
  const fits = comparison.pairs.map(fitOfPair);
  const differing = fits.filter((fit) => fit === 'differs').length;
  // Calls with a difference go together if the difference is unsteady.
  const hidden = differing - certain.filter(({ is }) => is === 'changed').length;
  const stopped = { after: last && dataOf(last), later };
  return {
    ...about,
    groups,
    firstClaimed: firstClaimed(all, groups, claimedBy(found)),
    changedCalls: callsIn(groups),
    unsteady: certain.length - changes.length + hidden,
    undecided: fits.filter((fit) => fit === 'undecided').length,
    ...(at.is === 'stopped' ? { stopped } : {}),
  };
}

/** Whether a change is of something that the test has not come to yet. */
function isYetToCome(change: FoundChange, upTo: number | undefined): boolean {
  if (upTo === undefined) return false;
  if (change.is === 'gone') return change.was.began > upTo;
  if (change.is !== 'ended' && change.is !== 'outcome') return false;
  return (change.was.ended ?? 0) > upTo;
}

/** Whether a call has the arguments that it had. */
function fitOfPair({ was, now }: Pair): Fit {
  const text = argumentsText(was);
  if (text !== argumentsText(now)) return fitOf(was.args, now.args);
  // The content of a value that is shown only as a text is unknown.
  return text.includes('{"$":"shown"') ? 'undecided' : 'fits';
}

/** Whether something differs for certain. */
function isCertain(change: FoundChange): boolean {
  return change.is !== 'changed' || change.differences.some(isTelling);
}

function groupData({ changes, again }: FoundGroup, live: (entry: HeldEntry) => Entry): ChangeGroup {
  const [first, ...more] = changes;
  return {
    changes: [changeData(first, live), ...more.map((change) => changeData(change, live))],
    again: [...again].sort((one, other) => one - other),
  };
}

/** A change as plain data: calls of the later record as they are held now. */
function changeData(change: FoundChange, live: (entry: HeldEntry) => Entry): Change {
  switch (change.is) {
    case 'gone':
      return { is: 'gone', was: entryData(change.was), after: change.after && live(change.after) };
    case 'new':
      return { is: 'new', now: live(change.now) };
    case 'replaced':
      return { is: 'replaced', was: entryData(change.was), now: live(change.now) };
    case 'changed':
    case 'outcome': {
      const { is, differences } = change;
      return { is, was: entryData(change.was), now: live(change.now), differences };
    }
    case 'moved':
    case 'ended': {
      const { is, isBefore } = change;
      const [was, now] = [entryData(change.was), live(change.now)];
      return { is, was, now, beside: live(change.beside), isBefore };
    }
  }
}

/** Tells whether a change is to a member that a failing claim mentions, or to a call of a finding. */
function claimedBy(found: readonly Diagnosis[]): (change: FoundChange) => boolean {
  const mentioned = found.flatMap(({ of }) => {
    if (of === undefined) return [];
    const { events } = partsOf(of as HeldClaim).hears(of as HeldClaim);
    return [new Set(events.flatMap((event) => (event ? callsOf(event).member.target.label : [])))];
  });
  const culprits = new Set(found.flatMap((diagnosis) => diagnosis.culprits));
  return (change) => {
    const calls = [
      ...('was' in change ? [change.was] : []),
      ...('now' in change ? [change.now] : []),
    ];
    if ('now' in change && culprits.has(change.now.id)) return true;
    // The order of two calls matters only to a claim that mentions both.
    const beside = 'beside' in change ? change.beside.target.label : undefined;
    return mentioned.some(
      (labels) =>
        calls.some(({ target }) => labels.has(target.label)) &&
        (beside === undefined || labels.has(beside)),
    );
  };
}

/** The first change to a call that is claimed, if it is not in the first group. */
function firstClaimed(
  all: readonly FoundGroup[],
  groups: readonly ChangeGroup[],
  isClaimed: (change: FoundChange) => boolean,
): Change | undefined {
  for (const [at, { changes }] of all.entries()) {
    const place = changes.findIndex(isClaimed);
    if (place >= 0) return at === 0 ? undefined : groups[at]?.changes[place];
  }
  return undefined;
}

function countsOf(before: Journal, after: Journal): NonNullable<Since['counts']> {
  const counts = new Map<string, { was: number; is: number }>();
  const add = ({ entries }: Journal, side: 'was' | 'is') => {
    for (const { target } of entries) {
      const count = counts.get(target.label) ?? { was: 0, is: 0 };
      count[side]++;
      counts.set(target.label, count);
    }
  };
  add(before, 'was');
  add(after, 'is');
  return [...counts].flatMap(([label, { was, is }]) => (was === is ? [] : [{ label, was, is }]));
}
