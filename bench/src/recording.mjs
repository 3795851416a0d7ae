import { openLedger } from 'ekkon';
import { handWritten } from './hand-written.mjs';
import { bytesKept, compareTimes, printRow } from './measure.mjs';

const many = 200_000;
const few = 100;

/** Recording a call, against a recorder written by hand that stores the same facts. */
export function benchRecording() {
  const numbers = compareTimes(
    () => slew(openLedger().standIn('mount'), many),
    () => slew({ slewTo: handWritten().recorded }, many),
  );
  printRow(
    'record a call with two numbers / by hand, by reference',
    numbers.ratio,
    '≤ 1.3',
    perCall(numbers, many),
  );

  const objects = compareTimes(
    () => expose(openLedger().standIn('camera'), many / 10),
    () => expose({ expose: handWritten({ copy: structuredClone }).recorded }, many / 10),
  );
  printRow(
    'record a call with a nested object / by hand, cloned',
    objects.ratio,
    '≤ 0.5',
    perCall(objects, many / 10),
  );

  const short = compareTimes(
    () => repeat(100, () => slew(openLedger().standIn('mount'), few)),
    () => repeat(100, () => slew({ slewTo: handWritten({ sites: true }).recorded }, few)),
  );
  printRow(
    'a test of 100 calls with call sites / by hand, the same',
    short.ratio,
    '',
    perCall(short, few * 100),
  );

  const ours = bytesKept(() => {
    const ledger = openLedger({ callSites: 0 });
    slew(ledger.standIn('mount'), many);
    return ledger;
  }, many);
  const other = bytesKept(() => {
    const { calls, recorded } = handWritten();
    slew({ slewTo: recorded }, many);
    return calls;
  }, many);
  printRow(
    'bytes kept for a call with two numbers / by hand',
    ours / other,
    '≤ 1.5',
    `${ours.toFixed(0)} / ${other.toFixed(0)} bytes`,
  );
}

function slew(mount, times) {
  for (let at = 0; at < times; at++) mount.slewTo(at, 22);
}

function expose(camera, times) {
  for (let at = 0; at < times; at++) {
    camera.expose({ seconds: at, filter: 'red', at: { ra: 83.6, dec: 22 } });
  }
}

function repeat(times, run) {
  for (let at = 0; at < times; at++) run();
}

function perCall({ ours, other }, calls) {
  const nanoseconds = (milliseconds) => ((milliseconds / calls) * 1e6).toFixed(0);
  return `${nanoseconds(ours)} / ${nanoseconds(other)} ns a call`;
}
