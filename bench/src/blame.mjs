import {
  anything,
  ClaimError,
  call,
  check,
  computes,
  during,
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
  times,
} from 'ekkon';
import { benchBlameCost } from './blame-cost.mjs';
import { benchDepot } from './depot.mjs';

/*
 * How often the first cause names the fault. Random records are made with 5 to 30 claims of all kinds that hold on
 * them; one fault is made, and the claims are checked again. A fault that no claim notices is not counted.
 */
const members = [
  'dome.open',
  'dome.close',
  'mount.slewTo',
  'camera.expose',
  'archive.store',
  'log.write',
];
const records = 300;

/** Random numbers that are the same in every run. */
function makeRandom(seed) {
  let state = seed;
  return (below) => {
    state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296;
    return Math.floor((state / 4_294_967_296) * below);
  };
}

function makeCalls(random) {
  return Array.from({ length: 6 + random(14) }, () => makeCall(random));
}

function makeCall(random) {
  const label = members[random(members.length)];
  return {
    label,
    args: [random(20), { seconds: 10 * random(9), filter: ['red', 'blue', 'clear'][random(3)] }],
    value: `kept/${random(1_000)}`,
  };
}

const same = (one, other) =>
  one.label === other.label && JSON.stringify(one.args) === JSON.stringify(other.args);

/** Faults; each says where it was made: the places of the altered calls, or the gap a call left. */
const faults = {
  argument(calls, random) {
    const at = random(calls.length);
    const [first, second] = calls[at].args;
    const args = random(2) === 0 ? [first + 100, second] : [first, { ...second, seconds: 7 }];
    return { altered: calls.with(at, { ...calls[at], args }), places: [at] };
  },
  repeat(calls, random) {
    const at = random(calls.length);
    return { altered: calls.toSpliced(at, 0, calls[at]), places: [at, at + 1] };
  },
  move(calls, random) {
    const at = random(calls.length);
    const to = random(calls.length - 1);
    const altered = calls.toSpliced(at, 1).toSpliced(to, 0, calls[at]);
    // Of two neighbours that changed places, either one is it.
    return { altered, places: Math.abs(at - to) === 1 ? [at, to] : [to] };
  },
  member(calls, random) {
    const at = random(calls.length);
    const others = members.filter((label) => label !== calls[at].label);
    return {
      altered: calls.with(at, { ...calls[at], label: others[random(others.length)] }),
      places: [at],
    };
  },
  drop(calls, random) {
    const at = random(calls.length);
    return { altered: calls.toSpliced(at, 1), gap: at, lost: calls[at] };
  },
  tail(calls, random) {
    const left = calls.length - 2 - random(3);
    return { altered: calls.slice(0, left), tail: left };
  },
};

/** Plays calls, and gives claims that hold if they are `claimed`. */
async function play(claimed, played, seed) {
  const ledger = openLedger({ callSites: 0 });
  const { dome, mount, camera, archive, log } = ledger.standIns();
  const devices = { dome, mount, camera, archive, log };
  const memberOf = (label) => {
    const [double, name] = label.split('.');
    return devices[double][name];
  };
  let at = 0;
  for (const label of members)
    plan(
      call(memberOf(label)),
      computes(async () => played[at].value),
    );
  for (const { label, args } of played) {
    await memberOf(label).call(devices[label.split('.')[0]], ...args);
    at++;
  }
  return claimsOn(claimed, memberOf, devices, makeRandom(seed));
}

function claimsOn(calls, memberOf, devices, random) {
  const pattern = ({ label, args }) => call(memberOf(label), args);
  const countOf = (fits) => calls.filter(fits).length;
  const any = () => calls[random(calls.length)];
  const makers = [
    () => {
      const one = any();
      const count = countOf((each) => same(each, one));
      return count === 1 ? once(pattern(one)) : times(count, pattern(one));
    },
    () => {
      const { label } = any();
      return times(
        countOf((each) => each.label === label),
        call(memberOf(label)),
      );
    },
    () => {
      const { label, args } = any();
      const { filter } = args[1];
      const count = countOf((each) => each.label === label && each.args[1].filter === filter);
      return times(count, call(memberOf(label), [anything, partial({ filter })]));
    },
    () => {
      const one = makeCall(random);
      return countOf((each) => same(each, one)) === 0 ? never(pattern(one)) : undefined;
    },
    () => {
      const chosen = new Set([any(), any(), any(), any()].map(({ label }) => label));
      const steps = calls.filter(({ label }) => chosen.has(label));
      return steps.length > 1 ? inTurn(...steps.map(pattern)) : undefined;
    },
    () => {
      const [one, other] = [any(), any()];
      const first = calls.findIndex((each) => same(each, one));
      const isAfter = calls.findIndex((each) => same(each, other)) < first;
      return isAfter ? onlyAfter(pattern(one), pattern(other)) : undefined;
    },
    () => {
      const [one, other] = [any(), any()];
      const last = calls.findLastIndex((each) => same(each, one));
      const isLater = calls.findLastIndex((each) => same(each, other)) > last;
      return isLater ? leadsTo(pattern(one), pattern(other)) : undefined;
    },
    () => {
      const [one, other] = [any(), any()];
      const [from, until] = [one, other].map((each) => calls.findIndex((call) => same(call, each)));
      const isStretch =
        from < until && [one, other].every((each) => countOf((call) => same(call, each)) === 1);
      if (!isStretch) return undefined;
      const { label } = any();
      const inside = calls.slice(from + 1, until).filter((each) => each.label === label).length;
      return during(
        { from: pattern(one), until: pattern(other) },
        times(inside, call(memberOf(label))),
      );
    },
    () => inFlight('0..1', call(memberOf(any().label))),
    () => {
      const one = any();
      const count = countOf((each) => same(each, one) && each.value === one.value);
      return times(count, fulfilled(pattern(one), one.value));
    },
  ];
  const wanted = 5 + random(26);
  const claims = [];
  for (let tries = 0; claims.length < wanted && tries < 200; tries++) {
    const claim = makers[random(makers.length)]();
    if (claim !== undefined && !claims.some(({ notation }) => notation === claim.notation))
      claims.push(claim);
  }
  const [double] = any().label.split('.');
  const its = calls.filter(({ label }) => label.startsWith(`${double}.`));
  if (its.length > 0)
    claims.push(
      ...distinct(its).map((one) =>
        times(
          countOf((each) => same(each, one)),
          pattern(one),
        ),
      ),
      nothingElse(devices[double]),
    );
  return claims;
}

function distinct(calls) {
  return calls.filter((one, at) => calls.findIndex((each) => same(each, one)) === at);
}

/** Prints, for each kind of fault, how often the first cause names it, and how often there is one cause alone. */
export async function benchBlame() {
  console.log(
    'how often the first cause names the fault, and how often there is one cause alone\n',
  );
  const aims = { argument: 90, repeat: 90, move: 90, member: 90, drop: 85, tail: 60 };
  for (const [kind, make] of Object.entries(faults)) {
    const random = makeRandom(7);
    let [named, alone, made] = [0, 0, 0];
    for (let tries = 0; made < records && tries < 20 * records; tries++) {
      const calls = makeCalls(random);
      const fault = make(calls, random);
      const seed = random(1 << 30);
      if (JSON.stringify(fault.altered) === JSON.stringify(calls)) continue;
      const verdict = verdictOf(await play(calls, fault.altered, seed));
      if (verdict === undefined) continue;
      made++;
      const [cause] = verdict.causes;
      if (cause !== undefined && names(cause, fault)) named++;
      if (verdict.causes.length === 1) alone++;
    }
    const share = (count) => ((100 * count) / made).toFixed(1).padStart(6);
    const aim = kind === 'tail' ? 70 : 95;
    console.log(
      `${kind.padEnd(10)} named ${share(named)} in 100, aim ≥ ${aims[kind]}   one cause ${share(alone)} in 100, aim ≥ ${aim}   (${made} records)`,
    );
  }
  await benchTwo();
  await benchDepot();
  benchBlameCost();
}

/** Two faults, where no single alteration explains all. */
async function benchTwo() {
  const random = makeRandom(11);
  const kinds = Object.values(faults).slice(0, 5);
  let [two, made] = [0, 0];
  for (let tries = 0; made < records && tries < 20 * records; tries++) {
    const calls = makeCalls(random);
    const one = kinds[random(kinds.length)](calls, random);
    const other = kinds[random(kinds.length)](one.altered, random);
    const verdict = verdictOf(await play(calls, other.altered, random(1 << 30)));
    if (verdict === undefined || verdict.findings.length < 2) continue;
    if (verdict.causes[0]?.explains.length === verdict.findings.length) continue;
    made++;
    if (verdict.causes.length === 2) two++;
  }
  console.log(
    `two faults give two causes in ${((100 * two) / made).toFixed(1)} of 100, aim ≥ 80   (${made} records)`,
  );
}

function verdictOf(claims) {
  try {
    check(claims);
    return undefined;
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    return error.verdict;
  }
}

function names({ alteration, culprits, between, message }, { places, gap, lost, tail }) {
  if (tail !== undefined) return alteration === 'tail';
  if (gap === undefined) return places.some((place) => culprits.includes(place + 1));
  const [after = 0, before = Number.POSITIVE_INFINITY] = between ?? [];
  return alteration === 'insert' && message.startsWith(lost.label) && after <= gap && before > gap;
}
