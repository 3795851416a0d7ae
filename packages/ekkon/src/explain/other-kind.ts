import { anything } from '../match/anything.ts';
import { callsOf, type HeldEvent } from '../pattern/event.ts';
import { eventDifferences, speaksOf } from '../pattern/fit.ts';
import type { HeldEntry } from '../record/journal.ts';

/**
 * Whether a call that does not match a pattern is of a kind that others expect: where the pattern has one text, such as
 * the name of an event, the call has a text that another pattern has there, and the rest of it is not as expected either.
 *
 * @param others patterns, of which some may be of other members
 */
export function isOfOtherKind(
  event: HeldEvent,
  entry: HeldEntry,
  others: readonly HeldEvent[],
): boolean {
  const items = callsOf(event).claimed?.items ?? [];
  const isNamed = (at: number) =>
    others.some((each) => {
      const other = callsOf(each);
      return other.claimed?.items[at] === entry.args[at] && speaksOf(other, entry);
    });
  const isOther = (item: unknown, at: number) =>
    typeof item === 'string' &&
    typeof entry.args[at] === 'string' &&
    item !== entry.args[at] &&
    isNamed(at);
  const places = items.flatMap((item, at) => (isOther(item, at) ? [at] : []));
  if (places.length === 0) return false;
  const isRest = (at: number) => !places.includes(at) && items[at] !== anything;
  if (!items.some((_, at) => isRest(at))) return true;
  return eventDifferences(event, entry).some(
    ({ path: [place] }) => typeof place !== 'number' || isRest(place),
  );
}
