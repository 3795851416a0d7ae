import type { Fit } from '../match/compare.ts';
import { compare, fitOf } from '../match/compare.ts';
import type { Difference } from '../match/difference.ts';
import type { Outcome } from '../record/entry.ts';
import type { Member } from '../record/ledger-record.ts';
import { isOwn, printsAs } from '../record/prints-as.ts';
import {
  entryDifferences,
  entryFit,
  type HeldPattern,
  type JudgedEntry,
  patternOf,
  speaksOf,
} from './pattern.ts';

/** The ends of some calls, or that they have none. */
export interface HeldEnd {
  readonly of: 'end' | 'unfinished';
  readonly calls: HeldPattern;
  /** The states that count as this end. */
  readonly states: readonly Outcome['state'][];
  /** What they gave, or the reason; in a list, since anything may be claimed. Empty: anything. */
  readonly claimed: readonly unknown[];
  readonly [printsAs]: string;
}

/** Any pattern behind its public type. */
export type HeldEvent = HeldPattern | HeldEnd;

/** The pattern behind its public type; `undefined` where the value is none. */
export function eventOf(value: unknown): HeldEvent | undefined {
  return patternOf(value) ?? endOf(value);
}

function endOf(value: unknown): HeldEnd | undefined {
  return isOwn(value) && 'states' in value ? (value as unknown as HeldEnd) : undefined;
}

/** Whether the pattern means how calls end. */
export function isEnd(event: HeldEvent): event is HeldEnd {
  return 'calls' in event;
}

/** The calls that a pattern speaks of. */
export function callsOf(event: HeldEvent): HeldPattern {
  return isEnd(event) ? event.calls : event;
}

export function memberOf(event: HeldEvent): Member {
  return callsOf(event).member;
}

/** Whether an entry has the event that a pattern means. */
export function eventFit(event: HeldEvent, entry: JudgedEntry): Fit {
  if (!isEnd(event)) return entryFit(event, entry);
  if (!speaksOf(event.calls, entry) || !event.states.includes(entry.outcome.state))
    return 'differs';
  const fit = entryFit(event.calls, entry);
  if (fit === 'differs' || event.claimed.length === 0) return fit;
  const ended = fitOf(event.claimed[0], resultOf(entry.outcome));
  return ended === 'fits' ? fit : ended;
}

/** How an entry differs from what a pattern means: in its arguments, else in its end. */
export function eventDifferences(event: HeldEvent, entry: JudgedEntry): readonly Difference[] {
  if (!isEnd(event)) return entryDifferences(event, entry);
  const differences = [...entryDifferences(event.calls, entry)];
  const { state } = entry.outcome;
  if (!event.states.includes(state)) {
    differences.push({
      path: ['outcome'],
      kind: 'changed',
      claimed: event.states.join(' or '),
      recorded: state,
    });
  } else if (event.claimed.length > 0) {
    const key = state === 'threw' || state === 'rejected' ? 'reason' : 'value';
    const below = compare(event.claimed[0], resultOf(entry.outcome));
    differences.push(...below.map((each) => ({ ...each, path: ['outcome', key, ...each.path] })));
  }
  return differences;
}

/** The tick of the event in an entry that fits. */
export function tickOf(event: HeldEvent, entry: JudgedEntry): number {
  return isEnd(event) && event.of === 'end'
    ? (entry.ended ?? Number.POSITIVE_INFINITY)
    : entry.began;
}

function resultOf(outcome: Outcome): unknown {
  if ('value' in outcome) return outcome.value;
  return 'reason' in outcome ? outcome.reason : undefined;
}
