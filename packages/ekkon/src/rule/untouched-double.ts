import { partsOf } from '../claim/kinds.ts';
import { aboutClaim } from '../explain/diagnosis.ts';
import { siteOf } from '../record/slip.ts';
import { brokenAt, doublesOf, levelForClaim } from './broken.ts';
import { hasAsserted, judgementsOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/** Claims that hold only because something never occurred; at the check, and here when a ledger is closed. */
export const vacuousClaim: Rule = {
  levels: { loose: 'allow', usual: 'note', careful: 'fail', strict: 'fail' },
  atClose: untouchedDoubles,
};

/**
 * Claims that nothing happened on a double without any entry: if no other double has entries either, so nothing shows
 * that the code under test ran, and no assertion ran; or if another double of the same name was called, because this
 * one may never have been passed.
 */
function untouchedDoubles({ journal, doubles: asked }: Closing): readonly Broken[] {
  const { judged } = judgementsOn(journal);
  const idle = judged.filter(({ claim, holds }) => holds && partsOf(claim).holdsOfNothing(claim));
  if (idle.length === 0) return [];
  const touched = new Set(journal.entries.map(({ target }) => target.double));
  const told = new Set<string>();
  return idle.flatMap(({ claim }) => {
    const doubles = doublesOf(claim);
    const [double] = doubles;
    if (double === undefined || told.has(double) || doubles.some((each) => touched.has(each)))
      return [];
    told.add(double);
    const alike = journal.entries.filter(
      ({ target }) => target.double !== double && asked.get(target.double) === asked.get(double),
    );
    if (alike.length === 0 && (touched.size > 0 || hasAsserted(journal))) return [];
    const at = siteOf(journal, claim);
    return brokenAt(levelForClaim('vacuousClaim', claim), () => ({
      code: 'vacuousClaim',
      ...aboutClaim(claim),
      culprits: alike.map(({ id }) => id),
      at,
      claimedAt: at,
      near: undefined,
      never: double,
      untouched: { double, alike: [...new Set(alike.map(({ target }) => target.label))] },
    }));
  });
}
