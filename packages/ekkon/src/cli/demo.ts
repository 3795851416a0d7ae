import { Command } from 'commander';
import { type Fault, faults, NightRun, stageNight, targets } from 'observatory';
import { saveLedger } from '../file/index.ts';
import { ClaimError, check, openLedger } from '../index.ts';
import { reportText } from '../report/text.ts';
import { entryTable } from './entry-table.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { columns, paint, print } from './terminal.ts';

interface DemoOptions {
  readonly fault?: string;
  readonly list?: true;
  readonly save?: string;
}

/** `ekkon demo`: a night of the observatory against stand-ins, and what its claims say. */
export function demoCommand(done: (code: ExitCode) => void): Command {
  return new Command('demo')
    .description('run a night of the made-up observatory against stand-ins, and check it')
    .option('--fault <name>', 'switch a mistake on in the code under test')
    .option('--list', 'list the mistakes that can be switched on')
    .option('--save <file>', 'write the ledger to a file, for ekkon show')
    .action(async (options: DemoOptions) => {
      if (options.list === true) listFaults();
      else done(await runNight(options));
    });
}

function listFaults(): void {
  const column = Math.max(...faults.map(({ name }) => name.length));
  for (const { name, mistake } of faults)
    print(`${name.padEnd(column)}   ${paint('faint', mistake)}`);
}

async function runNight({ fault: name, save }: DemoOptions): Promise<ExitCode> {
  const fault = name === undefined ? undefined : faultNamed(name);
  const ledger = openLedger({
    name: fault === undefined ? 'a dry night' : `a dry night, ${fault.name}`,
  });
  const { devices, claims: claimsOn } = stageNight(ledger);
  const night = fault === undefined ? new NightRun(devices) : fault.make(devices);
  await night.run(targets);
  const claims = claimsOn();

  print(
    paint(
      'claim',
      `What the stand-ins received on ${fault === undefined ? 'a dry night' : `a night on which ${fault.mistake}`}`,
    ),
  );
  print(`\n${entryTable(ledger.entries())}\n`);
  if (save !== undefined) saveLedger(ledger, save);
  try {
    check(claims);
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    print(reportText(error.verdict, { width: columns(), paint }));
    return 1;
  }
  print(
    reportText(
      { holds: true, ledger: ledger.name, closing: false, claims: claims.length, findings: [] },
      { paint },
    ),
  );
  for (const { notation } of claims) print(`    ${notation}`);
  print(
    `\n${paint('faint', 'Switch a mistake on: ekkon demo --fault dome-left-open (all: ekkon demo --list)')}`,
  );
  return 0;
}

function faultNamed(name: string): Fault {
  const fault = faults.find((each) => each.name === name);
  if (fault === undefined) {
    throw new InputError(
      `demo --fault ${name}: there is no such fault; these are: ${faults.map((each) => each.name).join(', ')}`,
    );
  }
  return fault;
}
