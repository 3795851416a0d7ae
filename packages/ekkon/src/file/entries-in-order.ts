import type { HeldEntry, Journal } from '../record/journal.ts';
import type { HeldMark } from '../record/mark.ts';
import { toldIn } from './read-file.ts';

/** An entry with how it ended, or a mark. */
export type EntryOrMark =
  | { readonly is: 'entry'; readonly entry: HeldEntry }
  | { readonly is: 'mark'; readonly mark: HeldMark };

/** How many entries may wait for one that began before them. */
const waitingMost = 10_000;

/**
 * Reads a ledger file and yields its entries and marks in the order in which they began, each when it has ended. Its
 * memory does not grow with the file: an entry that is under way while ten thousand others come is yielded when it
 * ends.
 *
 * @param declared the declarations of the file; no entry is kept in it
 * @param onLine is called for each line
 * @returns whether the file is cut off
 */
export function* entriesInOrder(
  path: string,
  declared: Journal,
  onLine: () => void = () => {},
): Generator<EntryOrMark, boolean> {
  const waiting = new Map<number, EntryOrMark>();
  let begun = 0;
  function* ready(most: number): Generator<EntryOrMark> {
    for (const [place, item] of waiting) {
      if (item.is === 'entry' && item.entry.ended === undefined && most > 0) {
        if (waiting.size <= most) return;
        continue;
      }
      waiting.delete(place);
      yield item;
    }
  }
  declared.tick = 0;
  const lines = toldIn(path, declared);
  let next = lines.next();
  for (; next.done !== true; next = lines.next()) {
    onLine();
    const told = next.value;
    if (told === undefined) continue;
    if (told.is === 'mark') waiting.set(begun++, told);
    else if (told.is === 'begins') waiting.set(begun++, { is: 'entry', entry: told.entry });
    else yield* ready(waitingMost);
  }
  yield* ready(0);
  return next.value.truncated;
}
