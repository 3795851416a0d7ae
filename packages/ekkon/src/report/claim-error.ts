import type { Verdict } from '../explain/finding.ts';
import { printPath, printValue, shortValue } from '../notation/value.ts';
import type { CapturedSite } from '../record/call-site.ts';
import type { Difference } from '../value/difference.ts';
import { escapeControls, safeText } from '../value/escape.ts';
import { codesIn, firstLine } from './first-line.ts';
import { reportText } from './text.ts';

/**
 * Says which claims do not hold. The first line of its message is enough on its own; the whole report
 * follows, and `verdict` has all of it as data.
 */
export class ClaimError extends Error {
  readonly #verdict: Verdict;
  #whenRead: (() => void) | undefined;
  /** With `expected`: two texts for a runner to compare, if one entry came near one claim. */
  declare readonly actual?: string;
  declare readonly expected?: string;

  constructor(verdict: Verdict) {
    super(
      safeText(`${firstLine(verdict)}\n\n${reportText(verdict)}\n\n${codesIn(verdict.findings)}\n`),
    );
    this.#verdict = verdict;
    Object.assign(this, comparedTexts(verdict));
  }

  /** All that was found, as data. */
  get verdict(): Verdict {
    this.#whenRead?.();
    return this.#verdict;
  }

  /** Calls back when the verdict of an error is read. */
  static onRead(error: ClaimError, run: () => void): void {
    error.#whenRead = run;
  }
}

Object.defineProperty(ClaimError.prototype, 'name', {
  value: 'ClaimError',
  writable: true,
  configurable: true,
});

/** The error for a verdict, its stack that of the line that waits. */
export function errorAt({ stack = '' }: CapturedSite, verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  const frames = stack.indexOf('\n    at ');
  error.stack = `${error.name}: ${error.message}${frames < 0 ? '' : stack.slice(frames)}`;
  return error;
}

/** The error for what was found when a ledger was closed; its stack names the places of the findings. */
export function closingError(verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  const frames = verdict.findings.flatMap(({ at }) =>
    at === undefined ? [] : [`    at ${escapeControls(at.file)}:${at.line}:${at.column}`],
  );
  const told = [...new Set(frames)].slice(0, framesTold).map((frame) => `\n${frame}`);
  error.stack = `${error.name}: ${error.message}${told.join('')}`;
  return error;
}

const framesTold = 3;

/** The claimed and the nearest recorded arguments in full, folded so that lines can be compared. */
function comparedTexts({
  findings,
}: Verdict): { readonly actual: string; readonly expected: string } | undefined {
  const [first, another] = findings;
  if (first === undefined || another !== undefined || !('claimedArguments' in first))
    return undefined;
  const [near] = first.nearest;
  if (near === undefined || first.claimedArguments === undefined) return undefined;
  const print = (value: unknown) =>
    safeText(printValue(value, { width: 0, items: 200, text: 2_000 }));
  const [actual, expected] = [print(near.entry.args), print(first.claimedArguments)];
  if (linesIn(actual) <= linesCompared && linesIn(expected) <= linesCompared)
    return { actual, expected };
  return differingTexts(near.differences);
}

/** Lines of either text beyond which only what differs is given to a runner. */
const linesCompared = 60;
/** Differences that are given then, a line each. */
const differencesCompared = 30;

function linesIn(text: string): number {
  return text.split('\n').length;
}

/** What differs, by its path, a line each: a runner prints all that it is given. */
function differingTexts(differences: readonly Difference[]): {
  readonly actual: string;
  readonly expected: string;
} {
  const shown = differences.slice(0, differencesCompared);
  const left = differences.length - shown.length;
  const text = (side: 'claimed' | 'recorded') =>
    [
      ...shown.map((difference) => {
        const value = side in difference ? shortValue(difference[side], 200) : 'nothing';
        return `${printPath(difference.path)}: ${value}`;
      }),
      ...(left > 0 ? [`… ${left} more`] : []),
    ].join('\n');
  return { actual: text('recorded'), expected: text('claimed') };
}
