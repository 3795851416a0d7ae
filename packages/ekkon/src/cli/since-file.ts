import type { Verdict } from '../explain/finding.ts';
import type { Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import { asRecordOf, writeLastPass } from '../since/last-pass.ts';
import { changesBetween } from '../since/since.ts';
import { InputError } from './input-error.ts';
import { loadAtMost } from './load.ts';

/** How many calls of a record are compared: they are all in memory. */
const comparedMost = 300_000;

/**
 * The record in a ledger file, to be compared with another.
 *
 * @throws InputError if it is too long for that
 */
export async function journalIn(command: string, file: string): Promise<Journal> {
  const ledger = await loadAtMost(
    command,
    file,
    comparedMost,
    `${comparedMost.toLocaleString('en')} are compared at most. Save shorter ledgers, one for each test`,
  );
  const journal = tied(ledger)?.journal;
  if (journal === undefined) throw new TypeError(`${file} was read, and is not a ledger`);
  return journal;
}

/**
 * The record of another run, which a command compares its ledger with.
 *
 * @param ledgers the ledger files of the command: there must be one
 * @param since the ledger file of the run in which the claims held
 */
export async function runBefore(
  command: string,
  [ledger = '', another]: readonly string[],
  since: string,
): Promise<Journal> {
  if (another !== undefined)
    throw new InputError(`${command}: --since is for one ledger. Write one command for each.`);
  if (ledger === '-' || since === '-')
    throw new InputError(`${command}: --since needs both ledgers as files, which are read twice`);
  return await journalIn(`${command} --since`, since);
}

/** Adds what changed since another run to a verdict that fails. */
export async function withSince(
  command: string,
  verdict: Verdict,
  ledger: string,
  before: Journal,
): Promise<Verdict> {
  if (verdict.holds) return verdict;
  const after = await journalIn(command, ledger);
  const at = { is: 'over' } as const;
  return { ...verdict, since: changesBetween(asRecordOf(before), after, verdict.findings, { at }) };
}

/** A record as a page keeps that of the last run that passed; nothing if it is too large. */
export function passedIn(journal: Journal): { readonly passed?: string } {
  const about = { test: journal.name, passedAt: journal.openedAt, checks: [] };
  const passed = writeLastPass(journal, about, undefined);
  return passed === undefined ? {} : { passed };
}
