import type { Verdict } from '../explain/finding.ts';
import { printPath, shortValue } from '../notation/value.ts';
import { type CapturedSite, frameAt, withoutOwn } from '../record/call-site.ts';
import { framesOf, stackOf } from '../value/call-stack.ts';
import { escapeControls, safeText } from '../value/escape.ts';
import { codesIn } from './first-line.ts';
import { reportText } from './text.ts';

/**
 * Thrown if claims do not hold. The first line of its message names the call that is wrong, the whole report follows, and
 * `verdict` holds the report as data.
 */
export class ClaimError extends Error {
  readonly #verdict: Verdict;
  #whenRead: (() => void) | undefined;
  /** With `expected`: two texts for a runner to compare, if one entry came near one claim. */
  declare readonly actual?: string;
  declare readonly expected?: string;

  constructor(verdict: Verdict) {
    super(safeText(`${reportText(verdict)}\n${codesIn(verdict.findings)}\n`));
    this.#verdict = verdict;
    Object.assign(this, comparedTexts(verdict));
  }

  /** All that was found, as data. */
  get verdict(): Verdict {
    this.#whenRead?.();
    return this.#verdict;
  }

  /**
   * Its form in JSON, and for a runner that sends it between processes: its texts. The verdict leads to the program's
   * objects, which may be large, and may run code when they are read.
   */
  toJSON(): Readonly<Record<string, string>> {
    const texts = Object.entries(this).filter(([, value]) => typeof value === 'string');
    const { name, message } = this;
    return { ...Object.fromEntries(texts), name, message, stack: stackOf(this) };
  }

  /** The verdict of an error for Ekkon itself: nobody has read it. */
  static verdictOf(error: ClaimError): Verdict {
    return error.#verdict;
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
export function errorAt(captured: CapturedSite, verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  error.stack = `${error.name}: ${error.message}${framesOf(captured)}`;
  beginAtClaim(error);
  return error;
}

/** Lets an error's stack begin at the line on which the claim stands that is told first: a runner shows that line. */
export function beginAtClaim(error: ClaimError): void {
  const at = ClaimError.verdictOf(error).findings[0]?.claimedAt;
  const frames = framesOf(error);
  // Engines that write frames in another way keep their own stack.
  if (frames === '' && stackOf(error).includes('@')) return;
  const begin = at === undefined ? '' : `\n${escapeControls(frameAt(at))}`;
  error.stack = `${error.name}: ${error.message}${begin}${withoutOwn(frames)}`;
}

/** The error for findings at the close of a ledger; its stack names their places. */
export function closingError(verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  const frames = verdict.findings.flatMap(({ at }) =>
    at === undefined ? [] : [escapeControls(frameAt(at))],
  );
  const told = [...new Set(frames)].slice(0, framesTold).map((frame) => `\n${frame}`);
  error.stack = `${error.name}: ${error.message}${told.join('')}`;
  return error;
}

const framesTold = 3;

/** From how many differences on a runner is given two texts to compare: of fewer, the report has said all. */
const differencesLeast = 3;

/** How many differences are given then. */
const differencesCompared = 30;

/** Where one call differs from one claim, by its path, a line each: a runner prints all that it is given. */
function comparedTexts({
  findings,
}: Verdict): { readonly actual: string; readonly expected: string } | undefined {
  const [first, another] = findings;
  if (first === undefined || another !== undefined || !('nearest' in first)) return undefined;
  const [near] = first.nearest;
  const differences = near !== undefined && 'entry' in near ? near.differences : [];
  if (differences.length < differencesLeast) return undefined;
  const shown = differences.slice(0, differencesCompared);
  const left = differences.length - shown.length;
  const text = (side: 'expected' | 'received') =>
    [
      ...shown.map((difference) => {
        const value = side in difference ? shortValue(difference[side], 200) : 'nothing';
        return safeText(`${printPath(difference.path)}: ${value}`);
      }),
      ...(left > 0 ? [`… ${left} more`] : []),
    ].join('\n');
  return { actual: text('received'), expected: text('expected') };
}
