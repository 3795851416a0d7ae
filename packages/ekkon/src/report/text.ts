import type { Finding, Verdict, Waited } from '../explain/finding.ts';
import { linesOf } from './findings.ts';
import { clip, type Layout, margin } from './layout.ts';
import { printStretch } from './order-message.ts';
import { type Paint, unpainted } from './paint.ts';
import { printSite } from './places.ts';
import { pendingLines } from './rule-words.ts';
import { count, placed, printTime } from './words.ts';

export interface ReportOptions {
  /** Columns. Default 100. */
  readonly width?: number;
  /** Colours by role; none unless given. */
  readonly paint?: Paint;
}

/**
 * The text report of a verdict: each finding with the entries that matter, where they differ and where
 * they were called. Output is bounded, and says what was left out.
 */
export function reportText(verdict: Verdict, options: ReportOptions = {}): string {
  const layout: Layout = { width: options.width ?? 100, paint: options.paint ?? unpainted };
  const { paint } = layout;
  const { findings, claims, ledger, waited } = verdict;
  const whose = paint('faint', ` · ledger "${ledger}"`);
  if (findings.length === 0) {
    return `${paint('good', claims === 1 ? 'the claim holds' : `all ${claims} claims hold`)}${whose}`;
  }
  const heading = headingOf(verdict);
  const blocks = findings.map((finding, at) =>
    findingText(finding, at + 1, verdict.closing, layout),
  );
  const pending =
    waited === undefined || waited.pending.length === 0
      ? []
      : [
          ['still pending:', ...pendingLines(waited.pending, layout)]
            .map((line) => `${margin}${line}`)
            .join('\n'),
        ];
  return [`${paint('heading', heading)}${whose}`, ...blocks, ...pending].join('\n\n');
}

function headingOf({ claims, findings, closing, waited }: Verdict): string {
  if (waited !== undefined) return waitedHeading(waited);
  if (closing) return `closed with ${count(findings.length, 'finding')}`;
  if (claims === 1) return 'the claim does not hold';
  return `${findings.length} of ${claims} claims ${findings.length === 1 ? 'does' : 'do'} not hold`;
}

function waitedHeading({ ended, after }: Waited): string {
  switch (ended) {
    case 'time':
      return `timed out after ${printTime(after)}`;
    case 'lost':
      return `stopped after ${printTime(after)}: no later call can change this`;
    case 'broken':
      return `it held for ${printTime(after)}, and broke`;
  }
}

function findingText(finding: Finding, number: number, closing: boolean, layout: Layout): string {
  const { paint, width } = layout;
  const claim = clip(finding.claim, width - margin.length);
  const head = `${String(number).padStart(2)}  ${paint('claim', claim)}`;
  const planned = 'plannedAt' in finding ? printSite(finding.plannedAt) : '';
  // A check's own error leads to its claims; what is found at close has nothing else that does.
  const isTold = closing || finding.code === 'vacuousClaim';
  const claimed = isTold ? printSite(finding.claimedAt) : '';
  const stretch = finding.stretch === undefined ? [] : [printStretch(finding.stretch)];
  const lines = [
    ...stretch,
    ...(claimed === '' ? [] : [paint('faint', `claim at ${claimed}`)]),
    ...('reachedAt' in finding
      ? [`it was reached${placed(finding.reachedAt)} but no longer holds`]
      : []),
    ...(planned === '' ? [] : [paint('faint', `plan at ${planned}`)]),
    ...linesOf(finding, layout),
  ];
  return [head, ...lines.map((line) => `${margin}${line}`)].join('\n');
}
