import { openLedger } from 'ekkon';
import { handWritten } from './hand-written.mjs';
import { compareTimes, printRow } from './measure.mjs';

class Mount {
  slewTo(ra, dec) {
    return ra + dec;
  }
}

const calls = 20_000;

/** Calls through other doubles, against calling the real one from a recorder written by hand. */
export function benchDoubles() {
  against('call an observed method / the same, recorded by hand', () => {
    const mount = new Mount();
    openLedger().observe(mount, 'slewTo');
    return mount;
  });
  against('call a stand-in for a class / a method recorded by hand', () =>
    openLedger().standIn('mount', Mount),
  );
}

function against(what, make) {
  const result = compareTimes(
    () => slew(make()),
    () => slew(byHand()),
  );
  const nanoseconds = (milliseconds) => ((milliseconds / calls) * 1e6).toFixed(0);
  printRow(
    what,
    result.ratio,
    '',
    `${nanoseconds(result.ours)} / ${nanoseconds(result.other)} ns a call`,
  );
}

function byHand() {
  const mount = new Mount();
  const real = mount.slewTo;
  const { recorded } = handWritten({ real });
  mount.slewTo = recorded;
  return mount;
}

function slew(mount) {
  for (let at = 0; at < calls; at++) mount.slewTo(at, 22);
}
