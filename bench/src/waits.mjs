import { call, gives, once, openLedger, plan, reach, times } from 'ekkon';
import { compareTimes, compareTimesAsync, printRow } from './measure.mjs';

const wakeUps = 2_000;
const calls = 50_000;
const waiting = 10_000;

/** How soon a wait wakes up, and what waits cost the calls that they are not for. */
export async function benchWaits() {
  const woken = await compareTimesAsync(
    () => wakeWithEkkon(wakeUps),
    () => wakeByHand(wakeUps),
  );
  printRow(
    'wake-up of reach / a promise resolved by hand',
    woken.ratio,
    '',
    `${micro(woken.ours, wakeUps)} / ${micro(woken.other, wakeUps)} µs each`,
  );

  const others = compareTimes(
    prepared(() => ledgerWithWaits(waiting)),
    prepared(() => ledgerWithWaits(0)),
  );
  printRow(
    `a call with ${waiting} waits on other members / with none`,
    others.ratio,
    '≤ 1.2',
    `${nano(others.ours, calls)} / ${nano(others.other, calls)} ns a call`,
  );

  const many = await compareTimesAsync(
    () => reachMany(waiting),
    () => reachMany(waiting / 10),
  );
  printRow(
    `${waiting} waits at once on one member / a tenth of them`,
    many.ratio,
    '≈ 10',
    `${many.ours.toFixed(0)} / ${many.other.toFixed(0)} ms`,
  );

  const built = compareTimes(
    () => claimsWritten(20_000, openLedger()),
    () => claimsWritten(20_000, openLedger({ callSites: 0 })),
  );
  printRow(
    'writing claims, the first 256 with their place / without',
    built.ratio,
    '',
    `${micro(built.ours, 20_000)} / ${micro(built.other, 20_000)} µs each`,
  );
}

/** A ledger made before each round that is measured, so that only the calls count. */
function prepared(open) {
  let ledger = open();
  const run = () => slew(ledger, calls);
  run.prepare = () => {
    ledger = open();
  };
  return run;
}

/** One wait after the other, each woken by a call: from the wait being asked for to the code after it. */
async function wakeWithEkkon(times) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const mount = ledger.standIn('mount');
  for (let at = 0; at < times; at++) {
    const reached = reach(once(call(mount.slewTo, [at])));
    mount.slewTo(at);
    await reached;
  }
}

/** The same by hand: a recorder that keeps the call, and resolves the promise for its argument, with a timer that would reject it. */
async function wakeByHand(times) {
  const entries = [];
  const waits = new Map();
  const slewTo = (...args) => {
    entries.push({ args, began: entries.length });
    waits.get(args[0])?.();
  };
  for (let at = 0; at < times; at++) {
    const reached = new Promise((resolve, reject) => {
      const timer = setTimeout(() => reject(new Error('too late')), 1_000);
      waits.set(at, () => {
        clearTimeout(timer);
        waits.delete(at);
        resolve();
      });
    });
    slewTo(at);
    await reached;
  }
}

function ledgerWithWaits(number) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const dome = ledger.standIn('dome');
  for (let at = 0; at < number; at++)
    void reach(times('1..*', call(dome.open, [at])), { within: Number.POSITIVE_INFINITY });
  return ledger;
}

function slew(ledger, number) {
  const mount = ledger.standIn('mount');
  plan(call(mount.slewTo), gives(true));
  for (let at = 0; at < number; at++) mount.slewTo(at, 22);
}

async function reachMany(number) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const mount = ledger.standIn('mount');
  const waits = Array.from({ length: number }, (_, at) =>
    reach(once(call(mount.slewTo, [at])), { within: 60_000 }),
  );
  for (let at = 0; at < number; at++) mount.slewTo(at);
  await Promise.all(waits);
}

function claimsWritten(number, ledger) {
  const mount = ledger.standIn('mount');
  for (let at = 0; at < number; at++) once(call(mount.slewTo, [at]));
}

const micro = (milliseconds, number) => ((milliseconds / number) * 1e3).toFixed(2);
const nano = (milliseconds, number) => ((milliseconds / number) * 1e6).toFixed(0);
