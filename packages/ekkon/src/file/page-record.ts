import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import { fromLines } from '../record/read-lines.ts';
import type { PageRecord } from '../report/page-data.ts';
import { toldVerdict } from '../report/told.ts';
import { judgementsOn } from '../rule/judgements.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { ledgerText } from './ledger-text.ts';

/** The data of a page for a live ledger: its record, its claims as text, and the verdict that was thrown. */
export function pageRecordOf(journal: Journal, file: string): PageRecord {
  const text = ledgerText(journal).trimEnd();
  const { judged, thrown } = judgementsOn(journal);
  const claims = [...judged.map(({ claim }) => claim), ...(thrown?.claims ?? [])];
  const { kept } = lastPassOn(journal);
  const passed = kept === undefined ? {} : { passed: kept };
  const written = writtenClaims(text, claims);
  const record = { file, text, claims: written, rules: 'usual', ...passed } as const;
  if (thrown === undefined) return record;
  const { verdict } = thrown;
  return { ...record, verdict: toldVerdict(verdict, thrown.claims) };
}

/** Claims as a text that can be read; those that cannot be written stand in it as comments. */
function writtenClaims(text: string, claims: readonly Claim[]): string {
  const { journal } = fromLines(text);
  const lines = [...new Set(claims.map(({ notation }) => notation))].map((notation) =>
    isReadable(notation, journal) ? notation : `# only in the test: ${notation}`,
  );
  return lines.map((line) => `${line}\n`).join('');
}

function isReadable(notation: string, journal: Journal): boolean {
  try {
    claimsIn(notation, journal);
    return true;
  } catch (error) {
    if (error instanceof NotationError || error instanceof TypeError) return false;
    throw error;
  }
}
