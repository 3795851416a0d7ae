import { isPrimitive } from '../record/is-primitive.ts';
import type { HeldEntry, LedgerRecord } from '../record/ledger-record.ts';
import { type HeldEvent, memberOf } from './event.ts';
import { firstClaimed } from './event-index.ts';

/** Finds what was recorded already, so that many who ask need not each look through all of it. */
export interface PastEntries {
  /** The entries that may fit one of the patterns, in order. */
  for(patterns: readonly HeldEvent[] | 'all'): readonly HeldEntry[];
}

interface OfLabel {
  readonly all: HeldEntry[];
  /** By the primitive that was passed first. */
  readonly byFirst: Map<unknown, HeldEntry[]>;
  readonly others: HeldEntry[];
}

export function pastEntries({ entries }: LedgerRecord): PastEntries {
  const byLabel = new Map<string, OfLabel>();
  let indexed = 0;

  function catchUp(): void {
    for (; indexed < entries.length; indexed++) {
      const entry = entries[indexed] as HeldEntry;
      const known: OfLabel = byLabel.get(entry.label) ?? {
        all: [],
        byFirst: new Map(),
        others: [],
      };
      byLabel.set(entry.label, known);
      known.all.push(entry);
      const [first] = entry.args;
      const list = isPrimitive(first) ? (known.byFirst.get(first) ?? []) : known.others;
      if (list !== known.others) known.byFirst.set(first, list);
      list.push(entry);
    }
  }

  function listsFor(event: HeldEvent): readonly (readonly HeldEntry[])[] {
    const known = byLabel.get(memberOf(event).label);
    if (known === undefined) return [];
    const first = firstClaimed(event);
    return first === undefined ? [known.all] : [known.byFirst.get(first.value) ?? [], known.others];
  }

  return {
    for(patterns) {
      if (patterns === 'all') return entries;
      catchUp();
      const lists = new Set(patterns.flatMap(listsFor));
      const found = new Set([...lists].flat());
      return [...found].sort((one, other) => one.id - other.id);
    },
  };
}
