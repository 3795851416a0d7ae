import type { ClaimedArguments } from '../match/compare-arguments.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Member } from '../record/member.ts';
import type { Target } from '../record/target.ts';
import { isOwn, printsAs } from '../value/prints-as.ts';

/** A pattern of beginnings: calls, reads, writes, stream events. */
export interface HeldPattern {
  readonly of: 'call' | 'read' | 'write' | 'item' | 'end' | 'failure';
  readonly member: Member;
  /** `undefined`: any arguments. */
  readonly claimed: ClaimedArguments | undefined;
  /** The view that is compared instead of the arguments: a request, however it was made. */
  readonly lens?: Lens;
  /** As reports and claims files write it. */
  readonly [printsAs]: string;
}

/** Sees the arguments of a call as something else. */
export interface Lens {
  /** Whether it expects more than which calls are meant: then the view belongs to the pattern. */
  readonly tells: boolean;
  /** Whether it expects anything of the part of the view at a path. */
  minds(path: readonly PropertyKey[]): boolean;
  /** The view to be compared; it belongs to the record. */
  see(entry: HeldEntry): readonly unknown[];
  /** A fresh copy of it, for somebody else's code. */
  show(entry: HeldEntry): readonly unknown[];
}

/** The ends of some calls, or that they have none. */
export interface HeldEnd {
  readonly of: 'ends' | 'unfinished';
  readonly word: EndWord;
  readonly calls: HeldPattern;
  /** The states that count as this end. */
  readonly states: readonly Outcome['state'][];
  /** The expected value or reason, in a list because any value may be expected. Empty: any. */
  readonly claimed: readonly unknown[];
  readonly [printsAs]: string;
}

export type EndWord = 'returned' | 'threw' | 'fulfilled' | 'rejected' | 'settled' | 'unfinished';

/** Any pattern behind its public type. */
export type HeldEvent = HeldPattern | HeldEnd;

/** The pattern of beginnings behind its public type; `undefined` if the value is none. */
export function patternOf(value: unknown): HeldPattern | undefined {
  return isOwn(value) && 'of' in value && 'member' in value
    ? (value as unknown as HeldPattern)
    : undefined;
}

/** The pattern behind its public type; `undefined` if the value is none. */
export function eventOf(value: unknown): HeldEvent | undefined {
  if (isOwn(value) && 'states' in value) return value as unknown as HeldEnd;
  return patternOf(value);
}

/** Whether the pattern means how calls end, or that they have not. */
export function isEnd(event: HeldEvent): event is HeldEnd {
  return event.of === 'ends' || event.of === 'unfinished';
}

/** Whether the pattern means the moment at which calls end. */
export function isAtEnd(event: HeldEvent): event is HeldEnd {
  return event.of === 'ends';
}

/** Whether a pattern is about stream events. */
export function isOfStream(event: HeldEvent): event is HeldPattern {
  return event.of === 'item' || event.of === 'failure' || event.of === 'end';
}

/** The calls of a pattern. */
export function callsOf(event: HeldEvent): HeldPattern {
  return isEnd(event) ? event.calls : event;
}

export function memberOf(event: HeldEvent): Member {
  return callsOf(event).member;
}

export function targetOf(event: HeldEvent): Target {
  return callsOf(event).member.target;
}

export function journalOf(event: HeldEvent): Journal {
  return callsOf(event).member.journal;
}

const allStates: HeldEnd['states'] = ['returned', 'threw', 'fulfilled', 'rejected'];

/** The ends of some calls, however they end: for claims that need to know when a call is over. */
export function anyEndOf(calls: HeldPattern): HeldEnd {
  return {
    of: 'ends',
    word: 'settled',
    calls,
    states: allStates,
    claimed: [],
    [printsAs]: calls[printsAs],
  };
}

/** Whether a pattern's arguments are specific enough to own a matching call. */
export function tells(event: HeldEvent): boolean {
  const { claimed, lens } = callsOf(event);
  return lens?.tells ?? (claimed !== undefined && claimed.items.length > 0);
}
