import { isDeepStrictEqual } from 'node:util';
import { call, check, times as exactly, once, openLedger, unordered } from 'ekkon';
import { compareTimes, printRow } from './measure.mjs';

/** Values of a failing claim beside recorded ones, with the places that differ. */
const values = {
  'an object of 100 keys that are ids': () => [keyed(100, 'a'), keyed(100, 'b')],
  'a set of 1,000 objects, all others': () => [
    new Set(rows(1_000, 0)),
    new Set(rows(1_000, 7_000)),
  ],
  'a list of 1,000 in any order, one other': () => {
    const claimed = rows(1_000, 0).reverse();
    return [unordered([{ id: 'none' }, ...claimed.slice(1)]), rows(1_000, 0)];
  },
  'a key of 10,000 letters, one other': () => [
    { [`${'x'.repeat(9_999)}y`]: rows(10_000, 0) },
    { ['x'.repeat(10_000)]: rows(10_000, 1) },
  ],
};

/** The cost of a failing check, against the platform's deep equality, and against the same check that holds. */
export function benchFailing() {
  const one = frame(22);
  const result = compareTimes(failingCount(200_000), () => {
    for (const value of Array.from({ length: 200_000 }, () => frame(22)))
      isDeepStrictEqual(one, value);
  });
  printRow(
    'a failing count of 200,000 / deep equality over all',
    result.ratio,
    '≤ 6',
    detailOf(result),
  );
  for (const [what, make] of Object.entries(values)) {
    const [claimed, recorded] = make();
    const failing = compareTimes(
      () => checking(claimed, recorded),
      () => checking(recorded, recorded),
    );
    printRow(`${what} / the same, holding`, failing.ratio, '', detailOf(failing));
  }
}

function failingCount(number) {
  const store = openLedger({ rules: 'loose', callSites: 0 }).callable('store');
  for (let at = 0; at < number; at++) store(frame(at % 1_000 === 999 ? 1 : 22));
  return () => tried(exactly(number, call(store, [frame(22)])));
}

function checking(claimed, recorded) {
  const store = openLedger({ rules: 'loose', callSites: 0 }).callable('store');
  store(recorded);
  tried(once(call(store, [claimed])));
}

function tried(claim) {
  try {
    check(claim);
  } catch {
    // It is wanted.
  }
}

const frame = (dec) => ({ seconds: 30, filter: 'red', at: { ra: 83.6, dec } });
const rows = (number, from) =>
  Array.from({ length: number }, (_, at) => ({ id: `frame-${from + at}`, at }));
const keyed = (number, start) =>
  Object.fromEntries(
    Array.from({ length: number }, (_, at) => [
      `${start}${(at * 7_919 + 1e9).toString(36)}`,
      { at },
    ]),
  );

function detailOf({ ours, other }) {
  return `${ours.toFixed(1)} / ${other.toFixed(1)} ms`;
}
