import { isUnfinished } from '../claim/count.ts';
import type { HeldClaim } from '../claim/kinds.ts';
import { countedBy, innermost, partsOf } from '../claim/kinds.ts';
import { pendingCalls } from '../explain/pending-calls.ts';
import type { HeldPattern } from '../pattern/event.ts';
import { callsFit } from '../pattern/fit.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Level } from '../record/member.ts';
import { brokenTogether, noteAtMost } from './broken.ts';
import { judgementsOn, levelOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/**
 * Calls whose promises never settled: not those that settle in a moment, that were planned to stall, or that a claim
 * expects to be unfinished. A pending call of a real member is a note at most.
 */
export const unfinishedCall: Rule = {
  levels: { loose: 'allow', usual: 'fail', careful: 'fail', strict: 'fail' },
  atClose: findUnfinished,
};

function findUnfinished({ journal }: Closing): readonly Broken[] {
  if (journal.pending.size === 0) return [];
  const expected = expectedUnfinished(journal);
  const isExpected = (entry: HeldEntry) =>
    expected.some((calls) => callsFit(calls, entry) === 'fits');
  const levels = new Map<number, Level>();
  for (const [entry, { on }] of journal.pending) {
    if (on === 'moment' || on === 'nothing' || isExpected(entry)) continue;
    if (entry.more?.answer?.isHeld === true) continue;
    const level = levelOn(journal, entry.target.double, 'unfinishedCall');
    levels.set(entry.id, on === 'real' ? noteAtMost(level) : level);
  }
  return brokenTogether(
    pendingCalls(journal),
    ({ entry }) => levels.get(entry.id) ?? 'allow',
    (pending) => ({
      code: 'unfinishedCall',
      claim: 'rule unfinishedCall',
      of: undefined,
      culprits: pending.map(({ entry }) => entry.id),
      at: pending[0]?.entry.site,
      pending,
    }),
  );
}

/** The calls that judged claims wanted to be unfinished. */
function expectedUnfinished(journal: Journal): readonly HeldPattern[] {
  return judgementsOn(journal).judged.flatMap(({ claim }) => unfinishedIn(claim));
}

function unfinishedIn(claim: HeldClaim): readonly HeldPattern[] {
  const inner = innermost(claim);
  const held = countedBy(inner)?.held;
  if (held === undefined || !isUnfinished(held)) return [];
  return partsOf(inner).uses(inner).length === 0 ? [] : [held.calls];
}
