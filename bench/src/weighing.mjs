import {
  call,
  check,
  computes,
  during,
  fulfilled,
  inFlight,
  inTurn,
  leadsTo,
  loop,
  never,
  once,
  onlyAfter,
  openLedger,
  partial,
  plan,
  settled,
  times,
} from 'ekkon';
import { weigh } from 'ekkon/weigh';
import { printRow } from './measure.mjs';
import { benchProposals } from './proposals.mjs';

const size = 10_000;
const sampled = 40;

/** Every alteration of a record of 10,000 entries under 15 claims, against judging each altered record from its start. */
export async function benchWeighing() {
  const { ledger, claims } = await longNight(size);
  const start = performance.now();
  const { questions, noticed } = weigh(ledger, ...claims);
  const all = performance.now() - start;

  // One judging from the start, through the same index of patterns: as a check of the same claims does it.
  const times = [];
  for (let round = 0; round < sampled; round++) {
    const began = performance.now();
    check(claims);
    times.push(performance.now() - began);
  }
  const each = times.sort((one, other) => one - other)[sampled / 2];
  const alterations = alterationsIn(ledger);
  printRow(
    `weigh ${size.toLocaleString('en')} entries, 15 claims / judging each alteration anew`,
    all / (each * alterations),
    '≤ 0.02',
    `${(all / 1e3).toFixed(1)} / ${((each * alterations) / 1e3).toFixed(0)} s, ${alterations} alterations, ${noticed} of ${questions} questions`,
  );
  await benchProposals();
}

/** A drop and a repetition of each call, a value of each leaf, and a beginning before the promise that was awaited. */
function alterationsIn(ledger) {
  let count = 0;
  for (const { args, label } of ledger.entries()) {
    const leaves = JSON.stringify(args).match(/[:[,](?=["\d-])/g)?.length ?? 0;
    count += 2 + leaves + (label === 'camera.expose' || label === 'archive.store' ? 1 : 0);
  }
  return count;
}

async function longNight(entries) {
  const ledger = openLedger({ name: 'a long night', callSites: 0, rules: 'loose' });
  const { dome, mount, camera, archive, alarm } = ledger.standIns();
  plan(
    call(mount.slewTo),
    computes(async () => {}),
  );
  plan(
    call(camera.expose),
    computes(async ({ seconds }) => ({ id: `frame-${seconds}` })),
  );
  plan(
    call(archive.store),
    computes(async () => 'stored'),
  );
  dome.open();
  for (let at = 0; at < (entries - 2) / 3; at++) {
    await mount.slewTo(at % 24, at % 90);
    const frame = await camera.expose({ seconds: at % 60, filter: at % 2 ? 'red' : 'clear' });
    await archive.store(frame);
  }
  dome.close();
  const claims = [
    once(call(dome.open)),
    once(call(dome.close)),
    never(call(alarm.sound)),
    times('1..*', call(camera.expose)),
    times('100..*', call(camera.expose, [partial({ filter: 'red' })])),
    never(call(camera.expose, [{ seconds: 99, filter: 'red' }])),
    times('1..*', fulfilled(call(archive.store), 'stored')),
    inFlight('0..1', call(archive.store)),
    inFlight('0..1', call(mount.slewTo)),
    onlyAfter(call(camera.expose), call(dome.open)),
    onlyAfter(call(archive.store), call(camera.expose)),
    leadsTo(call(mount.slewTo), call(camera.expose)),
    leadsTo(call(dome.open), call(dome.close)),
    during(
      { from: call(mount.slewTo), until: settled(call(mount.slewTo)) },
      never(call(camera.expose)),
    ),
    inTurn(
      call(dome.open),
      loop('1..*', inTurn(call(mount.slewTo), call(camera.expose), call(archive.store))),
      call(dome.close),
    ),
  ];
  return { ledger, claims };
}
