import type { Verdict, Waited } from '../explain/finding.ts';
import { groupsOf } from './groups.ts';
import { clip } from './layout.ts';
import { sinceSentence } from './since-words.ts';
import { count, printTime } from './words.ts';

/** Characters of the first line at most. */
const longest = 200;

/**
 * The line of a verdict that is enough on its own: the call that is wrong, and how; then how many claims fail. If it is
 * known what changed since the test last passed, the first change stands there.
 */
export function firstLine(verdict: Verdict): string {
  const { waited } = verdict;
  const first = changedFirst(verdict) ?? groupsOf(verdict)[0]?.message;
  if (first === undefined) return 'a claim does not hold';
  const rest = `${waited === undefined ? '' : waitPart(waited)}${howMany(verdict)}`;
  return `${clip(first, longest - rest.length)}${rest}`;
}

/** The first change since the test last passed, in a sentence; `undefined` if there is none, or that is not known. */
export function changedFirst({ since }: Verdict): string | undefined {
  return since && sinceSentence(since);
}

/** How many of the claims fail, and how many other findings there are; nothing if there is only one. */
function howMany({ findings, claims, closing }: Verdict): string {
  const { length } = findings;
  if (closing) return length > 1 ? `; ${count(length, 'problem')} at the end of the test` : '';
  const { failed, others } = failedIn(findings);
  const fail = `; ${failed} of ${claims} claims ${failed === 1 ? 'fails' : 'fail'}`;
  const told = claims > 1 && failed > 0 ? fail : '';
  if (others === 0) return told;
  if (failed === 0) return others > 1 ? `; ${count(others, 'problem')}` : '';
  return `${told === '' ? ';' : `${told},`} and ${count(others, 'other problem')}`;
}

/** How many claims have findings, and how many findings are of no claim. */
export function failedIn(findings: Verdict['findings']): {
  readonly failed: number;
  readonly others: number;
} {
  return {
    failed: new Set(findings.flatMap(({ of }) => of ?? [])).size,
    others: findings.filter(({ of }) => of === undefined).length,
  };
}

/** The part of the first line about a wait: its time, and the call that it may have waited for. */
function waitPart({ ended, after, pending }: Waited): string {
  const time = printTime(after);
  const how = {
    time: `timed out after ${time}`,
    lost: `stopped after ${time}: no later call can change that`,
    broken: `it held for ${time}`,
    finished: `the work ended after ${time}`,
  }[ended];
  const [first] = pending;
  const rest = pending.length > 1 ? ` and ${pending.length - 1} more` : '';
  return first === undefined
    ? `; ${how}`
    : `; ${how}, with #${first.entry.id} ${first.entry.label}${rest} still pending`;
}

/** The codes of findings, each once: the last line of an error, to be looked up in docs/findings.md. */
export function codesIn(findings: readonly { readonly code: string }[]): string {
  const codes = [...new Set(findings.map(({ code }) => code))];
  return `${codes.length === 1 ? 'code' : 'codes'}: ${codes.join(', ')}`;
}
