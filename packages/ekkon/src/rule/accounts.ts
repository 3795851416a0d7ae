import { addUsed, GrowingUse } from '../judge/accounting.ts';
import { plansIn } from '../plan/plan.ts';
import { forEachJournal } from '../record/each-journal.ts';
import type { Journal } from '../record/journal.ts';
import { judgementsOn } from './judgements.ts';

/** The entries that judged claims cover, as far as it was computed. */
interface Accounts {
  readonly ids: Set<number>;
  /** How many of the judged claims were looked at. */
  done: number;
  /** Those that go on being judged. */
  readonly growing: GrowingUse[];
}

const accountsOn = forEachJournal<Accounts>(() => ({ ids: new Set(), done: 0, growing: [] }));

/**
 * The ids of the covered entries: those that a judged claim wants, whether or not it held; those that a counted plan
 * answered; and those that the test read. Each judged claim is visited once, and a reached one on each new event.
 */
export function accountedOn(journal: Journal): ReadonlySet<number> {
  const accounts = accountsOn(journal);
  const { judged, lookedAt } = judgementsOn(journal);
  const add = (id: number) => accounts.ids.add(id);
  for (; accounts.done < judged.length; accounts.done++) {
    const each = judged[accounts.done];
    if (each === undefined) continue;
    const { claim, upTo } = each;
    if (upTo === Number.POSITIVE_INFINITY) accounts.growing.push(new GrowingUse(claim));
    else addUsed(claim, journal, upTo, add);
  }
  for (const use of accounts.growing) use.addUsed(journal, add);
  for (const { counted, answered } of plansIn(journal))
    if (counted !== undefined) for (const { id } of answered) accounts.ids.add(id);
  for (const id of lookedAt) accounts.ids.add(id);
  return accounts.ids;
}
