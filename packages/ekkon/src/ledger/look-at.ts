import { nearEntry } from '../explain/nearest.ts';
import { asPattern, bothNames } from '../pattern/as-pattern.ts';
import { callsOf, eventOf, journalOf, targetOf } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import type { Entry } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { shownEntry } from '../record/shown-entry.ts';
import { printUndecided } from '../report/difference-words.ts';
import { named } from '../report/words.ts';
import { noteLookedAt } from '../rule/judgements.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';

/** An entry as plain data; its arguments as a pattern sees them. */
export function shownBy(pattern: unknown, entry: HeldEntry): Entry {
  const event = eventOf(pattern);
  const lens = event === undefined ? undefined : callsOf(event).lens;
  const shown = shownEntry(entry);
  return lens === undefined ? shown : { ...shown, args: lens.show(entry) };
}

/** The entries that surely fit a pattern; they are looked at by that. */
export function lookAt(journal: Journal, pattern: unknown, below: Below): readonly HeldEntry[] {
  const event = asPattern(pattern, 'entries(call(dome.open))', below);
  if (journalOf(event) !== journal) {
    refuse(
      `entries() was given a pattern on ${targetOf(event).label} of another ledger: ${bothNames(journal, journalOf(event))}.`,
      below,
    );
  }
  const fits = journal.entries.map((entry) => ({ entry, fit: eventFit(event, entry) }));
  const undecided = fits.find(({ fit }) => fit === 'undecided')?.entry;
  if (undecided !== undefined) {
    const { entry, differences } = nearEntry(event, undecided);
    const why = differences.find(({ kind }) => kind === 'opaque') ?? differences[0];
    refuse(
      `entries(${event[printsAs]}): cannot tell whether ${named(entry)} matches${why === undefined ? '' : `: ${printUndecided(why)}`}.`,
      below,
    );
  }
  const fitting = fits.flatMap(({ entry, fit }) => (fit === 'fits' ? [entry] : []));
  for (const { id } of fitting) noteLookedAt(journal, id);
  return fitting;
}
