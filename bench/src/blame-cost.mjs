import {
  anything,
  call,
  check,
  during,
  inTurn,
  leadsTo,
  loop,
  never,
  nothingElse,
  once,
  onlyAfter,
  openLedger,
  times,
} from 'ekkon';

/** Claims on records of a few members, one of whose calls is left out: each fails. */
const failing = [
  ['100 calls, 20 claims of which 9 fail', 150, manyClaims],
  [
    '1,000 calls, during({ from }, once(…))',
    150,
    () => stretches(1_000, ({ b, c }) => during({ from: call(b) }, once(call(c)))),
  ],
  [
    '1,000 calls, during({ from, until }, once(…))',
    150,
    () => stretches(1_000, ({ b, c }) => during({ from: call(b), until: call(b) }, once(call(c)))),
  ],
  [
    '400 calls, during in during',
    150,
    () =>
      stretches(400, ({ a, b, c }) =>
        during({ from: call(a) }, during({ from: call(b) }, once(call(c)))),
      ),
  ],
  ['100,000 calls, once', 1_000, () => stretches(100_000, ({ c }) => once(call(c, [25_000])))],
  ['100,000 calls, times', 1_000, () => stretches(100_000, ({ c }) => times(50_000, call(c)))],
  [
    '100,000 calls, a loop',
    1_000,
    () => stretches(100_000, ({ b, c }) => inTurn(loop('1..*', inTurn(call(b), call(c))))),
  ],
  [
    '100,000 calls, during',
    1_000,
    () =>
      stretches(100_000, ({ b, c }) => during({ from: call(b), until: call(b) }, once(call(c)))),
  ],
];

function stretches(calls, claim) {
  const { a, b, c } = openLedger({ rules: 'loose', callSites: 0 }).standIn('x');
  for (let at = 0; at < calls / 2; at++) {
    if (at % 3 === 0 && calls === 400) a(at);
    b(at);
    if (at !== calls / 4) c(at);
  }
  return [claim({ a, b, c })];
}

function manyClaims() {
  const ledger = openLedger({ rules: 'loose' });
  const { a, b, c, d } = ledger.standIns();
  const doubles = [a, b, c, d];
  const memberAt = (at) => doubles[at % 4][`m${at % 3}`];
  const argsAt = (at) => [at, { n: at % 7, s: `x${at}` }];
  for (let at = 0; at < 100; at++) {
    if (at === 50) continue;
    memberAt(at)(...argsAt(at));
    if (at === 20 || at === 33) memberAt(at)(...argsAt(at));
  }
  const at = (place) => call(memberAt(place), [place, anything]);
  return [
    ...[0, 1, 2, 3, 4, 5, 6, 7, 8].map((place) =>
      once(call(memberAt(11 * place), argsAt(11 * place + (place % 2)))),
    ),
    times(9, call(a.m0)),
    times(8, call(a.m1)),
    times(9, call(b.m0)),
    times(8, call(c.m2)),
    inTurn(at(0), at(1), at(50), at(51)),
    onlyAfter(at(48), at(50)),
    leadsTo(at(48), at(50)),
    inTurn(loop('1..*', inTurn(call(a.m0), call(b.m1), call(c.m2)))),
    never(at(33)),
    once(at(50)),
    nothingElse(a, b),
  ];
}

/** Prints how long failing checks take, the causes with them. */
export function benchBlameCost() {
  console.log('\nmilliseconds of CPU that a failing check takes, the best of three\n');
  for (const [name, aim, claimsOf] of failing) {
    const taken = [1, 2, 3].map(() => cpuOf(claimsOf()));
    console.log(
      `${name.padEnd(48)} ${String(Math.round(Math.min(...taken))).padStart(6)}   aim ≤ ${aim}`,
    );
  }
}

function cpuOf(claims) {
  const before = process.cpuUsage();
  try {
    check(claims);
  } catch {
    const { user, system } = process.cpuUsage(before);
    return (user + system) / 1_000;
  }
  throw new Error('the claims hold');
}
