import { tellUnclaimed } from '../claim/explain-nothing-else.ts';
import { wantingOf } from '../judge/judge.ts';
import { brokenTogether } from './broken.ts';
import { isAnywhere, judgementsOn, levelOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/** Entries that no claim wants, no counted plan answered and the test did not look at. */
export const unclaimedCall: Rule = {
  levels: { loose: 'allow', usual: 'allow', careful: 'allow', strict: 'fail' },
  atClose: findUnclaimed,
};

function findUnclaimed({ journal, accounted, unclaimedCount }: Closing): readonly Broken[] {
  if (!isAnywhere(journal, 'unclaimedCall', ['note', 'fail'])) return [];
  const { unplanned, judged } = judgementsOn(journal);
  // A call that nothing answered has its own finding.
  const told = new Set(unplanned.map(({ entry }) => entry.id));
  const left = journal.entries.filter(({ id }) => !accounted().has(id) && !told.has(id));
  const wanted = judged.map(({ claim }) => wantingOf(claim));
  return brokenTogether(
    left,
    ({ target }) => levelOn(journal, target.double, 'unclaimedCall'),
    (broken) => ({
      code: 'unclaimedCall',
      claim: 'rule unclaimedCall',
      of: undefined,
      ...tellUnclaimed(broken, wanted),
      count: unclaimedCount ?? broken.length,
    }),
  );
}
