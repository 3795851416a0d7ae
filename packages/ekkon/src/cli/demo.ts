import { Command } from 'commander';
import { faults, nightWith, rainFaults, stageNight, stageRain, targets } from 'observatory';
import { saveLedger } from '../file/index.ts';
import { type Claim, ClaimError, check, type Ledger, openLedger } from '../index.ts';
import { tied } from '../record/tie.ts';
import { reportText } from '../report/text.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { writeLastPass } from '../since/last-pass.ts';
import { entryTable } from './entry-table.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { columns, paint, print } from './terminal.ts';

interface DemoOptions {
  readonly fault?: string;
  readonly list?: true;
  readonly rain?: true;
  readonly save?: string;
}

/** A night that can be shown: its name, its mistakes, and its claims. */
interface Show<Fault extends { readonly name: string; readonly mistake: string }> {
  readonly name: string;
  readonly faults: readonly Fault[];
  readonly play: (ledger: Ledger, fault: Fault | undefined) => Promise<readonly Claim[]>;
}

const dryNight: Show<(typeof faults)[number]> = {
  name: 'a dry night',
  faults,
  async play(ledger, fault) {
    const { devices, claims } = stageNight(ledger);
    await nightWith(fault === undefined ? [] : [fault], devices).run(targets);
    return claims();
  },
};

const rainyNight: Show<(typeof rainFaults)[number]> = {
  name: 'a rainy night',
  faults: rainFaults,
  play: async (ledger, fault) => (await stageRain(ledger, fault?.watch))(),
};

/** `ekkon demo`: a night of the observatory against stand-ins, and the result of its claims. */
export function demoCommand(done: (code: ExitCode) => void): Command {
  return new Command('demo')
    .description('run a night of the made-up observatory against stand-ins, and check it')
    .option('--rain', 'a night on which it begins to rain, with its sensor as a stream')
    .option('--fault <name>', 'switch on a fault in the code under test')
    .option('--list', 'list the faults')
    .option('--save <file>', 'save the ledger, to read it with ekkon show')
    .addHelpText('after', '\nExample: ekkon demo --fault dome-left-open --save night.jsonl')
    .action(async (options: DemoOptions) => {
      if (options.list === true) listFaults();
      else if (options.rain === true) done(await runNight(rainyNight, options));
      else done(await runNight(dryNight, options));
    });
}

function listFaults(): void {
  const column = Math.max(...[...faults, ...rainFaults].map(({ name }) => name.length));
  for (const { name, mistake } of faults)
    print(`${name.padEnd(column)}   ${paint('faint', mistake)}`);
  print(`\n${paint('faint', 'with --rain:')}`);
  for (const { name, mistake } of rainFaults)
    print(`${name.padEnd(column)}   ${paint('faint', mistake)}`);
}

function saveTo(ledger: Ledger, path: string): void {
  try {
    saveLedger(ledger, path);
  } catch (error) {
    throw inputProblem('demo --save', path, error);
  }
}

async function runNight<Fault extends { readonly name: string; readonly mistake: string }>(
  { name: night, faults: known, play }: Show<Fault>,
  { fault: name, save }: DemoOptions,
): Promise<ExitCode> {
  const fault = name === undefined ? undefined : faultNamed(known, name);
  const ledger = openLedger({ name: fault === undefined ? night : `${night}, ${fault.name}` });
  try {
    if (fault !== undefined) await tellLastPass(ledger, night, (sound) => play(sound, undefined));
    const claims = await play(ledger, fault);
    if (save !== undefined) saveTo(ledger, save);
    check(claims);
    showRecord(ledger, night, []);
    const verdict = { holds: true, ledger: ledger.name, closing: false, findings: [], causes: [] };
    print(reportText({ ...verdict, claims: claims.length }, { paint }));
    for (const { notation } of claims) print(`    ${notation}`);
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    const { findings } = error.verdict;
    const shown = fault === undefined ? night : `a night on which ${fault.mistake}`;
    showRecord(
      ledger,
      shown,
      findings.flatMap(({ culprits }) => culprits),
    );
    print(reportText(error.verdict, { width: columns(), paint }));
    return 1;
  }
  print(
    `\n${paint('faint', 'Switch a fault on: ekkon demo --fault dome-left-open (all: ekkon demo --list)')}`,
  );
  return 0;
}

/** Plays the night without a fault, so a report on one with a fault says what changed since. */
async function tellLastPass(
  ledger: Ledger,
  night: string,
  play: (ledger: Ledger) => Promise<unknown>,
): Promise<void> {
  const sound = openLedger({ name: night });
  await play(sound);
  const [passed, journal] = [tied(sound)?.journal, tied(ledger)?.journal];
  if (passed === undefined || journal === undefined) return;
  const about = { test: night, passedAt: Date.now(), checks: [] };
  lastPassOn(journal).kept = writeLastPass(passed, about, undefined);
}

function showRecord(ledger: Ledger, night: string, culprits: readonly number[]): void {
  print(paint('claim', `What the stand-ins received on ${night}`));
  print(`\n${entryTable(ledger.entries(), new Set(culprits))}\n`);
}

function faultNamed<Fault extends { readonly name: string }>(
  known: readonly Fault[],
  name: string,
): Fault {
  const fault = known.find((each) => each.name === name);
  if (fault === undefined) {
    if (rainFaults.some((each) => each.name === name))
      throw new InputError(`demo --fault ${name} needs --rain: it is a fault of the rainy night`);
    throw new InputError(
      `demo --fault ${name}: there is no such fault; these are: ${known.map((each) => each.name).join(', ')}`,
    );
  }
  return fault;
}
