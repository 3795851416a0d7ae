import { compare, fitOf } from '../match/compare.ts';
import {
  argumentsFit,
  type ClaimedArguments,
  compareArguments,
} from '../match/compare-arguments.ts';
import type { Context } from '../match/matcher.ts';
import { runsCode } from '../match/runs-code.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Fit } from '../value/comparison.ts';
import { copyOf, originalOf } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';
import { type HeldEnd, type HeldEvent, type HeldPattern, isAtEnd, isEnd } from './event.ts';

/** Whether an entry has the member of a pattern, whatever its arguments. */
export function speaksOf({ of, member }: HeldPattern, { target, kind }: HeldEntry): boolean {
  return target === member.target && (kind === of || (of === 'call' && kind === 'construct'));
}

/** Whether an entry is one of those that begin as a pattern says. */
export function callsFit(pattern: HeldPattern, entry: HeldEntry): Fit {
  return speaksOf(pattern, entry) ? argumentsFitOf(pattern, entry) : 'differs';
}

/** Whether the arguments of an entry, of whichever member, are those of a pattern. */
export function argumentsFitOf(pattern: HeldPattern, entry: HeldEntry): Fit {
  const { member, claimed } = pattern;
  if (claimed === undefined) return 'fits';
  const live = entry.given?.args ?? entry.args;
  return argumentsFit(claimed, seenBy(pattern, entry), contextOf, entry, member.journal, live);
}

/** Whether an entry that is one of the calls meant has the end, or has none, as a pattern says. */
export function endFit({ states, claimed, calls }: HeldEnd, entry: HeldEntry): Fit {
  const { outcome, more } = entry;
  if (!states.includes(outcome.state)) return hidesEnd(states, more) ? 'undecided' : 'differs';
  if (claimed.length === 0) return 'fits';
  return fitOf(claimed[0], resultOf(outcome), contextOf(entry, calls.member.journal));
}

/** How a promise settles that is not followed is not known. */
function hidesEnd(states: HeldEnd['states'], more: HeldEntry['more']): boolean {
  if (more?.unfollowed === undefined) return false;
  return states.includes('fulfilled') || states.includes('rejected');
}

/** Whether an entry has the event that a pattern means, as it stands now. */
export function eventFit(event: HeldEvent, entry: HeldEntry): Fit {
  if (!isEnd(event)) return callsFit(event, entry);
  const calls = callsFit(event.calls, entry);
  if (calls === 'differs') return 'differs';
  const ended = endFit(event, entry);
  return ended === 'fits' ? calls : ended;
}

/**
 * How an entry's arguments differ from those of a pattern.
 *
 * @param asked `once` if the result need not be kept
 */
export function callsDifferences(
  pattern: HeldPattern,
  entry: HeldEntry,
  asked?: 'once',
): readonly Difference[] {
  if (pattern.claimed === undefined) return [];
  if (asked === 'once') return findDifferences(pattern, pattern.claimed, entry);
  const known = differencesKnown(pattern);
  const before = known?.get(entry.args);
  if (before !== undefined) return before;
  const found = findDifferences(pattern, pattern.claimed, entry);
  known?.set(entry.args, found);
  return found;
}

type Known = WeakMap<readonly unknown[], readonly Difference[]>;

/** The results for lists of arguments. The lists never change, so each is compared with a pattern once. */
const knownOf = new WeakMap<HeldPattern, Known | 'asks'>();

/** The earlier result; `undefined` if comparing runs somebody's code, or needs more than the arguments. */
function differencesKnown(pattern: HeldPattern): Known | undefined {
  const { claimed, lens } = pattern;
  const isPure = () => lens === undefined && claimed?.items.every((item) => !runsCode(item));
  const known = knownOf.get(pattern) ?? (isPure() ? (new WeakMap() as Known) : 'asks');
  knownOf.set(pattern, known);
  return known === 'asks' ? undefined : known;
}

function findDifferences(
  { member, lens }: HeldPattern,
  claimed: ClaimedArguments,
  entry: HeldEntry,
): readonly Difference[] {
  const context = contextOf(entry, member.journal);
  const found = compareArguments(claimed, lens?.see(entry) ?? entry.args, context);
  // A view is one object with parts, and has no place among arguments.
  return lens === undefined ? found : found.map((each) => ({ ...each, path: each.path.slice(1) }));
}

/** The part of an entry that a pattern compares: its arguments, or its view of them. */
export function seenBy({ lens }: HeldPattern, entry: HeldEntry): readonly unknown[] {
  return lens === undefined ? entry.args : lens.see(entry);
}

/**
 * How an entry differs from a pattern: in its arguments, otherwise in its end.
 *
 * @param asked `once` if the result need not be kept
 */
export function eventDifferences(
  event: HeldEvent,
  entry: HeldEntry,
  asked?: 'once',
): readonly Difference[] {
  if (!isEnd(event)) return callsDifferences(event, entry, asked);
  const { outcome, more } = entry;
  const { states, claimed, calls } = event;
  const differences = [...callsDifferences(calls, entry, asked)];
  if (hidesEnd(states, more)) {
    differences.push({
      path: ['outcome'],
      kind: 'opaque',
      expected: states.join(' or '),
      received: outcome.state,
      why: 'unfollowed',
      reason: more?.unfollowed,
    });
  } else if (!states.includes(outcome.state)) {
    differences.push({
      path: ['outcome'],
      kind: 'changed',
      expected: states.join(' or '),
      received: outcome.state,
    });
  } else if (claimed.length > 0) {
    const key = 'reason' in outcome ? 'reason' : 'value';
    const context = contextOf(entry, calls.member.journal);
    const below = compare(claimed[0], resultOf(outcome), context);
    differences.push(...below.map((each) => ({ ...each, path: ['outcome', key, ...each.path] })));
  }
  return differences;
}

/** The tick of the event in an entry that fits. */
export function eventTick(event: HeldEvent, entry: HeldEntry): number {
  return isAtEnd(event) ? (entry.ended ?? Number.POSITIVE_INFINITY) : entry.began;
}

function resultOf(outcome: Outcome): unknown {
  if ('value' in outcome) return outcome.value;
  return 'reason' in outcome ? outcome.reason : undefined;
}

/** How matchers look into a recorded entry. */
export function contextOf(entry: HeldEntry, journal: Journal): Context {
  return {
    originalOf: (copy) =>
      originalOf(entry.given?.copies, copy) ?? originalOf(entry.more?.resultCopies, copy),
    look: (instance) => copyOf(instance, journal),
  };
}
