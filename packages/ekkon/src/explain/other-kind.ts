import { anything } from '../match/anything.ts';
import { arePlain } from '../match/compare.ts';
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

/**
 * Whether a call is of another form than a pattern expects, as messages of two kinds are: an object in it has mostly other
 * keys, or it is of another kind by a text that only calls of its member have. Other texts tell one thing from another.
 */
export function isOfOtherForm(
  event: HeldEvent,
  entry: HeldEntry,
  known: { readonly patterns: readonly HeldEvent[]; readonly entries: readonly HeldEntry[] },
): boolean {
  const { args, target } = entry;
  const items = callsOf(event).claimed?.items ?? [];
  if (items.some((item, at) => hasOtherKeys(item, args[at]))) return true;
  // A text that stands alone may be any.
  if (args.length < 2 || !isOfOtherKind(event, entry, known.patterns)) return false;
  const others = known.entries.filter((other) => other.target !== target);
  return args.some(
    (arg, at) =>
      typeof arg === 'string' &&
      arg !== items[at] &&
      !others.some((other) => other.args.includes(arg)),
  );
}

function hasOtherKeys(item: unknown, received: unknown): boolean {
  if (typeof item !== 'object' || item === null || !arePlain(item, received)) return false;
  const [expected, others] = [Object.keys(item), Object.keys(received)];
  const shared = expected.filter((key) => others.includes(key)).length;
  return 2 * shared <= expected.length + others.length - shared;
}
