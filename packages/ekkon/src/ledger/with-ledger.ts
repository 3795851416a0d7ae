import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { withoutOwn } from '../record/call-site.ts';
import { type ClaimError, closingError } from '../report/claim-error.ts';
import { sinceText } from '../report/since-words.ts';
import { framesOf } from '../value/call-stack.ts';
import { refuse } from '../value/refuse.ts';
import { currentTest, ledgerIn } from './current-test.ts';
import {
  isLastPassAsked,
  type KeptAt,
  keepPass,
  lastPassFor,
  withoutLastPass,
} from './last-pass.ts';
import type { Ledger, LedgerOptions } from './ledger.ts';
import { closeLedger, endFollowing, openLedger } from './open-ledger.ts';
import { assertsItself } from './test-text.ts';

/**
 * Runs a test's body with a ledger of its own, and closes it afterwards, whatever happens. Use it with runners that
 * have no fixture.
 *
 * An error of the body comes first and whole: as it is if there is nothing else to report, otherwise as the first of
 * an `AggregateError` that ends with the findings of closing, and with the changes since the body last passed. With
 * `lastPass` beside a `name`, the record of a passing run is kept for that.
 *
 * @returns the body's result
 * @throws TypeError if there is no body, or `lastPass` and no name; the body's error; ClaimError for findings at
 * close
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
  const [options, lastPass] = withoutLastPass(given.length > 1 ? (given[0] as LedgerOptions) : {});
  const ledger = openLedger(options);
  const told = { assertsItself: () => assertsItself(body) };
  if (!isLastPassAsked(lastPass)) return await holdLedger(ledger, () => body(ledger), told);
  const { name } = options;
  const running = currentTest();
  if (running === undefined && name === undefined && lastPass !== undefined) {
    refuse(
      "withLedger(): lastPass needs a name, by which the record is found again. Write withLedger({ name: 'rain at dusk', lastPass: '.ekkon/last-pass' }, (ledger) => { … }).",
      withLedger,
    );
  }
  const nameOf = () => (running === undefined ? name : ledgerIn(running));
  const isUnique = running?.isUnique === true;
  const at = await lastPassFor(ledger, lastPass, nameOf, isUnique, withLedger);
  return await holdLedger(ledger, () => body(ledger), { at, ...told });
}

/**
 * Runs a body with a ledger, and closes it afterwards, whatever happens.
 *
 * @param asOne makes one error of the body's own and of the findings
 * @param at where the record is kept if the body passes
 * @param assertsItself whether the body asserts by means that nobody counts
 */
export async function holdLedger<T>(
  ledger: Ledger,
  body: () => T | Promise<T>,
  {
    asOne = aggregated,
    at,
    assertsItself: asserts,
  }: {
    readonly asOne?: (error: unknown, verdict: Verdict) => Error;
    readonly at?: KeptAt | undefined;
    readonly assertsItself?: (() => boolean) | undefined;
  } = {},
): Promise<T> {
  let result: T;
  try {
    result = await body();
    await endFollowing(ledger);
  } catch (error) {
    await endFollowing(ledger);
    const verdict = closeLedger(ledger, false, { reason: error, assertsItself: asserts });
    throw verdict.holds && verdict.since === undefined ? error : asOne(error, verdict);
  }
  const verdict = closeLedger(ledger, true, { assertsItself: asserts });
  if (!verdict.holds) throw closingError(verdict);
  if (at !== undefined) await keepPass(ledger, at);
  return result;
}

/** The body's error first and whole, then the findings, as one error with both. */
function aggregated(error: unknown, verdict: Verdict): AggregateError {
  const found: readonly ClaimError[] = verdict.holds ? [] : [closingError(verdict)];
  const both = new AggregateError([error, ...found], '', { cause: error });
  return toldTogether(both, error, verdict);
}

/** The body's error first and whole, then the findings, each once: a runner prints every part of an error. */
export function toldOnce(error: unknown, verdict: Verdict): Error {
  const told = toldTogether(new Error(), error, verdict);
  if (error instanceof Error) Object.defineProperty(told, 'name', { value: error.name });
  return told;
}

/** Gives an error the message of two, and the place of the first. */
function toldTogether<E extends Error>(told: E, error: unknown, verdict: Verdict): E {
  const said = error instanceof Error ? error.message : String(error);
  told.message = `${said}\n\n${toldBelow(verdict)}`;
  if (error instanceof Error) {
    told.stack = `${error.name}: ${told.message}${withoutOwn(framesOf(error))}`;
  }
  return told;
}

/** The text below the error of a body: the changes, or the findings. */
export function toldBelow(verdict: Verdict): string {
  if (!verdict.holds) return `and then: ${closingError(verdict).message}`;
  return verdict.since === undefined ? '' : sinceText(verdict.since);
}
