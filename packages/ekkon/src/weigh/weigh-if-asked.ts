import type { Ledger } from '../ledger/ledger.ts';
import { setting } from '../ledger/setting.ts';
import { tell } from '../ledger/tell.ts';
import type { Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import { evidenceOn } from '../rule/at-check.ts';
import { safeText } from '../value/escape.ts';
import { judgedOn, weighLedger } from './weigh-ledger.ts';
import { holdingOn } from './weigh-record.ts';
import { percentOf, type Weight, weightText } from './weight.ts';

/** How many claims to add are shown for each test. */
const claimsTold = 3;

/**
 * Weighs the claims of a test that passed, if the environment variable `EKKON_WEIGH` asks for it: with `1` it is only
 * told, with a number from 2 to 100 the test fails if less per cent of the questions are noticed.
 *
 * @throws Error if less is noticed, or if the variable is neither
 */
export function weighIfAsked(ledger: Ledger): void {
  const asked = setting('EKKON_WEIGH');
  if (asked === undefined || asked === '0') return;
  const bar = asked === '1' ? 0 : Number(asked);
  if (!/^\d+$/.test(asked) || bar > 100)
    throw new TypeError(
      `EKKON_WEIGH=${asked}: it is 1 to weigh the claims of each test, or the per cent of questions that have to be noticed, as in EKKON_WEIGH=80`,
    );
  const journal = tied(ledger)?.journal;
  if (journal === undefined || !isClaimed(journal)) return;
  const weight = weighLedger(ledger, [], weighIfAsked);
  if (weight.questions === 0) return;
  const percent = percentOf(weight);
  if (percent < bar)
    throw new Error(
      safeText(
        `EKKON_WEIGH=${asked}: only ${percent} % of the questions are noticed\n\n${weightText(weight, ledger.name)}\n`,
      ),
    );
  tell(summary(weight, ledger.name, percent));
}

/** Whether a claim that was judged holds on the whole record. */
function isClaimed(journal: Journal): boolean {
  return holdingOn(judgedOn(journal), evidenceOn(journal)).length > 0;
}

function summary({ questions, noticed, unnoticed }: Weight, name: string, percent: number): string {
  const claims = [...new Set(unnoticed.flatMap(({ code }) => (code === '' ? [] : [code])))];
  const told = claims.slice(0, claimsTold).map((code) => `\n  add ${code}`);
  const left = claims.length - told.length;
  return `"${name}": ${noticed} of ${questions} questions noticed (${percent} %)${told.join('')}${left > 0 ? `\n  … ${left} more` : ''}`;
}
