import { ClaimError, call, check, inTurn, once, times } from 'ekkon';
import { parseClaims } from 'ekkon/claims';
import { weigh } from 'ekkon/weigh';
import { faults } from './depot/faults.mjs';
import { stageShift } from './depot/stage.mjs';
import { inDepot, shiftWith } from './depot.mjs';

/** The claims of a tester who is content with little. */
const fewClaimsOn = ({ gate, post, done }) => [
  inTurn(call(gate.open), call(gate.close)),
  times(6, call(post.notify)),
  once(call(done, [6])),
];

const first = 5;

/** In how many other timings of the right program each proposed claim is tried. */
const timings = 40;

/**
 * How many faults of the depot few claims notice: alone, with the first claims that weighing proposes, and with all;
 * and how many proposed claims fail if the right program's calls take another time.
 */
export async function benchProposals() {
  await inDepot(async (folder) => {
    const passed = await runWith([], folder, 'weighed');
    const { unnoticed } = weigh(passed.ledger, ...fewClaimsOn(passed.depot));
    const proposed = [...new Set(unnoticed.map(({ claim }) => claim))].filter(
      (claim) => claim !== '',
    );
    const noticed = { few: 0, first: 0, all: 0 };
    let made = 0;
    for (const [at, fault] of faults.entries()) {
      const { ledger, depot, threw } = await runWith([fault], folder, `few-${at}`);
      if (threw) continue;
      made++;
      const few = fewClaimsOn(depot);
      const read = (claims) => claims.flatMap((claim) => parseClaims(claim, ledger));
      if (fails(few)) noticed.few++;
      if (fails([...few, ...read(proposed.slice(0, first))])) noticed.first++;
      if (fails([...few, ...read(proposed)])) noticed.all++;
    }
    const share = (noticed.first - noticed.few) / (noticed.all - noticed.few);
    console.log(
      `\na depot under 3 claims: of ${made} faults in its code ${noticed.few} are noticed, with the first ${first} of ${proposed.length} proposed claims ${noticed.first}, with all of them ${noticed.all}`,
    );
    console.log(`the first ${first} bring ${share.toFixed(2)} of what all bring, aim ≥ 0.67`);
    const failing = await failingUnderOtherTimings(proposed, folder);
    console.log(
      `${failing.length} of the ${proposed.length} fail under ${timings} other timings of the right program, aim 0`,
    );
  });
}

async function failingUnderOtherTimings(proposed, folder) {
  const failing = new Set();
  for (let run = 0; run < timings; run++) {
    const longer = (count) => count + ((run * 7 + count * 5 + turned++ * 11) % 13);
    let turned = 0;
    const { ledger } = await runWith([], folder, `timing-${run}`, longer);
    for (const claim of proposed) if (fails(parseClaims(claim, ledger))) failing.add(claim);
  }
  return [...failing];
}

async function runWith(made, folder, number, longer) {
  const runShift = await shiftWith(made, folder, number);
  const { ledger, depot, lots } = stageShift(undefined, undefined, longer);
  try {
    await runShift(depot, lots);
    return { ledger, depot };
  } catch {
    return { ledger, depot, threw: true };
  }
}

function fails(claims) {
  try {
    check(claims);
    return false;
  } catch (error) {
    if (error instanceof ClaimError) return true;
    throw error;
  }
}
