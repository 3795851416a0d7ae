import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { judgeRead } from '../double/close.ts';
import { readDeclarations, readLedgerFile } from '../file/read-file.ts';
import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { StreamJudge } from '../judge/stream-judge.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import type { Judged } from '../report/judged.ts';
import { makeVerdict } from '../report/verdict.ts';
import { openJudgements } from '../rule/judgements.ts';
import type { RuleLevels } from '../rule/rules.ts';
import { progressOf } from './progress.ts';

/** What claims are read from. */
export interface ClaimsText {
  readonly text: string;
  readonly file: string;
}

/** A ledger file that was judged, and whether its last line is cut off. */
export type JudgedFile = Judged & { readonly truncated: boolean };

/**
 * Judges claims on a ledger file as it is read, in a memory that does not grow with it. Only if one does not hold,
 * or speaks of the record as a whole, is the record kept to say why.
 */
export function judgeFile(
  path: string,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
): JudgedFile {
  const declared = readDeclarations(path);
  openJudgements(declared, levels);
  const streamed = claimsOn(declared, claims);
  // A double that no line declares is known from its entries alone.
  if (streamed === undefined) return judgeWhole(path, shown, claims, levels);
  declared.tick = 0;
  const judge = new StreamJudge(held(streamed));
  let failures = 0;
  let open = 0;
  const progress = progressOf(shown);
  const { truncated } = readLedgerFile(
    path,
    (told) => {
      progress.line();
      if (told === undefined || told.is === 'mark') return;
      const { entry, is } = told;
      if (entry.kind === 'failure') failures++;
      open += is === 'begins' ? 1 : -1;
      judge.tell(entry, is === 'ends', is === 'ends' ? (entry.ended ?? 0) : entry.began);
    },
    declared,
  );
  progress.done();
  const isSimple = levels.unclaimedCall !== 'fail' && failures === 0 && open === 0;
  if (streamed.length > 0 && isSimple && judge.allHold) {
    const verdict = makeVerdict(declared, [], { claims: streamed.length, closing: false });
    return { file: shown, claims: streamed, verdict, truncated };
  }
  return judgeWhole(path, shown, claims, levels);
}

/** The claims on what a file declares; `undefined` if they speak of what it does not. */
function claimsOn(declared: Journal, { text, file }: ClaimsText): readonly Claim[] | undefined {
  try {
    return claimsIn(text, declared, file);
  } catch (error) {
    if (error instanceof NotationError) return undefined;
    throw error;
  }
}

/** Judges claims on a ledger file with the record in memory. */
function judgeWhole(
  path: string,
  shown: string,
  claims: ClaimsText,
  levels: RuleLevels,
): JudgedFile {
  const { journal, truncated } = readLedgerFile(path);
  return { ...judgeJournal(journal, shown, claims, levels), truncated };
}

/** Judges claims on a record that was read. */
export function judgeJournal(
  journal: Journal,
  shown: string,
  { text, file }: ClaimsText,
  levels: RuleLevels,
  declares = false,
): Judged {
  openJudgements(journal, levels);
  leaveOpen(journal);
  const claims = claimsIn(text, journal, file, declares);
  return { file: shown, claims, verdict: judgeRead(journal, held(claims)) };
}

/** Calls whose promise had not settled when the record ended are pending since they began. */
function leaveOpen(journal: Journal): void {
  const last = journal.entries.at(-1);
  if (last === undefined) return;
  const lastAt = Math.max(last.beganAt, last.more?.endedAt ?? 0);
  for (const entry of journal.entries) {
    if (entry.outcome.state !== 'pending') continue;
    journal.pending.set(entry, {
      since: journal.clock.now() - (lastAt - entry.beganAt),
      on: 'promise',
    });
  }
}

function held(claims: readonly Claim[]): readonly HeldClaim[] {
  return claims.flatMap((claim) => claimOf(claim) ?? []);
}
