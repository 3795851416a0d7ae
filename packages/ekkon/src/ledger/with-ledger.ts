import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { closingError } from '../report/claim-error.ts';
import { refuse } from '../value/refuse.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { closeLedger, openLedger } from './open-ledger.ts';

/**
 * Runs a test's body with a ledger of its own, and closes it afterwards, whatever happens. For runners
 * without a fixture.
 *
 * An error of the body comes first and whole: as it is if closing finds nothing, else as the first of
 * an `AggregateError` that ends with what was found.
 *
 * @returns what the body gives
 * @throws TypeError if there is no body; what the body throws; ClaimError for what is found at close
 * @example
 * await withLedger({ name: 'rain at dusk' }, async (ledger) => {
 *   const { dome } = ledger.standIns<Devices>();
 *   dome.close();
 *   check(once(call(dome.close)));
 * });
 */
export function withLedger<T>(body: (ledger: Ledger) => T | Promise<T>): Promise<T>;
export function withLedger<T>(
  options: LedgerOptions,
  body: (ledger: Ledger) => T | Promise<T>,
): Promise<T>;
export async function withLedger<T>(...given: unknown[]): Promise<T> {
  const body = given[given.length - 1] as (ledger: Ledger) => T | Promise<T>;
  if (typeof body !== 'function') {
    refuse(
      `withLedger() takes the test's body, and was given ${shortValue(body)}. Write withLedger(async (ledger) => { … }).`,
      withLedger,
    );
  }
  const ledger = openLedger(given.length > 1 ? (given[0] as LedgerOptions) : {});
  return await holdLedger(ledger, () => body(ledger));
}

/** Runs a body that holds a ledger, and closes it afterwards, whatever happens. */
export async function holdLedger<T>(ledger: Ledger, body: () => T | Promise<T>): Promise<T> {
  let result: T;
  try {
    result = await body();
  } catch (error) {
    const verdict = closeLedger(ledger, false, { reason: error });
    throw verdict.holds ? error : both(error, verdict);
  }
  const verdict = closeLedger(ledger, true);
  if (!verdict.holds) throw closingError(verdict);
  return result;
}

/** The body's error first and whole, then what closing found. */
function both(error: unknown, verdict: Verdict): AggregateError {
  const found = closingError(verdict);
  const said = error instanceof Error ? error.message : String(error);
  const together = new AggregateError([error, found], `${said}\n\nand then: ${found.message}`, {
    cause: error,
  });
  if (error instanceof Error) {
    const frames = error.stack?.slice(error.stack.indexOf('\n    at ')) ?? '';
    together.stack = `${error.name}: ${together.message}${frames}`;
  }
  return together;
}
