import { call, check, inTurn, loop, openLedger, optional } from 'ekkon';
import { printRow } from './measure.mjs';

/** Judging a sequence of ten steps over records of growing length: the time for an entry should stay the same. */
export function benchOrder() {
  const base = timeFor(10_000, false);
  for (const entries of [10_000, 100_000, 1_000_000]) {
    const { milliseconds } = timeFor(entries, false);
    const ratio = milliseconds / entries / (base.milliseconds / 10_000);
    printRow(
      `judge ten steps over ${entries} entries / per entry over 10000`,
      ratio,
      '≈ 1',
      `${milliseconds.toFixed(0)} ms`,
    );
  }
  const { milliseconds, lines } = timeFor(100_000, true);
  printRow(
    'the same over 100000 entries, where it fails / holds',
    milliseconds / timeFor(100_000, false).milliseconds,
    '',
    `${milliseconds.toFixed(0)} ms, ${lines} lines`,
  );
}

function timeFor(entries, fails) {
  const ledger = openLedger({ callSites: 0 });
  const { mount } = ledger.standIns();
  const names = Array.from({ length: 10 }, (_, at) => `step${at}`);
  for (let at = 0; at < entries; at++) mount[names[at % 10]]();
  if (fails) mount.step3();
  const steps = names.map((name) => call(mount[name]));
  const claim = inTurn(loop('0..*', inTurn(...steps)), optional(steps[0]));
  let best = Number.POSITIVE_INFINITY;
  let lines = 0;
  for (let round = 0; round < 5; round++) {
    const start = performance.now();
    try {
      check(claim);
    } catch (error) {
      lines = error.message.split('\n').length;
    }
    best = Math.min(best, performance.now() - start);
  }
  return { milliseconds: best, lines };
}
