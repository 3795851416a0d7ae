import { doublesOn, type Subscription } from '../double/doubles.ts';
import { shownBase } from '../double/shown.ts';
import { doublesShown } from '../record/double-names.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { type FollowedStream, newMember } from '../record/member.ts';
import { recordMoment } from '../record/record-call.ts';
import { shownEntry } from '../record/shown-entry.ts';
import { writtenSite } from '../record/slip.ts';
import { targetAt } from '../record/target.ts';
import { tie } from '../record/tie.ts';
import { noteLookedAt } from '../rule/judgements.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import type { Connect, Sink } from './source.ts';

/**
 * Follows a source until the ledger is closed: its items, its end and its failure become entries. A source
 * that throws when it is subscribed to has failed.
 */
export function followSource(
  journal: Journal,
  label: string,
  connect: Connect,
  asked: Below,
): object {
  const member = newMember(journal, targetAt(journal, label, []));
  const { target } = member;
  let seen = 0;
  const found: HeldEntry[] = [];

  function put(kind: 'item' | 'end' | 'failure', args: unknown[], below?: Below): void {
    recordMoment(journal, target, kind, args, below);
  }

  const sink: Sink = {
    item: (value, below) => put('item', [value], below),
    end: (below) => put('end', [], below),
    fail: (reason, below) => put('failure', [reason], below),
  };
  /** The items so far; reading them by hand covers them. */
  function items(): readonly unknown[] {
    for (; seen < journal.entries.length; seen++) {
      const entry = journal.entries[seen];
      if (entry?.target === target && entry.kind === 'item') found.push(entry);
    }
    for (const { id } of found) noteLookedAt(journal, id);
    return found.map((entry) => shownEntry(entry).args[0]);
  }

  const stream: object = Object.create(shownBase, {
    items: { enumerable: true, get: items },
    [printsAs]: { value: `[stream ${label}]` },
  });
  const held: FollowedStream = { is: 'stream', journal, name: label, member };
  tie(stream, held);
  doublesShown(journal).set(`[stream ${label}]`, stream);
  const subscription: Subscription = {
    label,
    captured: writtenSite(journal, asked),
    release: undefined,
  };
  doublesOn(journal).streams.push(subscription);
  try {
    subscription.release = connect(sink);
  } catch (reason) {
    sink.fail(reason);
  }
  return Object.freeze(stream);
}
