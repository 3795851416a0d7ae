import {
  call,
  computes,
  during,
  exactItems,
  fulfilled,
  inFlight,
  inTurn,
  leadsTo,
  never,
  nothingElse,
  once,
  onlyAfter,
  openLedger,
  partial,
  plan,
  settled,
  times,
} from 'ekkon';
import { faults, nightWith, stageNight, targets } from 'observatory';
import { expect, test } from 'vitest';
import { firstLine } from './failure.ts';
import { expectInDocs } from './made-docs.ts';

/** A ferry, as small and as made up as the observatory. */
interface Ferry {
  gate: { open(): void; close(): void };
  ramp: { lower(): void; raise(): void };
  till: { charge(ticket: object): Promise<string>; refund(ticket: object): Promise<string> };
  engine: { start(knots: number): Promise<void>; stop(): Promise<void> };
  horn: { sound(times: number): void };
  log: { write(line: string): void };
}

type Step = readonly [string, (ferry: Ferry) => unknown];

const crossing: readonly Step[] = [
  ['open', ({ gate }) => gate.open()],
  ['car', ({ till }) => till.charge({ vehicle: 'car', price: 12 })],
  ['lorry', ({ till }) => till.charge({ vehicle: 'lorry', price: 40 })],
  ['bicycle', ({ till }) => till.charge({ vehicle: 'bicycle', price: 3 })],
  ['close', ({ gate }) => gate.close()],
  ['raise', ({ ramp }) => ramp.raise()],
  ['horn', ({ horn }) => horn.sound(2)],
  ['start', ({ engine }) => engine.start(8)],
  ['stop', ({ engine }) => engine.stop()],
  ['lower', ({ ramp }) => ramp.lower()],
  ['landed', ({ log }) => log.write('landed')],
];

const without = (name: string) => crossing.filter(([each]) => each !== name);
const instead = (name: string, run: Step[1]) => crossing.map((step) => (step[0] === name ? ([name, run] as const) : step));
const step = (name: string) => crossing.find(([each]) => each === name) as Step;
const at = (name: string) => crossing.findIndex(([each]) => each === name);
const moved = (name: string, before: string) => {
  const rest = without(name);
  return rest.toSpliced(
    rest.findIndex(([each]) => each === before),
    0,
    step(name),
  );
};

/** What somebody got wrong, and the steps that came of it. A step that is not awaited gives nothing. */
const mistakes: readonly (readonly [string, readonly Step[]])[] = [
  ['the gate is left open', without('close')],
  ['the gate is closed twice', crossing.toSpliced(at('close'), 0, step('close'))],
  ['the ramp goes up before the gate is closed', moved('raise', 'close')],
  ['the horn sounds once', instead('horn', ({ horn }) => horn.sound(1))],
  ['the horn does not sound', without('horn')],
  ['a lorry pays too little', instead('lorry', ({ till }) => till.charge({ vehicle: 'lorry', price: 4 }))],
  ['a price is a text', instead('lorry', ({ till }) => till.charge({ vehicle: 'lorry', price: '40' }))],
  ['a vehicle is mistyped', instead('lorry', ({ till }) => till.charge({ vehicle: 'lory', price: 40 }))],
  ['a key is mistyped', instead('lorry', ({ till }) => till.charge({ vehicle: 'lorry', prise: 40 }))],
  ['a bicycle goes free', without('bicycle')],
  ['a car pays twice', crossing.toSpliced(at('car'), 0, step('car'))],
  ['a lorry is paid', instead('lorry', ({ till }) => till.refund({ vehicle: 'lorry', price: 40 }))],
  ['the engine starts before the ramp is up', moved('start', 'raise')],
  ['the engine is stopped before it has started', instead('start', ({ engine }) => void engine.start(8))],
  ['the engine is not stopped', without('stop')],
  ['the engine is asked for too much', instead('start', ({ engine }) => engine.start(99))],
  ['nobody writes that it landed', without('landed')],
  ['the crossing ends on the water', crossing.slice(0, at('stop'))],
  ['two vehicles pay at a time', instead('car', ({ till }) => void till.charge({ vehicle: 'car', price: 12 }))],
  ['the car and the lorry change places', moved('lorry', 'car')],
  ['a message too many', [...crossing, ['late', ({ log }) => log.write('who left the gate open?')]]],
];

const moment = () => new Promise((resolve) => setTimeout(resolve, 1));

async function firstLineOf(steps: readonly Step[]): Promise<string> {
  const ledger = openLedger({ name: 'a crossing', rules: 'loose' });
  const { gate, ramp, till, engine, horn, log } = ledger.standIns<Ferry>();
  const spoken = ledger.follow<string>((emit) => {
    plan(call(log.write), computes(emit));
    return () => {};
  }, 'spoken');
  plan(
    call(till.charge),
    computes(async () => {
      await moment();
      return 'paid';
    }),
  );
  plan(
    call(engine.start),
    computes(async (knots: number) => {
      await moment();
      if (knots > 20) throw new Error('too fast');
    }),
  );
  plan(
    call(engine.stop),
    computes(async () => {}),
  );
  for (const [, run] of steps) await Promise.resolve(run({ gate, ramp, till, engine, horn, log })).catch(() => {});
  await ledger.untilQuiet();
  return firstLine(
    once(call(gate.open)),
    once(call(gate.close)),
    once(call(till.charge, [{ vehicle: 'car', price: 12 }])),
    once(call(till.charge, [{ vehicle: 'lorry', price: 40 }])),
    once(call(till.charge, [partial({ vehicle: 'bicycle' })])),
    times(3, call(till.charge)),
    never(call(till.refund)),
    inTurn(call(gate.open), call(till.charge, [partial({ vehicle: 'car' })]), call(till.charge, [partial({ vehicle: 'lorry' })]), call(gate.close)),
    inTurn(call(gate.close), call(ramp.raise), call(horn.sound, [2]), fulfilled(call(engine.start)), call(engine.stop), call(ramp.lower)),
    onlyAfter(call(engine.start), call(ramp.raise)),
    leadsTo(call(engine.start), settled(call(engine.stop))),
    inFlight('0..1', call(till.charge)),
    during({ from: call(engine.start), until: settled(call(engine.stop)) }, never(call(gate.open))),
    exactItems(spoken, ['landed']),
    nothingElse(gate, ramp, engine, horn),
  );
}

async function firstLineOfNight(fault: (typeof faults)[number]): Promise<string> {
  const ledger = openLedger({ name: 'a dry night', rules: 'loose' });
  const { devices, claims } = stageNight(ledger);
  await nightWith([fault], devices).run(targets);
  return firstLine(...claims());
}

/** Without the places, which change with every line that is written above them. */
const placeless = (line: string) => line.replaceAll(/ \([^() ]*:\d+\)/g, '').replaceAll('|', '\\|');

test('the first line of each report is what the docs say', async () => {
  const rows: string[] = [];
  for (const fault of faults) rows.push(`| ${fault.mistake} | ${placeless(await firstLineOfNight(fault))} |`);
  for (const [mistake, steps] of mistakes) rows.push(`| ${mistake} | ${placeless(await firstLineOf(steps))} |`);
  expectInDocs('diagnosis.md', ['| what somebody got wrong | the first line |', '|---|---|', ...rows].join('\n'));
  expect(rows.filter((row) => row.includes('every claim holds'))).toEqual([]);
});
