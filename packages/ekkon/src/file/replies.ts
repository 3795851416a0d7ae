import { compare } from '../match/compare.ts';
import { shortValue } from '../notation/value.ts';
import { call } from '../pattern/call.ts';
import { plan } from '../plan/plan.ts';
import { makeReply, type Reply } from '../plan/reply.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import type { LoadedLedger } from './ledger-file.ts';

/**
 * Replies as a saved ledger recorded it for these calls: a call of the same member with equal arguments ends as the
 * next such call in the file did, and as the last of them from then on. A call that the file does not know throws to
 * its caller and is a finding.
 *
 * @throws TypeError if it is given no loaded ledger
 * @example
 * import { loadLedger, repliesFrom, saveLedger } from 'ekkon/file';
 *
 * saveLedger(ledger, 'last-week.ledger.jsonl'); // in a run before, with the real weather station
 * plan(call(weather.rain), repliesFrom(loadLedger('last-week.ledger.jsonl')));
 */
export function repliesFrom(saved: LoadedLedger): Reply<never> {
  const journal = journalOf(saved, repliesFrom);
  return replaying(journal, (label) =>
    journal.entries.filter((entry) => entry.target.label === label),
  );
}

/**
 * Gives every member of a stand-in the replies that a saved ledger recorded for the double of its name.
 *
 * @throws TypeError if it is given no stand-in, or no loaded ledger, or if the file has no such double
 * @example
 * import { loadLedger, replyAll, saveLedger } from 'ekkon/file';
 *
 * await archive.store({ id: 'frame-1', seconds: 30 });
 * saveLedger(ledger, 'archive.ledger.jsonl'); // in a run before, with the real archive
 * replyAll(archive, loadLedger('archive.ledger.jsonl'));
 */
export function replyAll(standIn: object, saved: LoadedLedger): void {
  const held = tied(standIn);
  if (held?.is !== 'double')
    refuse(`replyAll() takes a stand-in, and was given ${shortValue(standIn)}.`, replyAll);
  const journal = journalOf(saved, replyAll);
  const targets = journal.targets.all.filter(({ double }) => double === held.name);
  if (targets.length === 0) {
    refuse(
      `replyAll(): ledger ${inQuotes(saved.name)} has no calls of ${held.name}. Name the stand-in as it was called in the file.`,
      replyAll,
    );
  }
  const reply = repliesFrom(saved);
  for (const { keys } of targets) {
    const member = keys.reduce<unknown>(
      (holder, key) => Reflect.get(holder as object, key),
      standIn,
    );
    if (typeof member === 'function') plan(call(member as () => never), reply);
  }
}

function replaying(
  journal: Journal,
  entriesOf: (label: string) => readonly HeldEntry[],
): Reply<never> {
  const byLabel = new Map<
    string,
    { readonly entries: readonly HeldEntry[]; readonly used: Set<HeldEntry> }
  >();
  const next = (label: string, args: readonly unknown[]): Outcome | undefined => {
    const known = byLabel.get(label) ?? { entries: entriesOf(label), used: new Set() };
    byLabel.set(label, known);
    const fitting = known.entries.filter((entry) => compare(entry.args, args).length === 0);
    const unused = fitting.find((entry) => !known.used.has(entry));
    if (unused !== undefined) known.used.add(unused);
    return (unused ?? fitting.at(-1))?.outcome;
  };
  return makeReply({ kind: 'replays', next, [printsAs]: `replies from "${journal.name}"` });
}

function journalOf(saved: unknown, below: Below): Journal {
  const held = tied(saved);
  if (held?.is !== 'ledger' || !held.journal.closed) {
    refuse(
      `${below.name}() takes a ledger that was loaded, and was given ${shortValue(saved)}. Write ${below.name}(loadLedger('night.ledger.jsonl')).`,
      below,
    );
  }
  return held.journal;
}
