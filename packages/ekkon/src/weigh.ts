import type { LoadedLedger } from './file/index.ts';
import type { Ledger } from './ledger/ledger.ts';
import type { Claim } from './record/claim-type.ts';
import { weighLedger } from './weigh/weigh-ledger.ts';
import type { Weight } from './weigh/weight.ts';

export type { Alteration } from './explain/cause.ts';
export type { Unnoticed, Weight } from './weigh/weight.ts';

/**
 * Finds out how much of a record its claims would notice: it changes the record one way at a time, and judges the
 * claims again. docs/weigh.md lists the changes.
 *
 * @param on a ledger, or a record that was loaded
 * @param claims that hold on it; those that the ledger has judged if none is given
 * @returns how many questions are noticed, each unnoticed change with a claim that would notice it, and claims that
 * are too tight
 * @throws TypeError if it is given no ledger; if there are no claims, if one is on another ledger, or does not hold
 * @example
 * import { weigh } from 'ekkon/weigh';
 *
 * dome.open();
 * dome.close();
 * const { questions, noticed, unnoticed } = weigh(ledger, once(call(dome.open)), once(call(dome.close)));
 */
export function weigh(on: Ledger | LoadedLedger, ...claims: Claim[]): Weight {
  return weighLedger(on, claims, weigh);
}
