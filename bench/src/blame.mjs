import {
  ClaimError,
  call,
  check,
  computes,
  inTurn,
  once,
  openLedger,
  plan,
  returned,
  times,
} from 'ekkon';

/*
 * How often the first finding names what was altered. Random records are made with claims that hold on
 * them; one known alteration is made, and the claims are checked again.
 */
const members = ['dome.open', 'mount.slewTo', 'camera.expose', 'archive.store'];
const records = 400;

/** Random numbers that are the same in every run. */
function makeRandom(seed) {
  let state = seed;
  return (below) => {
    state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296;
    return Math.floor((state / 4_294_967_296) * below);
  };
}

function makeScenario(random) {
  return Array.from({ length: 6 + random(12) }, (_, at) => ({
    member: members[random(members.length)],
    args: [random(50), { seconds: 10 * random(9), filter: ['red', 'blue'][random(2)] }],
    value: `kept/${at}`,
  }));
}

/** Alterations; each says where it was made: the place of the altered call, or of the gap it left. */
const alterations = {
  drop: (calls, at) => ({ altered: calls.toSpliced(at, 1), gap: at, lost: calls[at] }),
  repeat: (calls, at) => ({ altered: calls.toSpliced(at, 0, calls[at]), places: [at, at + 1] }),
  swap: (calls, at) => {
    const one = Math.min(at, calls.length - 2);
    return { altered: calls.toSpliced(one, 2, calls[one + 1], calls[one]), places: [one, one + 1] };
  },
  move: (calls, at, random) => {
    const to = (at + 2 + random(calls.length - 3)) % calls.length;
    return { altered: calls.toSpliced(at, 1).toSpliced(to, 0, calls[at]), places: [to], from: at };
  },
  argument: (calls, at) => {
    const [first, second] = calls[at].args;
    return {
      altered: calls.with(at, { ...calls[at], args: [first, { ...second, seconds: 7 }] }),
      places: [at],
    };
  },
  outcome: (calls, at) => ({
    altered: calls.with(at, { ...calls[at], value: 'lost' }),
    places: [at],
  }),
};

/** Plays calls on a ledger; the claims are those that hold on `claimed`. */
function claimsOn(claimed, played) {
  const ledger = openLedger({ callSites: 0 });
  const devices = ledger.standIns();
  const memberOf = (label) => {
    const [double, name] = label.split('.');
    return devices[double][name];
  };
  let at = 0;
  for (const label of members)
    plan(
      call(memberOf(label)),
      computes(() => played[at].value),
    );
  for (const { member, args } of played) {
    memberOf(member).call(devices[member.split('.')[0]], ...args);
    at++;
  }
  const pattern = ({ member, args }) => call(memberOf(member), args);
  const same = (one, other) =>
    one.member === other.member && JSON.stringify(one.args) === JSON.stringify(other.args);
  return [
    inTurn(...claimed.map(pattern)),
    ...claimed.map((each) =>
      times(claimed.filter((other) => same(each, other)).length, pattern(each)),
    ),
    ...claimed.map((each) => once(returned(pattern(each), each.value))),
  ];
}

/** Prints, for each kind of alteration, how often the first finding names it. */
export function benchBlame() {
  console.log('how often the first finding names the altered entry, or the gap it left\n');
  for (const [kind, alter] of Object.entries(alterations)) {
    const random = makeRandom(7);
    let [named, caught, made] = [0, 0, 0];
    while (made < records) {
      const calls = makeScenario(random);
      // An alteration that changes nothing is none.
      const alteration = alter(calls, random(calls.length), random);
      if (JSON.stringify(alteration.altered) === JSON.stringify(calls)) continue;
      made++;
      check(claimsOn(calls, calls));
      const finding = firstFinding(claimsOn(calls, alteration.altered));
      if (finding === undefined) continue;
      caught++;
      if (names(finding, alteration)) named++;
    }
    const share = ((100 * named) / made).toFixed(1);
    console.log(
      `${kind.padEnd(10)} ${share.padStart(6)} in 100   aim ≥ 99   (${caught} of ${made} noticed)`,
    );
  }
}

function firstFinding(claims) {
  try {
    check(claims);
    return undefined;
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
    return error.verdict.findings[0];
  }
}

function names(finding, { places, gap, lost, from }) {
  const [culprit] = finding.culprits;
  if (gap === undefined) {
    // Of two that changed places, or of two alike, either one is it; a moved call may be named by its gap.
    return places.includes(culprit - 1) || (from !== undefined && namesGap(finding, from));
  }
  return namesGap(finding, gap) && finding.problems?.[0]?.step.startsWith(lost.member);
}

/** Whether a missing step is told between the entries on either side of a place, or next to one of them. */
function namesGap(finding, gap) {
  const [problem] = finding.problems ?? [];
  if (problem?.kind !== 'missing') return false;
  const [after, before] = [
    problem.after?.entry.id ?? 0,
    problem.before?.entry.id ?? Number.POSITIVE_INFINITY,
  ];
  return after <= gap + 1 && before >= gap;
}
