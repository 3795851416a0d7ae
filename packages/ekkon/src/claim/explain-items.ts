import { aboutClaim } from '../explain/diagnosis.ts';
import type { ItemsDiagnosis } from '../explain/finding.ts';
import { within } from '../explain/window.ts';
import { compare } from '../match/compare.ts';
import type { Context } from '../match/matcher.ts';
import { entryData } from '../record/entry-data.ts';
import { copyOf, originalOf } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';
import type { HeldExactItems } from './exact-items.ts';
import type { View } from './parts.ts';

/** Where the items of a stream are not those claimed: they are aligned. */
export function explainItems(
  claim: HeldExactItems,
  { evidence, window }: View,
): ItemsDiagnosis | undefined {
  const { journal } = evidence;
  const { member } = claim;
  const entries = journal.entries.filter(
    ({ target, began }) => target === member.target && within(window, began),
  );
  const items = entries.filter(({ kind }) => kind === 'item');
  const recorded = items.map(({ args }) => args[0]);
  const context: Context = {
    originalOf: (copy) =>
      items.reduce<object | undefined>(
        (found, { given }) => found ?? originalOf(given?.copies, copy),
        undefined,
      ),
    look: (instance) => copyOf(instance, journal),
  };
  const aligned = compare(claim.items, recorded, context);
  const begun = compareBegun(claim.items, recorded, context);
  // Alignment lets a matcher that accepts absence match where no item came.
  const isBegun = aligned.length === 0 || begun.length <= aligned.length;
  const differences = isBegun ? begun : aligned;
  if (differences.length === 0) return undefined;
  const ended = entries.find(({ kind }) => kind !== 'item');
  const culprits = differences.flatMap(({ kind, path: [at] }) => {
    const entry = kind !== 'missing' && typeof at === 'number' ? items[at] : undefined;
    return entry === undefined ? [] : [entry.id];
  });
  const first = items.find(({ id }) => id === culprits[0]) ?? ended;
  return {
    code: 'wrongItems',
    ...aboutClaim(claim),
    culprits: culprits.length === 0 && ended !== undefined ? [ended.id] : [...new Set(culprits)],
    at: first === undefined ? undefined : entryData(first).site,
    stream: member.target.label,
    differences,
    claimedItems: claim.items.length,
    items: items.map(entryData),
    ended: ended === undefined ? undefined : entryData(ended),
  };
}

/** Items by place, as far as they came, then the missing ones: the picture of a stream that stopped early. */
function compareBegun(
  claimed: readonly unknown[],
  recorded: readonly unknown[],
  context: Context,
): readonly Difference[] {
  const rest = claimed.slice(recorded.length).map(
    (item, at): Difference => ({
      path: [recorded.length + at],
      kind: 'missing',
      expected: item,
    }),
  );
  return [...compare(claimed.slice(0, recorded.length), recorded, context), ...rest];
}
