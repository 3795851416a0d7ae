import type { FollowedStream, LedgerRecord, Subscription } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { begin, end } from '../record/recording.ts';
import { tie } from '../record/tie.ts';
import { writtenSite } from '../record/written.ts';
import { judgeLateCall } from './late.ts';
import { makeMember } from './make-member.ts';
import { shownBase } from './shown.ts';
import type { Connect, Sink } from './source.ts';

type Below = (...args: never[]) => unknown;

/**
 * Follows a source until the ledger is closed: its items, its end and its failure become entries. A source
 * that throws when it is subscribed to has failed.
 */
export function followSource(
  record: LedgerRecord,
  label: string,
  connect: Connect,
  asked: Below,
): object {
  const member = makeMember(record, { label, double: label });
  const items: { readonly id: number; readonly value: unknown }[] = [];

  function put(kind: 'item' | 'end' | 'failure', args: readonly unknown[], below?: Below) {
    const entry = begin(record, label, undefined, args, below, kind);
    if (record.closed) judgeLateCall(record, entry);
    if (kind === 'item') items.push({ id: entry.id, value: entry.args[0] });
    end(record, entry, 'returned', undefined);
  }

  const sink: Sink = {
    item: (value, below) => put('item', [value], below),
    end: (below) => put('end', [], below),
    fail: (reason, below) => put('failure', [reason], below),
  };
  const stream: object = Object.create(shownBase, {
    items: {
      enumerable: true,
      // Who looks at them by hand has accounted for them.
      get() {
        for (const { id } of items) record.lookedAt.add(id);
        return items.map(({ value }) => value);
      },
    },
    [printsAs]: { value: `[stream ${label}]` },
  });
  const held: FollowedStream = { is: 'stream', record, name: label, member };
  tie(stream, held);
  const subscription: Subscription = {
    label,
    captured: writtenSite(record, asked),
    release: undefined,
  };
  record.streams.push(subscription);
  try {
    subscription.release = connect(sink);
  } catch (reason) {
    sink.fail(reason);
  }
  return Object.freeze(stream);
}
