/// <reference types="node" preserve="true" />
import { AsyncLocalStorage } from 'node:async_hooks';
import { randomUUID } from 'node:crypto';
import { relative } from 'node:path';
import { test as base, type TestContext, type TestOptions } from 'node:test';
import { saveIfAsked } from '../file/save-if-asked.ts';
import { type CurrentTest, tellCurrentTest } from '../ledger/current-test.ts';
import { lastPassFor, withoutLastPass } from '../ledger/last-pass.ts';
import type { Ledger, LedgerOptions } from '../ledger/ledger.ts';
import { closeLedger, openLedger } from '../ledger/open-ledger.ts';
import { assertsItself } from '../ledger/test-text.ts';
import { holdLedger, toldOnce } from '../ledger/with-ledger.ts';
import { shortValue } from '../notation/value.ts';
import { captureSite, readSite } from '../record/call-site.ts';
import { closingError } from '../report/claim-error.ts';
import { refuse } from '../value/refuse.ts';
import { weighIfAsked } from '../weigh/weigh-if-asked.ts';

/** The context of a test, with its ledger. Tests inside it have ledgers of their own. */
export interface LedgerContext extends Omit<TestContext, 'test'> {
  readonly ledger: Ledger;
  readonly test: LedgerTest;
}

/** A test's body, which may take a callback. */
export type LedgerBody = (context: LedgerContext, done: (error?: unknown) => void) => unknown;

/** Options of Node's `test`, and how the test's ledger is opened. */
export interface LedgerTestOptions extends TestOptions {
  /** How the test's ledger is opened. */
  readonly ledger?: LedgerOptions;
}

/** `test` of Node's own runner, each with a ledger. */
export interface LedgerTest {
  (name: string, body?: LedgerBody): Promise<void>;
  (name: string, options: LedgerTestOptions, body?: LedgerBody): Promise<void>;
}

/**
 * Node's `test` with a ledger for each test, on its context: named after it, and closed when it ends. Findings of
 * closing fail the test. An error of the test's own comes first and whole, followed only by findings that could
 * explain it.
 *
 * If the environment variable `EKKON_SAVE` names a folder, the ledger of a failed test is written to it, for `ekkon
 * show`. `EKKON_WEIGH=1` prints how much the claims of each test would notice; with `EKKON_WEIGH=80` a test fails if
 * that is less than 80 per cent of the questions. If `EKKON_LAST_PASS` names a folder, or the ledger's options have
 * `lastPass`, the record of a passing test is kept, and a later failing run says what changed since.
 *
 * @throws TypeError if it is given no name
 * @example
 * import { call, check, gives, never, plan } from 'ekkon';
 * import { test } from 'ekkon/node';
 *
 * test('the dome stays shut while it rains', async ({ ledger }) => {
 *   const { dome, weather } = ledger.standIns<Devices>();
 *   plan(call(weather.rain), gives(0.4));
 *   if (weather.rain() === 0) dome.open();
 *   check(never(call(dome.open)));
 * });
 * test('strictly', { ledger: { rules: 'strict' } }, async ({ ledger }) => {
 *   check(never(call(ledger.standIn<Dome>('dome').open)));
 * });
 */
export const test: LedgerTest & {
  readonly only: LedgerTest;
  readonly skip: LedgerTest;
  readonly todo: LedgerTest;
} = Object.assign(withLedgers(base), {
  only: withLedgers(base.only),
  skip: withLedgers(base.skip),
  todo: withLedgers(base.todo),
});

/** The same as `test`. */
export const it: typeof test = test;

type NodeTest = (
  name: string,
  options?: TestOptions,
  body?: (context: TestContext) => void | Promise<void>,
) => Promise<void>;

function withLedgers(run: NodeTest): LedgerTest {
  const made = (name: string, ...rest: readonly unknown[]): Promise<void> => {
    if (typeof name !== 'string' || name === '') {
      refuse(
        `test() takes the test's name first, and was given ${shortValue(name)}. Write test('rain closes the dome', ({ ledger }) => { … }).`,
        made,
      );
    }
    const body = rest.find((each): each is LedgerBody => typeof each === 'function');
    const options = rest.find((each) => typeof each === 'object' && each !== null);
    const { ledger, ...own } = (options ?? {}) as LedgerTestOptions;
    if (body === undefined) return run(name, own);
    const file = readSite(captureSite(made))?.file ?? '';
    return run(name, own, (context) => runBody({ name, file, options: ledger, body }, context));
  };
  return made;
}

/** A test as it was written. */
interface Written {
  readonly name: string;
  readonly file: string;
  readonly options: LedgerOptions | undefined;
  readonly body: LedgerBody;
}

async function runBody(
  { name, file, options = {}, body }: Written,
  context: TestContext,
): Promise<void> {
  const [own, lastPass] = withoutLastPass(options);
  const ledger = openLedger({ name, ...own });
  const inner = context.test.bind(context) as NodeTest;
  const given = Object.defineProperties(context, {
    ledger: { value: ledger },
    test: { value: withLedgers(inner) },
  }) as unknown as LedgerContext;
  const running = runningTest(file, (context as { readonly fullName?: string }).fullName ?? name);
  const at = await lastPassFor(ledger, lastPass, () => running.test, running.isUnique, test);
  const disregard = tellIfAborted(context, ledger);
  try {
    const run = async () => {
      await runningNow.run(running, () => called(body, given));
      disregard();
    };
    const asserts = () => assertsItself(body);
    await holdLedger(ledger, run, { asOne: toldOnce, at, assertsItself: asserts });
    weighIfAsked(ledger);
  } catch (error) {
    await saveIfAsked(ledger, `${fileOf(process.argv[1])} ${name}`, randomUUID().slice(0, 8));
    throw error;
  }
}

const runningNow = new AsyncLocalStorage<CurrentTest>();
tellCurrentTest(() => runningNow.getStore());

function runningTest(file: string, name: string): CurrentTest {
  let ledgers = 1;
  const place = relative(process.cwd(), file.replace(/^file:\/\//, '')).replaceAll('\\', '/');
  return { test: `${place} › ${name}`, isUnique: false, nextLedger: () => ++ledgers };
}

/**
 * Reports the waits of a test that ran out of time, or was canceled: its body goes on, and its runner hears nothing
 * of it any more.
 *
 * @returns the function that ends that
 */
function tellIfAborted(context: TestContext, ledger: Ledger): () => void {
  const tell = () => {
    const verdict = closeLedger(ledger, false, { reason: context.signal.reason });
    if (verdict.holds) return;
    // Line by line, because reports escape line breaks.
    const lines = closingError(verdict).message.split('\n');
    for (const line of lines) if (line !== '') context.diagnostic(line);
  };
  context.signal.addEventListener('abort', tell, { once: true });
  return () => context.signal.removeEventListener('abort', tell);
}

/** Runs a body; one with two parameters calls back when it is done. */
function called(body: LedgerBody, context: LedgerContext): unknown {
  if (body.length < 2) return body(context, () => {});
  return new Promise<void>((resolve, reject) => {
    body(context, (error) => (error === undefined || error === null ? resolve() : reject(error)));
  });
}

function fileOf(path: string | undefined): string {
  return path?.split(/[/\\]/).at(-1) ?? '';
}
