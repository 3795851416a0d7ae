import { NotationError } from '#core/grammar/notation-error.ts';
import { claimsIn } from '#core/grammar/parse-claims.ts';
import { heldClaims, judgeJournal } from '#core/offline/judge-record.ts';
import { type ToldVerdict, toldVerdict } from '#core/report/told.ts';
import { alteringOn } from '#core/rule/altering.ts';
import { evidenceOn } from '#core/rule/at-check.ts';
import { levelsIn } from '#core/rule/rules.ts';
import { changesSince } from '#core/since/since.ts';
import { holdingOn, weighRecord } from '#core/weigh/weigh-record.ts';
import { makeWeight, type Weight } from '#core/weigh/weight.ts';
import type { OpenRecord } from './open-record.ts';

/** The result of claims in a text: a verdict, or the reason why they cannot be read. */
export type JudgedText =
  | { readonly is: 'judged'; readonly verdict: ToldVerdict }
  | { readonly is: 'unread'; readonly why: string };

/** Judges the claims of a text on a record, as the command line does. */
export function judgeText({ journal, record }: OpenRecord, text: string): JudgedText {
  try {
    const { claims, verdict } = judgeJournal(
      journal,
      record.file,
      { text, file: 'claims' },
      levelsIn(record.rules),
    );
    if (claims.length === 0)
      return { is: 'unread', why: `there is no claim here for ledger "${journal.name}"` };
    const { passed } = record;
    const since =
      passed === undefined || verdict.holds
        ? undefined
        : changesSince(journal, passed, verdict.findings, { is: 'over' });
    const told = since === undefined ? verdict : { ...verdict, since };
    return { is: 'judged', verdict: toldVerdict(told, claims) };
  } catch (error) {
    if (error instanceof NotationError || error instanceof TypeError)
      return { is: 'unread', why: error.message };
    throw error;
  }
}

/** How much of a record the claims of a text notice; why that cannot be told, if it cannot. */
export function weighText({ journal }: OpenRecord, text: string): Weight | string {
  try {
    const claims = heldClaims(claimsIn(text, journal));
    const evidence = evidenceOn(journal);
    const holding = holdingOn(claims, evidence);
    if (holding.length === 0)
      return 'No claim that is written here holds, so there is nothing to weigh.';
    return makeWeight(weighRecord(holding, evidence, alteringOn(journal)));
  } catch (error) {
    if (error instanceof NotationError || error instanceof TypeError) return error.message;
    throw error;
  }
}
