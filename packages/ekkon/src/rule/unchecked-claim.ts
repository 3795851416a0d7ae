import { claimOf } from '../claim/claim.ts';
import { levelFor } from '../explain/rule-level.ts';
import type { LedgerRecord, Level, Written } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { siteOf, unused } from '../record/written.ts';
import { type Broken, brokenTogether, noteAtMost } from './broken.ts';

/** Claims that were written and never judged. Bare patterns, which nothing uses, are noted at most. */
export function uncheckedClaims(record: LedgerRecord): readonly Broken[] {
  return (['claim', 'pattern'] as const).flatMap((is) =>
    brokenTogether(
      unused(record).filter(([, written]) => written.is === is),
      ([statement]) => levelOf(record, statement, is),
      (found) => {
        const written = found.map(([statement]) => ({
          notation: (statement as { readonly [printsAs]: string })[printsAs],
          at: siteOf(record, statement),
        }));
        return {
          code: 'uncheckedClaim',
          claim: 'rule uncheckedClaim',
          culprits: [],
          at: written[0]?.at,
          is,
          written,
        };
      },
    ),
  );
}

function levelOf(record: LedgerRecord, statement: object, is: Written['is']): Level {
  const claim = claimOf(statement);
  if (claim !== undefined) return levelFor('uncheckedClaim', claim);
  const level = record.rules.uncheckedClaim;
  return is === 'pattern' ? noteAtMost(level) : level;
}
