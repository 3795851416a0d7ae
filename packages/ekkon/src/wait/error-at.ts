import type { Verdict } from '../explain/finding.ts';
import type { CapturedSite } from '../record/call-site.ts';
import { ClaimError } from '../report/claim-error.ts';

/** The error for a verdict, its stack that of the line that waits. */
export function errorAt({ stack = '' }: CapturedSite, verdict: Verdict): ClaimError {
  const error = new ClaimError(verdict);
  const frames = stack.indexOf('\n    at ');
  error.stack = `${error.name}: ${error.message}${frames < 0 ? '' : stack.slice(frames)}`;
  return error;
}
