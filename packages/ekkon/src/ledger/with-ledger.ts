import { shortValue } from '../notation/value.ts';
import { type ClaimError, closingError } from '../report/claim-error.ts';
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

/**
 * Runs a body that holds a ledger, and closes it afterwards, whatever happens.
 *
 * @param asOne makes one error of the body's own and of what closing found
 */
export async function holdLedger<T>(
  ledger: Ledger,
  body: () => T | Promise<T>,
  asOne: (error: unknown, found: ClaimError) => Error = aggregated,
): Promise<T> {
  let result: T;
  try {
    result = await body();
  } catch (error) {
    const verdict = closeLedger(ledger, false, { reason: error });
    throw verdict.holds ? error : asOne(error, closingError(verdict));
  }
  const verdict = closeLedger(ledger, true);
  if (!verdict.holds) throw closingError(verdict);
  return result;
}

/** The body's error first and whole, then what closing found, as one error that has both. */
function aggregated(error: unknown, found: ClaimError): AggregateError {
  const both = new AggregateError([error, found], '', { cause: error });
  return toldTogether(both, error, found);
}

/** The body's error first and whole, then what closing found, each told once: a runner prints whatever an error has. */
export function toldOnce(error: unknown, found: ClaimError): Error {
  const told = toldTogether(new Error(), error, found);
  if (error instanceof Error) Object.defineProperty(told, 'name', { value: error.name });
  return told;
}

/** Gives an error the message of two, and the place of the first. */
function toldTogether<E extends Error>(told: E, error: unknown, found: ClaimError): E {
  const said = error instanceof Error ? error.message : String(error);
  told.message = `${said}\n\nand then: ${found.message}`;
  if (error instanceof Error) {
    const frames = error.stack?.slice(error.stack.indexOf('\n    at ')) ?? '';
    told.stack = `${error.name}: ${told.message}${frames}`;
  }
  return told;
}
