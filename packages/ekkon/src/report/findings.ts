import type { Diagnoses, Diagnosis, FindingCode, Moment } from '../explain/finding.ts';
import type { Block } from './block.ts';
import { missingWords, surplusWords, undecidedWords } from './count-words.ts';
import {
  alwaysTrueWords,
  changedSlotWords,
  driftWords,
  unknownMemberWords,
  unplannedWords,
  vacuousWords,
} from './double-words.ts';
import { inFlightWords, orderWords, precedenceWords, undecidedOrderWords } from './order-words.ts';
import { itemsWords, ruleWords, unclaimedWords } from './rule-words.ts';
import type { Words } from './words.ts';

/** The words for all findings, by code. A missing code does not compile. */
const findings: { readonly [C in FindingCode]: Words<Diagnoses[C]> } = {
  ...ruleWords,
  missingCall: missingWords,
  surplusCall: surplusWords,
  undecidedCall: undecidedWords,
  undecidedOrder: undecidedOrderWords,
  alwaysTrueClaim: alwaysTrueWords,
  vacuousClaim: vacuousWords,
  unplannedCall: unplannedWords,
  unknownMember: unknownMemberWords,
  changedSlot: changedSlotWords,
  drift: driftWords,
  outOfOrder: orderWords,
  tooEarly: precedenceWords,
  neverFollowed: precedenceWords,
  inFlight: inFlightWords,
  unclaimedEntries: unclaimedWords,
  wrongItems: itemsWords,
};

/** The sentence that tells a diagnosis: enough on its own to know which call was wrong, and where. */
export function messageOf(diagnosis: Diagnosis): string {
  const since = 'reachedAt' in diagnosis ? 'it was reached, and then: ' : '';
  const still = 'waitedAt' in diagnosis ? 'still waited for: ' : '';
  return `${since}${still}${wordsFor(diagnosis).message(diagnosis)}`;
}

/** The content of a report below the claim. */
export function blocksOf(diagnosis: Diagnosis, width: number): readonly Block[] {
  return wordsFor(diagnosis).blocks(diagnosis, width);
}

function wordsFor({ code }: Diagnosis): Words<Diagnosis> {
  return findings[code] as Words<Diagnosis>;
}

/** Two events that came in the other order than expected, if that is the finding. */
export function orderedBy(diagnosis: Diagnosis): readonly (Moment | undefined)[] {
  return wordsFor(diagnosis).order?.(diagnosis) ?? [];
}

/** Whether a finding could be the reason for which a test failed, and not only come of that. */
export function couldExplain(diagnosis: Diagnosis): boolean {
  return 'waitedAt' in diagnosis || (wordsFor(diagnosis).couldExplain?.(diagnosis) ?? false);
}
