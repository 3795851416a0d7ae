import type { HeldExactItems } from '../claim/exact-items.ts';
import { originalIn } from '../claim/pattern.ts';
import { within } from '../claim/window.ts';
import { compare } from '../match/compare.ts';
import type { Difference } from '../match/difference.ts';
import type { Context } from '../match/matcher.ts';
import { copyOf } from '../record/copy.ts';
import { entryData } from '../record/recording.ts';
import type { ItemsDiagnosis } from './finding.ts';
import type { View } from './view.ts';

/** Judges whether a stream gave exactly the items claimed; where not, they are aligned. */
export function judgeItems(
  claim: HeldExactItems,
  { record, window }: View,
): ItemsDiagnosis | undefined {
  const entries = record.entries.filter(
    ({ label, began }) => label === claim.member.label && within(window, began),
  );
  const items = entries.filter(({ kind }) => kind === 'item');
  const recorded = items.map(({ args }) => args[0]);
  const { member } = claim;
  const context: Context = {
    originalOf: (copy) =>
      items.reduce<object | undefined>(
        (found, entry) => found ?? originalIn(entry, copy),
        undefined,
      ),
    look: (instance) => copyOf(instance, record),
  };
  const aligned = compare(claim.items, recorded, context);
  if (aligned.length === 0) return undefined;
  const begun = compareBegun(claim.items, recorded, context);
  const differences = begun.length <= aligned.length ? begun : aligned;
  const ended = entries.find(({ kind }) => kind !== 'item');
  const culprits = differences.flatMap(({ kind, path: [at] }) => {
    const entry = kind !== 'missing' && typeof at === 'number' ? items[at] : undefined;
    return entry === undefined ? [] : [entry.id];
  });
  const first = items.find(({ id }) => id === culprits[0]) ?? ended;
  return {
    code: 'inexactItems',
    claim: claim.notation,
    culprits: culprits.length === 0 && ended !== undefined ? [ended.id] : [...new Set(culprits)],
    at: first === undefined ? undefined : entryData(first).site,
    stream: member.label,
    differences,
    claimedItems: claim.items.length,
    items: items.map(entryData),
    ended: ended === undefined ? undefined : entryData(ended),
  };
}

/** Items by place, as far as they came, and those that did not come: what a stream that stopped early looks like. */
function compareBegun(
  claimed: readonly unknown[],
  recorded: readonly unknown[],
  context: Context,
): readonly Difference[] {
  const rest = claimed.slice(recorded.length).map(
    (item, at): Difference => ({
      path: [recorded.length + at],
      kind: 'missing',
      claimed: item,
    }),
  );
  return [...compare(claimed.slice(0, recorded.length), recorded, context), ...rest];
}
