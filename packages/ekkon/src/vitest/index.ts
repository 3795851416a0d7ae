import * as vitest from 'vitest';
import { test as base, expect, type TestAPI, type TestContext } from 'vitest';
import type { Verdict } from '../explain/finding.ts';
import { saveIfAsked } from '../file/save-if-asked.ts';
import { tellCurrentTest } from '../ledger/current-test.ts';
import { keepPass, lastPassFor, withoutLastPass } from '../ledger/last-pass.ts';
import type { Ledger, LedgerOptions } from '../ledger/ledger.ts';
import { closeLedger, endFollowing, openLedger } from '../ledger/open-ledger.ts';
import { handInSettings, saveCommand, settingsKey } from '../ledger/setting.ts';
import { fileAsserts } from '../ledger/test-text.ts';
import { closingError } from '../report/claim-error.ts';
import type { PageRecord } from '../report/page-data.ts';
import { sinceText } from '../report/since-words.ts';
import { weighIfAsked } from '../weigh/weigh-if-asked.ts';

/** The fixture's additions to a test's context. */
export interface LedgerFixtures {
  /** The test's own ledger. */
  readonly ledger: Ledger;
  /** How it is opened. Default: by the usual rules, named after the test. */
  readonly ledgerOptions: LedgerOptions;
}

/**
 * Vitest's `test` with a ledger for each test: named after it, opened when the test asks for it, and closed when it
 * ends. Findings of closing fail the test. An error of the test's own is shown before that, followed only by findings
 * that could explain it. Each retry has a ledger of its own.
 *
 * If the environment variable `EKKON_SAVE` names a folder, the ledger of a failed test is written to it, for `ekkon
 * show`. `EKKON_WEIGH=1` prints how much the claims of each test would notice; with `EKKON_WEIGH=80` a test fails if
 * that is less than 80 per cent of the questions. If `EKKON_LAST_PASS` names a folder, or `ledgerOptions` have
 * `lastPass`, the record of a passing test is kept, and a later failing run says what changed since.
 *
 * @example
 * import { call, check, gives, never, plan } from 'ekkon';
 * import { test } from 'ekkon/vitest';
 *
 * test('the dome stays shut while it rains', async ({ ledger }) => {
 *   const { dome, weather } = ledger.standIns<Devices>();
 *   plan(call(weather.rain), gives(0.4));
 *   if (weather.rain() === 0) dome.open();
 *   check(never(call(dome.open)));
 * });
 *
 * const strictly = test.extend({ ledgerOptions: { rules: 'strict' } });
 */
export const test: TestAPI<LedgerFixtures> = base.extend<LedgerFixtures>({
  ledgerOptions: {},
  ledger: async ({ task, ledgerOptions, onTestFinished }, use) => {
    const [options, lastPass] = withoutLastPass(ledgerOptions);
    const ledger = openLedger({ name: task.name, ...options });
    const at = await lastPassFor(ledger, lastPass, () => keptName(task), true, test);
    // An error from a fixture's teardown is reported twice; one from here is not.
    onTestFinished(async () => {
      const state = task.result?.state;
      const [reason] = task.result?.errors ?? [];
      await endFollowing(ledger);
      const verdict = closeLedger(ledger, state !== 'fail' && state !== 'skip', {
        assertions: countAssertions(task),
        assertsItself: () => fileAsserts(task.file.filepath, task.name),
        reason,
      });
      if (state === 'skip') return;
      if (state === 'fail' || !verdict.holds) {
        const retry = task.result?.retryCount ?? 0;
        const name = `${task.file.name} ${fullName(task)}`;
        await saveIfAsked(ledger, name, `${task.id}_${retry}`, saveFromPage);
      }
      if (!verdict.holds) throw closingError(verdict);
      if (state === 'fail') tellBelow(reason, verdict);
      else {
        weighIfAsked(ledger);
        if (at !== undefined && task.fails !== true) await keepPass(ledger, at);
      }
    });
    await use(ledger);
  },
});

/** The same as `test`. */
export const it: typeof test = test;

// A page has no environment: `seams()` passes the settings of the run.
handInSettings(() => {
  try {
    return vitest.inject(settingsKey as never);
  } catch {
    return undefined;
  }
});

/** Saves from a page by the command that `seams()` gives the runner. */
async function saveFromPage(path: string, text: string, record: PageRecord): Promise<void> {
  const { commands } = await import('vitest/browser');
  const { [saveCommand]: save } = commands as unknown as SaveCommands;
  await save(path, text, record);
}

type SaveCommands = { readonly [K in typeof saveCommand]: typeof saveFromPage };

/** Tells what changed since a test last passed below its own error. */
function tellBelow(error: { message: string; stack?: string } | undefined, verdict: Verdict): void {
  if (error === undefined || verdict.since === undefined) return;
  const { message, stack } = error;
  error.message = `${message}\n\n${sinceText(verdict.since)}`;
  if (stack !== undefined) error.stack = stack.replace(message, () => error.message);
}

/** A test as far as its name tells it from others. */
interface Task extends Named {
  readonly id: string;
  readonly file: { readonly name: string; readonly projectName?: string | undefined } & Tasks;
}

interface Tasks {
  readonly tasks?: readonly (Named & Tasks)[];
}

/** The name under which a test's record is kept; `undefined` if another test of its file has the same name. */
function keptName(task: Task): string | undefined {
  const name = fullName(task);
  const { file } = task;
  if (testsIn(file).filter((each) => fullName(each) === name).length > 1) return undefined;
  const project = file.projectName ? `${file.projectName} › ` : '';
  return `${project}${file.name} › ${name}`;
}

function testsIn({ tasks = [] }: Tasks): readonly Named[] {
  return tasks.flatMap((each) => (each.tasks === undefined ? [each] : testsIn(each)));
}

/** The runner, which versions before 4.1 do not give. */
const runner = (vitest as { readonly TestRunner?: { getCurrentTest(): unknown } }).TestRunner;

/** How many ledgers a run of a test has opened. */
const opened = new WeakMap<object, { run: string; ledgers: number }>();

tellCurrentTest(() => {
  // Of tests that run at a time, the runner knows only the one that began last.
  const task = runner?.getCurrentTest() as (Task & RunOf) | undefined;
  if (task === undefined || task.concurrent === true) return undefined;
  const name = keptName(task);
  if (name === undefined) return undefined;
  return {
    test: name,
    isUnique: true,
    nextLedger() {
      const run = `${task.result?.retryCount} ${task.result?.repeatCount}`;
      const known = opened.get(task);
      const count = known?.run === run ? known : { run, ledgers: 1 };
      opened.set(task, count);
      return ++count.ledgers;
    },
  };
});

interface RunOf {
  readonly concurrent?: boolean;
  readonly result?: { readonly retryCount?: number; readonly repeatCount?: number };
}

/**
 * How many assertions the runner has counted in a test; `undefined` if that cannot be told, as in one of several
 * that run at a time and count on the common `expect`.
 */
function countAssertions({
  concurrent,
  context,
}: {
  readonly concurrent?: boolean;
  readonly context: TestContext;
}): number | undefined {
  // The test's own `expect` comes into being when it is asked for, and takes over the count then.
  const isAsked = (context as { readonly _local?: boolean })._local === true;
  const local = isAsked ? context.expect.getState().assertionCalls : 0;
  if (concurrent === true) return local > 0 ? local : undefined;
  return expect.getState().assertionCalls + local;
}

interface Named {
  readonly name: string;
  readonly suite?: Named | undefined;
}

/** A test's name with those of the groups it stands in. */
function fullName({ name, suite }: Named): string {
  return suite === undefined ? name : `${fullName(suite)} ${name}`;
}
