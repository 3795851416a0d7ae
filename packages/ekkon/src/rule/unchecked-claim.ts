import { claimOf } from '../claim/kinds.ts';
import type { Journal } from '../record/journal.ts';
import type { Level } from '../record/member.ts';
import { siteOf, unused, type Written } from '../record/slip.ts';
import { printsAs } from '../value/prints-as.ts';
import { brokenTogether, levelForClaim, noteAtMost } from './broken.ts';
import { judgementsOn } from './judgements.ts';
import type { Broken, Closing, Rule } from './rule.ts';

/** Claims that were written and never judged. Bare patterns, which nothing uses, are noted at most. */
export const uncheckedClaim: Rule = {
  levels: { loose: 'allow', usual: 'fail', careful: 'fail', strict: 'fail' },
  atClose: findUnchecked,
};

function findUnchecked({ journal }: Closing): readonly Broken[] {
  return (['claim', 'pattern'] as const).flatMap((is) =>
    brokenTogether(
      unused(journal).filter(([, written]) => written.is === is),
      ([statement]) => levelOf(journal, statement, is),
      (found) => {
        const written = found.map(([statement]) => ({
          notation: (statement as { readonly [printsAs]: string })[printsAs],
          at: siteOf(journal, statement),
        }));
        return {
          code: 'uncheckedClaim',
          claim: 'rule uncheckedClaim',
          of: claimOf(found[0]?.[0]),
          culprits: [],
          at: written[0]?.at,
          is,
          written,
        };
      },
    ),
  );
}

function levelOf(journal: Journal, statement: object, is: Written['is']): Level {
  const claim = claimOf(statement);
  if (claim !== undefined) return levelForClaim('uncheckedClaim', claim);
  const level = judgementsOn(journal).levels.uncheckedClaim;
  return is === 'pattern' ? noteAtMost(level) : level;
}
