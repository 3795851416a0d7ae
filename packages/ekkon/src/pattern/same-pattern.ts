import { sameValues } from '../match/same-value.ts';
import { callsOf, type HeldEvent, type HeldPattern, isEnd } from './event.ts';

/**
 * Whether two patterns mean the same events: the same target, the same kind of event, arguments that say the
 * same, and a value at the end that does. All parts of Ekkon use this notion of sameness. How patterns print does not matter.
 */
export function samePattern(one: HeldEvent, other: HeldEvent): boolean {
  return one === other || (sameCalls(callsOf(one), callsOf(other)) && sameEnd(one, other));
}

/** Whether two patterns of beginnings mean the same. */
export function sameCalls(one: HeldPattern, other: HeldPattern): boolean {
  if (one === other) return true;
  if (one.of !== other.of || one.member.target !== other.member.target) return false;
  const [claimed, others] = [one.claimed, other.claimed];
  if (claimed === undefined || others === undefined) return claimed === others;
  if ((one.lens === undefined) !== (other.lens === undefined)) return false;
  return claimed.rest === others.rest && sameValues(claimed.items, others.items);
}

/** Whether two patterns mean the same kind of end, with the same value. */
export function sameEnd(one: HeldEvent, other: HeldEvent): boolean {
  if (!isEnd(one) || !isEnd(other)) return isEnd(one) === isEnd(other);
  return (
    one.of === other.of &&
    one.states.length === other.states.length &&
    one.states.every((state, at) => state === other.states[at]) &&
    sameValues(one.claimed, other.claimed)
  );
}

/** The place in a list of the pattern that is the same, or -1. Those of another target are passed over. */
export function placeOf(patterns: readonly HeldEvent[], event: HeldEvent): number {
  return patterns.findIndex((each) => samePattern(each, event));
}
