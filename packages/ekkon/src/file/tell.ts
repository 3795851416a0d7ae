import { safeText } from '../value/escape.ts';

/** Says something to whoever runs the tests, beside what the runner prints. */
export function tell(text: string): void {
  process.stderr.write(`ekkon: ${safeText(text)}\n`);
}
