import {
  anyRest,
  call,
  check,
  inTurn,
  loop,
  once,
  openLedger,
  optional,
  reach,
  suchThat,
  times,
} from 'ekkon';
import { compareTimes, compareTimesAsync, printRow } from './measure.mjs';

const many = 1_000_000;
const claimed = 20;
const waiting = 3_000;

/** Judging large records, against code written by hand for the same answer. */
export async function benchJudging() {
  const { ledger, mount, plain } = bigRecord();

  const claims = Array.from({ length: claimed }, (_, at) =>
    times('1..*', call(mount[`step${at % 4}`], [at, anyRest])),
  );
  const counts = compareTimes(
    () => check(claims),
    () => {
      for (let at = 0; at < claimed; at++) countByHand(plain, `mount.step${at % 4}`, at);
    },
  );
  printRow(
    `${claimed} counts on ${many} entries / as many loops by hand`,
    counts.ratio,
    '≤ 0.5',
    `${counts.ours.toFixed(0)} / ${counts.other.toFixed(0)} ms`,
  );

  const steps = [0, 1, 2, 3].map((at) => call(mount[`step${at}`]));
  const order = inTurn(loop('0..*', inTurn(...steps)), optional(steps[0]));
  const turns = compareTimes(
    () => check(order),
    () => orderByHand(plain),
  );
  printRow(
    `four steps in turn over ${many} entries / a state machine by hand`,
    turns.ratio,
    '≤ 8',
    `${turns.ours.toFixed(0)} / ${turns.other.toFixed(0)} ms`,
  );
  ledger.close();

  const [hundreds, tens] = [claimedRows(1_000), claimedRows(100)];
  for (const [what, wrong] of [
    ['a claim for each', 0],
    ['the same, ten of them wrong', 10],
  ]) {
    const rows = compareTimes(
      () => hundreds(wrong),
      () => tens(wrong),
    );
    printRow(
      `1000 calls, ${what} / a tenth of both`,
      rows.ratio,
      '≤ 40',
      `${rows.ours.toFixed(0)} / ${rows.other.toFixed(0)} ms`,
    );
  }

  const waits = await compareTimesAsync(waitWithPredicates, async () => callPredicates());
  printRow(
    `${waiting} waits each with a predicate / calling the bare predicates`,
    waits.ratio,
    '≤ 40',
    `${waits.ours.toFixed(0)} / ${waits.other.toFixed(0)} ms`,
  );
}

/** Calls with an object each, and a claim for each of them: of some of these it differs in one place. */
function claimedRows(count) {
  const store = openLedger({ callSites: 0, rules: 'loose' }).callable('store');
  const row = (at) => ({ id: `frame-${at}`, seconds: at, at: { ra: at / 10, dec: -at / 7 } });
  for (let at = 0; at < count; at++) store(row(at));
  return (wrong) => {
    const isWrong = (at) => wrong > 0 && at % (count / wrong) === 0;
    const claims = Array.from({ length: count }, (_, at) =>
      once(call(store, [{ ...row(at), ...(isWrong(at) ? { seconds: -1 } : {}) }])),
    );
    try {
      check(claims);
    } catch (error) {
      if (wrong === 0) throw error;
    }
  };
}

function bigRecord() {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const { mount } = ledger.standIns();
  const plain = [];
  for (let at = 0; at < many; at++) {
    const name = `step${at % 4}`;
    mount[name](at % 100, 22);
    plain.push({ member: `mount.${name}`, args: [at % 100, 22] });
  }
  return { ledger, mount, plain };
}

function countByHand(plain, member, first) {
  let count = 0;
  for (const entry of plain) if (entry.member === member && entry.args[0] === first) count++;
  if (count === 0) throw new Error(`${member}(${first}) never came`);
}

const afterStep = {
  'mount.step0': [1, -1, -1, -1],
  'mount.step1': [-1, 2, -1, -1],
  'mount.step2': [-1, -1, 3, -1],
  'mount.step3': [-1, -1, -1, 0],
};

function orderByHand(plain) {
  let state = 0;
  for (const { member } of plain) {
    const next = afterStep[member];
    if (next === undefined) continue;
    state = next[state];
    if (state < 0) throw new Error('out of order');
  }
  return state <= 1;
}

const predicates = Array.from({ length: waiting }, (_, at) => (ra) => ra === at);

async function waitWithPredicates() {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const { slewTo } = ledger.standIn('mount');
  const waits = predicates.map((holds) =>
    reach(times('1..*', call(slewTo, [suchThat(holds)])), { within: Number.POSITIVE_INFINITY }),
  );
  for (let at = waiting - 1; at >= 0; at--) slewTo(at);
  await Promise.all(waits);
}

/** Every predicate is asked about every call, as it is by waits that go on until their call comes. */
function callPredicates() {
  let accepted = 0;
  for (let at = waiting - 1; at >= 0; at--)
    for (let asked = 0; asked <= at; asked++) if (predicates[asked](at)) accepted++;
  if (accepted !== waiting) throw new Error('a predicate did not accept its call');
}
