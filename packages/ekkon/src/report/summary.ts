import { shortValue } from '../notation/value.ts';
import { tiedWhole } from '../record/tie.ts';
import { refuse } from '../value/refuse.ts';
import { summaryText } from './summary-text.ts';

/**
 * A readable summary of a ledger, a double or a member: its calls in order with how they ended, its
 * plans with how often each replied, and, of a ledger, the claims judged so far.
 *
 * @throws TypeError if the subject is none of these
 * @example
 * console.log(summary(dome));
 */
export function summary(subject: object): string {
  const held = tiedWhole(subject);
  if (held === undefined) {
    refuse(
      `summary() takes a ledger, a double or a member, and was given ${shortValue(subject)}.`,
      summary,
    );
  }
  return summaryText(held);
}
