import { isDeepStrictEqual } from 'node:util';
import { call, check, times as exactly, openLedger } from 'ekkon';
import { compareTimes, printRow } from './measure.mjs';

const small = () => ({ seconds: 30, filter: 'red', at: { ra: 83.6, dec: 22 } });
const large = () => ({
  night: '2031-05-04',
  frames: Array.from({ length: 500 }, (_, at) => ({
    id: `frame-${at}`,
    seconds: at,
    at: { ra: at / 10, dec: -at / 10 },
    light: [at, at + 1, at + 2],
  })),
});

const numbers = () => Array.from({ length: 10_000 }, (_, at) => at / 3);
const bytes = () => new Uint8Array(1024 * 1024);

/** Copying and comparing arguments, against the platform's functions for that. */
export function benchValues() {
  copying('copy a small object, recording it / structuredClone', small, 10_000, '');
  copying('copy a large one / structuredClone', large, 30, '≤ 0.5');
  copying('copy an array of 10000 numbers / structuredClone', numbers, 100, '≤ 0.6');
  copying('copy a buffer of a megabyte / structuredClone', bytes, 30, '');
  comparing('claim a small recorded object / the platform’s deep equality', small, 10_000);
  comparing('claim a large one / the platform’s deep equality', large, 30);
}

function copying(what, make, times, aim) {
  const value = make();
  const result = compareTimes(
    () => {
      const store = openLedger({ callSites: 0 }).callable('store');
      for (let at = 0; at < times; at++) store(value);
    },
    () => {
      const kept = [];
      for (let at = 0; at < times; at++) kept.push(structuredClone(value));
      return kept;
    },
  );
  printRow(what, result.ratio, aim, perValue(result, times));
}

function comparing(what, make, times) {
  const ledger = openLedger({ callSites: 0 });
  const store = ledger.callable('store');
  const recorded = Array.from({ length: times }, make);
  for (const value of recorded) store(value);
  const claimed = make();
  const claim = exactly(times, call(store, [claimed]));
  const result = compareTimes(
    () => check(claim),
    () => {
      let equal = 0;
      for (const value of recorded) if (isDeepStrictEqual(claimed, value)) equal++;
      if (equal !== times) throw new Error('every value should be equal');
    },
  );
  printRow(what, result.ratio, '≤ 1', perValue(result, times));
}

function perValue({ ours, other }, values) {
  const microseconds = (milliseconds) => ((milliseconds / values) * 1e3).toFixed(2);
  return `${microseconds(ours)} / ${microseconds(other)} µs each`;
}
