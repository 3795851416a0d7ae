import type { Verdict, Waited } from '../explain/finding.ts';
import { causeLine } from './cause-words.ts';
import { clip } from './layout.ts';
import { named, printTime } from './words.ts';

/** Characters of a claim that the first line shows; the report has more of it. */
const claimShown = 160;

/** The line of a verdict that is enough on its own: what fails, and for which cause. */
export function firstLine({ findings, causes, claims, waited }: Verdict): string {
  const [first] = findings;
  const [cause] = causes;
  if (cause !== undefined && cause.explains.length > 1) {
    const left = findings.length - cause.explains.length;
    return `${causeLine(cause, claims)}${left > 0 ? ` (and ${left} more)` : ''}`;
  }
  if (first === undefined) return 'a claim does not hold';
  const wait = waited === undefined ? '' : waitPart(waited);
  const more = findings.length > 1 ? ` (and ${findings.length - 1} more)` : '';
  return `${clip(first.claim, claimShown)}: ${first.message}${more}${wait}`;
}

/** What a wait adds to the first line: its time, and what it may have been waiting for. */
function waitPart({ ended, after, pending }: Waited): string {
  const time = printTime(after);
  const how = {
    time: `timed out after ${time}`,
    lost: `stopped after ${time}: no later call can change that`,
    broken: `it held for ${time}`,
  }[ended];
  const [first] = pending;
  const rest = pending.length > 1 ? ` (and ${pending.length - 1} more)` : '';
  return first === undefined
    ? `; ${how}`
    : `; ${how}, with ${named(first.entry)} still pending${rest}`;
}

/** The codes of findings, each once: the last line of an error, to be looked up in docs/findings.md. */
export function codesIn(findings: readonly { readonly code: string }[]): string {
  const codes = [...new Set(findings.map(({ code }) => code))];
  return `${codes.length === 1 ? 'code' : 'codes'}: ${codes.join(', ')}`;
}
