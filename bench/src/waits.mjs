import { call, during, gives, once, openLedger, plan, reach, times } from 'ekkon';
import { compareTimes, compareTimesAsync, printRow } from './measure.mjs';

const wakeUps = 2_000;
const calls = 50_000;
const waiting = 10_000;

/** How soon a wait wakes up, and the cost of waits for calls that do not concern them. */
export async function benchWaits() {
  const woken = await compareTimesAsync(
    prepared(waitingWithEkkon, wakeAll),
    prepared(waitingByHand, wakeAll),
  );
  printRow(
    'wake-up of reach / a promise resolved by hand',
    woken.ratio,
    '≤ 5',
    `${micro(woken.ours, wakeUps)} / ${micro(woken.other, wakeUps)} µs each`,
  );

  const others = compareTimes(
    prepared(() => ledgerWithWaits(waiting), slew),
    prepared(() => ledgerWithWaits(0), slew),
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

  const stretches = await compareTimesAsync(
    () => reachStretches(20_000),
    () => reachStretches(2_000),
  );
  printRow(
    'reach of a claim in 20000 stretches / in a tenth of them',
    stretches.ratio,
    '≈ 10',
    `${stretches.ours.toFixed(0)} / ${stretches.other.toFixed(0)} ms`,
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

/** Preparation before each round is not measured, only the use. */
function prepared(make, use) {
  let made;
  const run = () => use(made);
  run.prepare = () => {
    made = make();
  };
  return run;
}

/** Calls one after the other, and goes on when the wait for each has woken up. */
async function wakeAll({ slewTo, waits }) {
  for (let at = 0; at < wakeUps; at++) {
    slewTo(at);
    await waits[at];
  }
}

function waitingWithEkkon() {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const { slewTo } = ledger.standIn('mount');
  const waits = numbers(wakeUps).map((at) =>
    reach(once(call(slewTo, [at])), { within: Number.POSITIVE_INFINITY }),
  );
  return { slewTo, waits };
}

/** The same by hand: a recorder that keeps the call, and resolves the promise for its argument; a timer would reject it. */
function waitingByHand() {
  const entries = [];
  const waiting = new Map();
  const slewTo = (...args) => {
    entries.push({ args, began: entries.length });
    waiting.get(args[0])?.();
  };
  const waits = numbers(wakeUps).map(
    (at) =>
      new Promise((resolve, reject) => {
        const timer = setTimeout(() => reject(new Error('too late')), 60_000);
        waiting.set(at, () => {
          clearTimeout(timer);
          waiting.delete(at);
          resolve();
        });
      }),
  );
  return { slewTo, waits };
}

const numbers = (count) => Array.from({ length: count }, (_, at) => at);

function ledgerWithWaits(number) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const dome = ledger.standIn('dome');
  for (let at = 0; at < number; at++)
    void reach(times('1..*', call(dome.open, [at])), { within: Number.POSITIVE_INFINITY });
  return ledger;
}

function slew(ledger) {
  const mount = ledger.standIn('mount');
  plan(call(mount.slewTo), gives(true));
  for (let at = 0; at < calls; at++) mount.slewTo(at, 22);
}

async function reachMany(number) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const mount = ledger.standIn('mount');
  const waits = numbers(number).map((at) =>
    reach(once(call(mount.slewTo, [at])), { within: Number.POSITIVE_INFINITY }),
  );
  for (let at = 0; at < number; at++) mount.slewTo(at);
  await Promise.all(waits);
}

/** Many stretches one after the other, the last of which goes on being judged until the ledger is closed. */
async function reachStretches(number) {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const { dome, mount } = ledger.standIns();
  const reached = reach(
    during({ from: call(dome.open), until: call(dome.close) }, once(call(mount.park))),
    { within: Number.POSITIVE_INFINITY },
  );
  for (let at = 0; at < number; at++) {
    dome.open();
    mount.park();
    dome.close();
  }
  await reached;
}

function claimsWritten(number, ledger) {
  const mount = ledger.standIn('mount');
  for (let at = 0; at < number; at++) once(call(mount.slewTo, [at]));
}

const micro = (milliseconds, number) => ((milliseconds / number) * 1e3).toFixed(2);
const nano = (milliseconds, number) => ((milliseconds / number) * 1e6).toFixed(0);
