import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { type CutAfter, judgeRead } from '../ledger/close.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import type { JudgedLedger } from '../report/judged.ts';
import { openJudgements } from '../rule/judgements.ts';
import type { RuleLevels } from '../rule/rules.ts';

/** The source of claims. */
export interface ClaimsText {
  readonly text: string;
  readonly file: string;
}

/**
 * Judges claims of a text on a loaded record.
 *
 * @param shown the name of the record's file
 * @param declares whether a double that the record does not have is one that was not called
 * @param last where the record is cut off, if it is
 * @throws NotationError with line, column and a caret if the text is wrong
 */
export function judgeJournal(
  journal: Journal,
  shown: string,
  { text, file }: ClaimsText,
  levels: RuleLevels,
  {
    declares = false,
    last,
  }: { readonly declares?: boolean; readonly last?: CutAfter | undefined } = {},
): JudgedLedger {
  openJudgements(journal, levels);
  leaveOpen(journal);
  const claims = claimsIn(text, journal, file, declares);
  return { file: shown, claims, verdict: judgeRead(journal, heldClaims(claims), { last }) };
}

/** Calls whose promise had not settled when the record ended are pending since they began. */
export function leaveOpen(journal: Journal): void {
  const last = journal.entries.at(-1);
  if (last === undefined) return;
  const lastAt = Math.max(last.beganAt, last.more?.endedAt ?? 0);
  for (const entry of journal.entries) {
    if (entry.outcome.state !== 'pending') continue;
    journal.pending.set(entry, { since: entry.beganAt, until: lastAt, on: 'promise' });
  }
}

/** The claims behind their public type. */
export function heldClaims(claims: readonly Claim[]): readonly HeldClaim[] {
  return claims.flatMap((claim) => claimOf(claim) ?? []);
}
