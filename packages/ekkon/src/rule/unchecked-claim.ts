import { claimOf } from '../claim/claim.ts';
import { levelFor } from '../explain/rule-level.ts';
import type { LedgerRecord, Level, Written } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { siteOf, unused } from '../record/written.ts';
import { type Broken, brokenAt, noteAtMost } from './broken.ts';

/** Claims that were written and never judged. Bare patterns, which nothing uses, are noted at most. */
export function uncheckedClaims(record: LedgerRecord): readonly Broken[] {
  const written = unused(record).map(([statement, { is }]) => ({
    is,
    level: levelOf(record, statement, is),
    notation: (statement as { readonly [printsAs]: string })[printsAs],
    statement,
  }));
  return (['claim', 'pattern'] as const).flatMap((is) =>
    (['fail', 'note'] as const).flatMap((level) => {
      const found = written.filter((each) => each.is === is && each.level === level);
      if (found.length === 0) return [];
      return brokenAt(level, () => {
        const told = found.map(({ notation, statement }) => ({
          notation,
          at: siteOf(record, statement),
        }));
        return {
          code: 'uncheckedClaim',
          claim: 'rule uncheckedClaim',
          culprits: [],
          at: told[0]?.at,
          is,
          written: told,
        };
      });
    }),
  );
}

function levelOf(record: LedgerRecord, statement: object, is: Written['is']): Level {
  const claim = claimOf(statement);
  if (claim !== undefined) return levelFor('uncheckedClaim', claim);
  const level = record.rules.uncheckedClaim;
  return is === 'pattern' ? noteAtMost(level) : level;
}
