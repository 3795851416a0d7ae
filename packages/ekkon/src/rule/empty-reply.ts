import type { EmptyReplyDiagnosis } from '../explain/rule-finding.ts';
import { plansIn, printPlan } from '../plan/plan.ts';
import { doublesNamed } from '../record/double-names.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';

/** How many members are named. */
const membersTold = 3;

/**
 * The last calls that no plan answered and that returned `undefined`, if a test failed on an undefined value: the
 * code under test may have used it.
 *
 * @param reason the error of the test's body
 */
export function emptyReplies(journal: Journal, reason: unknown): readonly EmptyReplyDiagnosis[] {
  if (!speaksOfUndefined(reason)) return [];
  const kinds = doublesNamed(journal);
  const found: HeldEntry[] = [];
  for (let at = journal.entries.length - 1; at >= 0 && found.length < membersTold; at--) {
    const entry = journal.entries[at];
    if (entry === undefined || !isEmpty(entry) || kinds.get(entry.target.double) === 'real')
      continue;
    if (!found.some(({ target }) => target === entry.target)) found.push(entry);
  }
  const [last] = found;
  if (last === undefined) return [];
  return [
    {
      code: 'emptyReply',
      claim: 'no plan',
      of: undefined,
      culprits: found.map(({ id }) => id),
      at: entryData(last).site,
      entries: found.map(entryData),
      plans: plansIn(journal)
        .filter(({ pattern }) => pattern.member.target === last.target)
        .map(printPlan),
    },
  ];
}

function isEmpty({ kind, outcome, more }: HeldEntry): boolean {
  if (kind !== 'call' || more?.answer !== undefined) return false;
  const hasEnded = outcome.state === 'returned' || outcome.state === 'fulfilled';
  return hasEnded && outcome.value === undefined;
}

/** Whether an error says that something was undefined: in any realm, and as a runner reports it. */
function speaksOfUndefined(reason: unknown): boolean {
  if (typeof reason !== 'object' || reason === null) return false;
  const { name, message } = reason as { readonly name?: unknown; readonly message?: unknown };
  return name === 'TypeError' && typeof message === 'string' && message.includes('undefined');
}
